import { clamp, exp } from '../image/exactMath';
import type { Frame } from '../motion/frame';
import { drawImpact, drawWay, DRIFT, holdBehind, movedStrands, type Reach } from './beamLight';
import { beamParams, type BeamValues } from './beamParams';
import { beamWay, drawnWay, END, movesOf, PIECES, strandsOf, wave, type Way } from './beamWay';
import { effect, type Draw, type EffectCheck, type Facts } from './describe';
import { aimSuggested, endsOf, fromToChecks } from './fromTo';
import { recipes } from './recipes/beam';
import { strokeLight } from './strokes';
import { throwsNothing } from './surroundings';

/**
 * How far the beam's head has come and its tail has followed, as shares of the way. With a travel time both go at a steady speed from the row's
 * first frame: the head arrives after `travel` frames, the tail sets out after `stays`; without one the shares say it.
 */
export function beamReach(
  v: { travel: number; stays: number; head: number; tail: number },
  frameInRow: number,
): { head: number; tail: number } {
  if (v.travel <= 0) return { head: v.head, tail: v.tail };
  return {
    head: clamp((frameInRow + 1) / v.travel, 0, 1),
    tail: v.stays > 0 ? clamp((frameInRow - v.stays) / v.travel, 0, 1) : 0,
  };
}

/** How far head and tail have come when the shutter opens and when it closes; beyond 1 it has been there for a while. */
function passing(
  v: { travel: number; stays: number; head: number; tail: number; shutter: number },
  { frameInRow, around }: Pick<Facts, 'frameInRow' | 'around'>,
): Reach {
  const half = v.shutter / 720,
    now = beamReach(v, frameInRow);
  if (!(half > 0)) return { head: [now.head, now.head], tail: [now.tail, now.tail] };
  if (v.travel > 0) {
    const at = (frames: number): readonly [number, number] => [(frames - half) / v.travel, (frames + half) / v.travel];
    return { head: at(frameInRow + 1), tail: v.stays > 0 ? at(frameInRow - v.stays) : [0, 0] };
  }
  const [before, after] = [0, 1].map((k) => (around[k] ?? v) as typeof v),
    at = (name: 'head' | 'tail'): readonly [number, number] => {
      const speed = (after![name] - before![name]) / 2;
      return [v[name] - half * speed, v[name] + half * speed];
    };
  return { head: at('head'), tail: at('tail') };
}

/** A beam of light from one mount to another, to a place, or along a drawn line: a core in a halo, that travels, and strikes. */
export const beam = effect({
  type: 'beam',
  version: 4,
  // Up to 1 it was blunt where it began, and its halo as wide all along; up to 2 it lit nothing, and ended in one piece; up to 3 its moves did not blur.
  upgrade: ({ values, curves }, version) => ({
    values: {
      ...values,
      ...(version < 2 ? { narrow: 0, breath: 0 } : {}),
      ...(version < 3 ? { ...throwsNothing, surround: 0, fray: 0 } : {}),
      shutter: 0,
    },
    curves,
  }),
  title: 'Beam',
  summary: 'Light from one mount to another, to a place, or along a drawn line: it travels there, strikes, and its tail follows.',
  recipes,
  shown: { frame: 1074, on: 'lantern', values: { to: 'a place', place: [-330, -20] } },
  lanes: ['foreground', 'front', 'behind', 'background', 'whole'],
  sharp: true,
  light: true,
  throws: (v) => v,
  facts: ['frame', 'frameInRow', 'around', 'lines'],
  origin: 'middle',
  happens: true,
  suggest: aimSuggested,
  params: beamParams,
  inputs: {
    mount: { kind: 'mount', optional: true, title: 'Mount' },
    aim: { kind: 'aim', optional: true, title: 'Aims at' },
    before: { kind: 'mount', at: 'before', optional: true, title: 'Mount a frame earlier' },
    next: { kind: 'mount', at: 'next', optional: true, title: 'Mount a frame later' },
    aimBefore: { kind: 'aim', at: 'before', optional: true, title: 'Aim a frame earlier' },
    aimNext: { kind: 'aim', at: 'next', optional: true, title: 'Aim a frame later' },
    matte: { kind: 'matte', optional: true, title: 'Subject' },
  },
  without: (v) => [
    ...(v.passes === 'as its lane stands' ? (['matte'] as const) : []),
    ...(v.shutter > 0 ? [] : (['before', 'next', 'aimBefore', 'aimNext'] as const)),
  ],
  idle: (v) => v.strength <= 0 || (v.travel <= 0 && v.head <= v.tail),
  render(draw, v, read) {
    const { pictures, width, height } = draw,
      { mount, matte } = read,
      stands = wayAt(v, mount, read.aim, draw, draw.frameInRow),
      reach = passing(v, draw);
    if (!stands || Math.max(...reach.head) <= Math.min(...reach.tail)) return {};
    const { way, grown, grownThere } = stands,
      open = v.shutter / 360,
      beside = (k: 0 | 1, m: Frame, a: Frame) =>
        wayAt((draw.around[k] ?? v) as BeamValues, m, a, draw, draw.frameInRow + 2 * k - 1)?.way ?? null,
      moves =
        open > 0
          ? movesOf(way, beside(0, read.before, read.aimBefore), beside(1, read.next, read.aimNext), open, Math.max(width, height))
          : null,
      n = way.x.length - 1,
      finish = [way.x[n]!, way.y[n]!] as const,
      moved = moves && ([moves.x[n]!, moves.y[n]!] as const),
      power = v.strength * (1 - 0.5 * v.flicker + 0.5 * v.flicker * wave(0.5, draw.frame * 2.7, v.seed + 9));
    const light = pictures.takePicture(width, height);
    pictures.run('clear', height, light.address!, width * 4);
    drawWay(
      light,
      { ...way, ...(moves ? { moves } : {}) },
      reach,
      { ...v, core: v.core * grown, halo: v.halo * grown, drifts: DRIFT * draw.frame },
      power,
      draw,
    );
    // Brightest when it strikes, then steady while it lasts.
    const { head, tail } = beamReach(v, draw.frameInRow),
      struck = v.travel > 0 ? draw.frameInRow + 1 - v.travel : head >= 1 ? 12 : -1;
    if (struck >= 0 && tail < 1 && v.impact > 0)
      drawImpact(light.data, finish, moved, v.impact * grownThere, v.impactStrength * power * (0.55 + 0.9 * exp(-struck / 3.5)), v, draw);
    if (struck >= 0 && tail < END && v.fray > 0)
      strokeLight(
        light,
        movedStrands(strandsOf(way, v.core * grownThere, 1.8 * v.fray * power, draw.frame, v.seed, v.goes === 'along a drawn line'), moved),
        // Thin light is coloured: in white it would be grey in its own halo.
        v.coreColour.map((c, i) => 0.5 * (c + v.haloColour[i]!)) as unknown as typeof v.coreColour,
        pictures,
      );
    if (matte && v.passes !== 'as its lane stands')
      holdBehind(light, matte, [way.x[0]!, way.y[0]!], finish, v.crosses, v.passes === 'its end behind');
    return { light };
  },
  checks: [
    ...fromToChecks.map((check): EffectCheck<BeamValues> => ({
      ...check,
      find: (facts) => (facts.values.goes === 'along a drawn line' && facts.lines > 0 ? null : check.find(facts)),
    })),
    {
      id: 'no-line',
      find: ({ name, values, lines }) =>
        values.goes !== 'along a drawn line' || lines > 0
          ? null
          : {
              text: `${name} goes along a drawn line, and none is drawn: it goes straight.`,
              fix: 'Draw the line on the picture: Draw its line, in its settings.',
            },
    },
  ],
  handles: [
    { shape: 'point', moves: 'start' },
    { shape: 'point', moves: 'place' },
    { shape: 'point', moves: 'via' },
  ],
});

/** Where the beam goes on a frame, and how much its widths have grown at both ends; null where one of them is nowhere. */
function wayAt(
  v: BeamValues,
  mount: Frame,
  aim: Frame,
  draw: Draw<'frame' | 'lines'>,
  frameInRow: number,
): { way: Way; grown: number; grownThere: number } | null {
  if (v.goes === 'along a drawn line') {
    const way = drawnWay(draw.lines, frameInRow, mount, draw.scale, v.flutter * mount.scaleAt(v.start), draw.frame, v.seed);
    if (way) return { way, grown: mount.scaleAt(v.start), grownThere: mount.scaleAt(v.start) };
  }
  const ends = endsOf(v, mount, aim);
  if (!ends) return null;
  const { begin, finish, grown, grownThere } = ends,
    bend = v.goes === 'by a point' ? mount.toPicture(v.via) : v.bend * grown,
    pieces = v.shutter > 0 ? PIECES : undefined;
  return { way: beamWay(begin, finish, bend, v.flutter * grown, draw.frame, v.seed, pieces), grown, grownThere };
}
