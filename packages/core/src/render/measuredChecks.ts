import { hypot } from '../image/exactMath';
import type { Picture, Plane } from '../image/picture';
import { smallHoles } from '../effects/holes';
import { defaultsOf } from '../params';
import { subjectParams } from '../placing';
import { clipWithRole, counting, matteClip } from '../shot/clips';
import { drawnRows, type DrawnRow } from '../shot/drawn';
import { usesOf } from '../shot/references';
import type { Clip, Matte, Shot, Subject } from '../shot/schema';
import { shotFrame } from '../shot/when';
import type { Check } from './check';
import { backingOf } from './detached';
import type { FrameRenderer } from './renderFrame';
import { lightAgainst, placeAgainst } from './takes';

/** How far a clean plate may lie beside its performance anywhere in the picture, pixels, and how much of the picture must agree on it. */
const BESIDE = 1,
  AGREES = 0.25;
/** The parts of the shot at which it is looked. */
const LOOKS = [0.15, 0.5, 0.85];
/** By how much its light may differ: less is closed by a matte's own measuring. */
const OTHER_LIGHT = 0.1;
/** The share of the border of the frame that a body must cover to be cut off by it. */
const CUT = 0.01;
/** Values of a detached subject that take its edges to another place. */
const PLACES = ['shift', 'size', 'turn', 'swing', 'tilt', 'mirror'];
/** Area of small holes, in squares of the body's height, from which their rims are seen. */
const VEINS = 0.0006;
/** The share of the backing's colour that may be left along the edge of a cut-out. */
const SPILL_LEFT = 0.1;

/** Checks of clean plates and mattes that need pictures, each of a frame or few. @param stop called between pictures; it throws to end the work. */
export async function measuredChecks(renderer: FrameRenderer, shot: Shot, stop: () => void = () => undefined): Promise<Check[]> {
  const found: Check[] = [];
  for (const check of [
    ofPlate,
    ...Object.values(shot.subjects).map((s) => cutOff(s)),
    ...Object.values(shot.mattes).map((m) => spill(m)),
    ...drawnRows(shot).rows.map((row) => veins(row)),
  ]) {
    stop();
    found.push(...(await check(renderer, shot)));
  }
  return found;
}
type Measured = (renderer: FrameRenderer, shot: Shot) => Promise<Check[]>;

/** A clean plate that does not lie on its performance, or has another light. */
const ofPlate: Measured = async (renderer, shot) => {
  const clip = clipWithRole(shot, 'performance'),
    clean = clipWithRole(shot, 'clean'),
    read =
      Object.values(shot.rows).some((row) => !row.muted && row.lane === 'on') ||
      Object.values(shot.mattes).some(
        (m) => usesOf(shot, 'matte', m.id).length && counting(m).sources.some(({ source }) => source.kind === 'difference'),
      );
  if (!clip || !clean || !read || clip.width !== clean.width || clip.height !== clean.height) return [];
  const frame = Math.round((shot.first + shot.last) / 2),
    off = await besideBy(renderer, shot, clean, clip),
    found: Check[] = [];
  if (off !== null && off > BESIDE)
    found.push({
      id: 'plate-beside',
      clip: clean.id,
      frame,
      text: `The clean plate ${clean.name} lies up to ${off.toFixed(1)} px beside the performance: mattes get fringes, and what is removed leaves a ghost.`,
      fix: 'Build it from the performance on Plates, or bring in one of the same framing.',
    });
  if (!clean.matchLight) {
    const gains = await lightAgainst(renderer, shot, clean, clip, frame),
      most = gains.reduce((a, b) => (Math.abs(b - 1) > Math.abs(a - 1) ? b : a));
    if (Math.abs(most - 1) > OTHER_LIGHT)
      found.push({
        id: 'plate-light',
        clip: clean.id,
        frame,
        text: `The performance is ${Math.round(100 * Math.abs(most - 1))} % ${most > 1 ? 'brighter' : 'darker'} than the clean plate ${clean.name} on frame ${frame}: what is removed leaves a patch.`,
        fix: 'Let the light of the clean plate follow the performance, on Plates.',
      });
  }
  return found;
};

/**
 * How far a clean plate lies beside its performance at the farthest place of the picture, pixels: the least of what some frames say, since sea and crowds that
 * move pull at it on some, and null where too little of the picture agrees.
 */
async function besideBy(renderer: FrameRenderer, shot: Shot, clean: Clip, clip: Clip): Promise<number | null> {
  // Farthest from the middle a turn and a size count most.
  const far = hypot(clip.width, clip.height) / 2,
    offs: number[] = [];
  for (const share of LOOKS) {
    const { shift, turn, size, agrees } = await placeAgainst(
      renderer,
      shot,
      clean,
      clip,
      Math.round(shot.first + share * (shot.last - shot.first)),
    );
    if (agrees >= AGREES) offs.push(hypot(...shift) + far * (Math.abs(size - 1) + Math.abs((turn * Math.PI) / 180)));
  }
  return offs.length >= 2 ? Math.min(...offs) : null;
}

/** Light that runs along the edge of a body, where small holes of its matte are edges too: it draws veins into the body. */
function veins(row: DrawnRow): Measured {
  return async (renderer, shot) => {
    const matte = row.source ? shot.mattes[row.source] : undefined;
    if (row.never !== null || !row.effect?.params.holes || row.values.holes !== 'open' || !matte) return [];
    const middle = Math.round((Math.max(shot.first, row.first) + Math.min(shot.last, row.last)) / 2),
      tall = row.subjectPixels / 2,
      found = await renderer.renderMatte(shot, matte.id, middle, 2, (plane) => smallHoles(plane, tall));
    return found > VEINS * tall * tall
      ? [
          {
            id: 'veins',
            row: row.row,
            matte: matte.id,
            frame: middle,
            text: `${row.name} runs along the rims of small holes in ${matte.name}, as veins over the body.`,
            fix: `Set Holes of the matte to closed in its settings, or add Fill holes to the refinements of ${matte.name}.`,
          },
        ]
      : [];
  };
}

/** Sides of the frame on which a matte covers more of the border than a stray pixel does. */
export function touches({ width, height, data }: Plane): string[] {
  const least = CUT * 2 * (width + height),
    sides: Record<string, (i: number) => number> = {
      left: (y) => y * width,
      right: (y) => y * width + width - 1,
      upper: (x) => x,
      lower: (x) => (height - 1) * width + x,
    };
  return Object.entries(sides).flatMap(([side, at]) => {
    let covered = 0;
    for (let i = 0; i < (side === 'left' || side === 'right' ? height : width); i++) covered += data[at(i)]!;
    return covered > least ? [side] : [];
  });
}
/** A body that the frame cuts off, where it is moved or sized: the cut comes into the picture. */
function cutOff(subject: Subject): Measured {
  return async (renderer, shot) => {
    const matte = subject.matte ? shot.mattes[subject.matte] : undefined,
      clip = matte && matteClip(shot, matte),
      { values, curves } = subject.placed,
      usual = defaultsOf(subjectParams) as Record<string, unknown>,
      moved = PLACES.some(
        (name) =>
          Object.keys(curves).some((key) => key.split('.')[0] === name) || JSON.stringify(values[name]) !== JSON.stringify(usual[name]),
      );
    if (!subject.detached || !clip || !moved) return [];
    for (const at of [0, Math.floor(clip.frames / 2), clip.frames - 1]) {
      const sides = await renderer.renderClipMatte(shot, matte.id, at, 4, touches);
      if (!sides.length) continue;
      return [
        {
          id: 'matte-cut',
          matte: matte.id,
          frame: shotFrame(shot, clip, at) ?? undefined,
          text: `${subject.name} is cut off by the ${sides.join(' and ')} edge of its clip, and is moved or sized: the straight cut comes into the picture.`,
          fix: 'Place it so that the cut stays at the edge of the frame, or feather it with an outline that keeps its inside.',
        },
      ];
    }
    return [];
  };
}

/** Light of the backing that is left on a keyed subject where it is laid elsewhere. */
function spill(matte: Matte): Measured {
  return async (renderer, shot) => {
    const key = backingOf(matte),
      subject = Object.values(shot.subjects).find((s) => s.matte === matte.id);
    if (!key || !subject || key.share >= 1) return [];
    const frame = Math.round((shot.first + shot.last) / 2),
      plane = await renderer.renderMatte(shot, matte.id, frame, 4, (m) => Float32Array.from(m.data)),
      left = await renderer.renderFrame(
        { shot, frame, factor: 4, plain: true, matte: { id: matte.id, view: 'cut out', ground: 'black' }, playhead: false },
        (p) => spillOf(p, plane, key.colour),
      );
    return left <= SPILL_LEFT
      ? []
      : [
          {
            id: 'spill-left',
            matte: matte.id,
            frame,
            text: `${Math.round(100 * left)} % of the backing's colour is left along the edge of ${subject.name}: it shows as a fringe before anything else.`,
            fix: 'Raise Spill of the key on Mattes.',
          },
        ];
  };
}
/** How much of a backing's colour the soft edge of a cut-out before black has, against its brightness there: 0 none, 1 as much as the backing. */
export function spillOf({ data }: Picture, matte: Float32Array, backing: readonly [number, number, number]): number {
  const strongest = backing.indexOf(Math.max(...backing)),
    others = [0, 1, 2].filter((c) => c !== strongest) as [number, number],
    excess = (r: ArrayLike<number>, at: number) => r[at + strongest]! - Math.max(r[at + others[0]]!, r[at + others[1]]!),
    own = excess(backing, 0) / Math.max(1e-6, backing[strongest]!);
  let [sum, light] = [0, 0];
  for (let p = 0; p < matte.length; p++) {
    if (matte[p]! < 0.15 || matte[p]! > 0.9) continue;
    sum += Math.max(0, excess(data, 4 * p));
    light += Math.max(0, data[4 * p + strongest]!);
  }
  return light > 1e-6 && own > 0 ? sum / light / own : 0;
}
