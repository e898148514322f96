import { blendOver, mixByMask } from '../image/blend';
import { weighedSum } from '../image/blur';
import { clamp, cos, radians, sin, smoothstep } from '../image/exactMath';
import type { Arena } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import { valuesAt, type Values } from '../params';
import { groundParams, transitionParams } from '../placing';
import { appearanceOf, isMoved } from '../shot/appearance';
import { clipStart, laterParts } from '../shot/when';
import { pictureFrame } from '../motion/frame';
import { rowValues } from '../shot/drawn';
import { clipWithRole } from '../shot/clips';
import { leadingRow, rowRange, takeStart } from '../shot/query';
import type { Clip, Shot, Take } from '../shot/schema';
import { combine } from './combine';
import type { Step } from './evaluate';
import { keyOf } from './key';
import { matteInBase, type MatteWorld } from './matteSteps';
import { sizeOf, type Factor } from './factor';
import { appearsStep, clearStep, plateStep } from './plateSteps';
import type { Scene } from './scene';

const groundOf = (shot: Shot) => valuesAt(groundParams, shot.base.ground.values, {}, 0, 1) as unknown as Values<typeof groundParams>;

/** True where no pixel of the base lets through what would lie behind it. */
export function isOpaque(shot: Shot): boolean {
  const { ground } = groundOf(shot),
    behind = ground === 'clip' ? shot.base.ground.clip : null,
    solid = (id: string) => {
      const clip = shot.clips[id];
      return (
        !!clip &&
        !clip.alpha &&
        !isMoved(shot, clip) &&
        // A clip that was split fills the picture where all of its parts do.
        [clip, ...laterParts(shot, clip.id)].every(
          (part, i) => appearanceOf(shot, clip, i ? clipStart(shot, part) : shot.first).whole && part.placed.values.playback !== 'once',
        )
      );
    };
  if (ground === 'colour' || ground === 'gradient' || (behind && solid(behind))) return true;
  return shot.base.takes.length > 0 && shot.base.takes.every((take) => solid(take.clip));
}

/** What lies behind all takes; null where it is nothing. */
function groundStep({ shot, sources }: MatteWorld, frame: number, factor: Factor): Step<Picture> | null {
  const v = groundOf(shot),
    size = sizeOf(shot, factor),
    clip = v.ground === 'clip' && shot.base.ground.clip ? shot.clips[shot.base.ground.clip] : undefined;
  if (clip) return plateStep(shot, clip, frame, factor, sources);
  if (v.ground !== 'colour' && v.ground !== 'gradient') return null;
  const { colour, other, direction } = v,
    plain = v.ground === 'colour';
  return {
    key: keyOf('ground', v.ground, colour, plain ? null : [other, direction], size),
    inputs: [],
    keep: 'for frames',
    run(_, arena) {
      const { width, height } = size,
        out = arena.takePicture(width, height),
        d = out.data,
        ux = cos(radians(direction)),
        uy = sin(radians(direction)),
        // From corner to corner of the picture along its direction.
        long = Math.abs(ux) * width + Math.abs(uy) * height;
      for (let y = 0, i = 0; y < height; y++)
        for (let x = 0; x < width; x++, i += 4) {
          const t = plain ? 0 : clamp(((x + 0.5 - width / 2) * ux + (y + 0.5 - height / 2) * uy) / long + 0.5, 0, 1);
          for (let c = 0; c < 3; c++) d[i + c] = colour[c]! + (other[c]! - colour[c]!) * t;
          d[i + 3] = 1;
        }
      return out;
    },
  };
}

/** What of a clip shows in the base where its subject is not there: the clean plate, nothing for a drawing, or else the clip itself. */
function emptied(shot: Shot, clip: Clip): Clip | null {
  if (clip.role === 'performance') return clipWithRole(shot, 'clean') ?? (clip.alpha ? null : clip);
  return clip.alpha && Object.values(shot.subjects).some((s) => s.clip === clip.id) ? null : clip;
}
/** True where a subject of this clip can be taken out of the base: something is known of what stands behind it, or it never stood there. */
export const canBeEmptied = (shot: Shot, clip: Clip): boolean => emptied(shot, clip) !== clip || !inBase(shot, clip.id);
export const inBase = (shot: Shot, clip: string): boolean => shot.base.takes.some((take) => take.clip === clip);

/** What the effect that leads a take has passed at a frame; `over` once its row has ended, null where no effect leads. */
function passedStep(scene: Scene, take: Take, frame: number): Step<Plane> | 'over' | null {
  const { shot, factor } = scene,
    row = leadingRow(shot, take),
    drawn = row && scene.drawn.of(row.id)[0];
  if (!drawn?.effect?.passed) return null;
  if (frame > drawn.last) return 'over';
  const e = drawn.effect,
    v = rowValues(drawn, frame, 1 / factor),
    size = sizeOf(shot, factor),
    standing = (at: number) =>
      ((drawn.mount && scene.mounts.at(drawn.mount, at, drawn.subject?.id)) || pictureFrame(e.origin, shot.width, shot.height)).resized(
        1 / factor,
      ),
    mounts = { mount: standing(frame), begun: standing(drawn.first) };
  return {
    key: keyOf('passed', e.type, e.version, v, mounts, size),
    inputs: [],
    keep: 'never',
    run: (_, arena) => e.passed!({ pictures: arena, width: size.width, height: size.height, scale: 1 / factor }, v, mounts),
  };
}

/** How far a transition has come, 0..1; 1 from its end on. */
function come(take: Take, since: number): { share: number; kind: Values<typeof transitionParams>['transition'] } {
  const v = valuesAt(transitionParams, take.values, {}, 0, 1) as unknown as Values<typeof transitionParams>,
    t = v.transition === 'cut' || v.transition === 'led by an effect' ? 1 : Math.min(1, (since + 1) / (v.over + 1));
  return { share: v.eased === 'smooth' && v.transition === 'crossfade' ? smoothstep(0, 1, t) : t, kind: v.transition };
}

/** The take that has come in last at a frame. */
function takeAt(shot: Shot, frame: number): number {
  let at = 0;
  shot.base.takes.forEach((take, i) => {
    if (i > 0 && takeStart(shot, take) <= frame) at = i;
  });
  return at;
}
/**
 * True where who stands on a clip is in the picture at a frame: the clip is the take that has come in, or the one that still goes. A clip that is no take
 * at all is none of the base's.
 */
export function standsAt(shot: Shot, clip: string, frame: number): boolean {
  if (!inBase(shot, clip)) return true;
  const { takes } = shot.base,
    at = takeAt(shot, frame),
    take = takes[at]!,
    leads = leadingRow(shot, take);
  if (take.clip === clip) return true;
  if (takes[at - 1]?.clip !== clip) return false;
  return leads ? frame <= rowRange(shot, leads)[1] : come(take, frame - takeStart(shot, take)).share < 1;
}

/**
 * The base at a shot frame: takes one after another over what lies behind them. A single clip that fills the picture is its own plate step, to the bit.
 * @param empty without the subjects of its clips: the clean plate, or what lies behind a drawing.
 */
export function baseStep(scene: Scene, frame: number, factor: Factor, empty = false): Step<Picture> {
  const world: MatteWorld = scene,
    { shot, sources } = scene,
    { takes } = shot.base,
    ground = groundStep(world, frame, factor),
    nothing = () => ground ?? clearStep(sizeOf(shot, factor));
  const shown = (take: Take): Step<Picture> => {
    const named = shot.clips[take.clip],
      clip = named && empty ? emptied(shot, named) : named;
    if (!clip) return nothing();
    const look = appearanceOf(shot, clip, frame),
      own = appearsStep(shot, clip, look, factor, sources);
    if (!ground || (look.whole && look.moments.length && !clip.alpha)) return own;
    return combine('over the ground', [own, ground], ([near, far]: [Picture, Picture], arena: Arena, owned) =>
      blendOver(near, far, 'normal', 1, arena, owned(1) ? far : undefined),
    ) as Step<Picture>;
  };
  const at = takeAt(shot, frame),
    take = takes[at];
  if (!take) return nothing();
  const now = shown(take),
    before = at > 0 ? takes[at - 1]! : null,
    leads = before ? passedStep(scene, take, frame) : null,
    { share, kind } = before ? come(take, frame - takeStart(shot, take)) : { share: 1, kind: 'cut' };
  if (leads === 'over') return now;
  if (before && leads)
    return combine('led', [shown(before), now, leads], ([a, b, m]: [Picture, Picture, Plane], arena: Arena, owned) =>
      mixByMask(a, b, m, arena, owned(0) ? a : owned(1) ? b : undefined),
    ) as Step<Picture>;
  if (!before || share >= 1) return now;
  const was = shown(before),
    matte = take.matte ? shot.mattes[take.matte] : undefined;
  if (kind === 'led by a matte')
    return matte
      ? (combine('led', [was, now, matteInBase(world, matte, frame, factor)], ([a, b, m]: [Picture, Picture, Plane], arena: Arena, owned) =>
          mixByMask(a, b, m, arena, owned(0) ? a : owned(1) ? b : undefined),
        ) as Step<Picture>)
      : was;
  return combine(`crossfade ${share}`, [was, now], ([a, b]: [Picture, Picture], arena: Arena) =>
    weighedSum(a, even(1 - share), b, even(share), arena),
  ) as Step<Picture>;
}
const even = (k: number) => [k, k, k, k] as const;
