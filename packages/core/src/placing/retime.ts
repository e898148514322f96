import { param, type Curves, type Params, type StoredValue, type Values } from '../params';
import { valueAt, type Curve } from '../time/curve';
import { betweenNames, momentsAt, playNames, type Moment } from '../time/moments';
import { framesPerSecond, type FrameRate } from '../time/rate';

/** Which of a clip's frames show when. Shared by elements, subjects and clips. */
export const timeParams = {
  playback: param.choice({
    default: 'once',
    of: playNames,
    title: 'Playback',
    help: 'It ends, stays or goes on at its last frame. Crossfaded loops overlap, so that nothing jumps or vanishes.',
    group: 'Clip time',
  }),
  overlap: param.number({
    default: 12,
    title: 'Overlap',
    unit: 'frames',
    range: [1, 1000],
    step: 1,
    curve: false,
    help: 'Frames over which the end of the loop fades into its beginning.',
    group: 'Clip time',
    when: { param: 'playback', is: ['loops, crossfaded'] },
  }),
  speed: param.number({
    default: 100,
    title: 'Speed',
    unit: '%',
    range: [0, 2000],
    step: 1,
    help: '0 holds the frame. Over time: freeze it, slow it down, let it go.',
    group: 'Clip time',
  }),
  rate: param.choice({
    default: 'its own',
    of: ['its own', 'frame for frame'],
    title: 'Rate',
    help: 'A clip of another rate plays as long as it lasts, or shows a new frame in every frame (60 as 24: slow motion).',
    group: 'Clip time',
  }),
  direction: param.choice({ default: 'forwards', of: ['forwards', 'backwards'], title: 'Direction', group: 'Clip time' }),
  between: param.choice({
    default: 'nearest',
    of: betweenNames,
    title: 'Between frames',
    help: 'Where the speed asks for a moment between two frames: the nearer one, both mixed, or a new one that follows the motion (slower to draw).',
    group: 'Clip time',
  }),
  trimStart: param.number({
    default: 0,
    title: 'Trim start',
    unit: 'frames',
    range: [0, 1_000_000],
    step: 1,
    curve: false,
    help: 'Frames left out at the beginning of the clip.',
    group: 'Clip time',
    rare: true,
  }),
  trimEnd: param.number({
    default: 0,
    title: 'Trim end',
    unit: 'frames',
    range: [0, 1_000_000],
    step: 1,
    curve: false,
    help: 'Frames left out at the end of the clip.',
    group: 'Clip time',
    rare: true,
  }),
} as const;
export type TimeValues = Values<typeof timeParams>;

/** The same parameters with other defaults. */
export const withDefaults = <P extends Params>(params: P, defaults: Partial<Record<keyof P, StoredValue>>): P =>
  Object.fromEntries(
    Object.entries(params).map(([name, p]) => [name, name in defaults ? { ...p, default: defaults[name] } : p]),
  ) as unknown as P;

/** What is known of a clip that is retimed. */
export interface Footage {
  frames: number;
  rate: FrameRate;
}

/** Sums of a curve over whole frames, kept for as long as the curve is. */
const sums = new WeakMap<Curve, number[]>();
/** The sum of a curve's values over the first so many frames. */
function sumTo(curve: Curve, frames: number): number {
  let known = sums.get(curve);
  if (!known) sums.set(curve, (known = [0]));
  for (let f = known.length; f <= frames; f++) known.push(known[f - 1]! + valueAt(curve, f - 1));
  return frames >= 0 ? known[frames]! : frames * valueAt(curve, 0);
}

/** How many frames of the clip have gone by, some whole frames after it began to play: fractions where the speed makes them. */
export function wayOf(
  values: Readonly<Record<string, StoredValue>>,
  curves: Curves,
  frames: number,
  clip: Footage,
  shotRate: FrameRate,
): number {
  const each = (values.rate ?? timeParams.rate.default) === 'its own' ? framesPerSecond(clip.rate) / framesPerSecond(shotRate) : 1,
    speed = (values.speed ?? timeParams.speed.default) as number;
  return ((curves.speed ? sumTo(curves.speed, frames) : frames * speed) / 100) * each;
}

/** The frames of a clip that play, as trimmed: first and last. */
export function playedRange(values: Readonly<Record<string, StoredValue>>, frames: number): [number, number] {
  const first = Math.min(frames - 1, Math.round((values.trimStart ?? 0) as number));
  return [first, Math.max(first, frames - 1 - Math.round((values.trimEnd ?? 0) as number))];
}

/**
 * The pictures of a clip that show so many frames after it began to play; stills always show theirs.
 * @param values as the document stores them, with their curves over the frames since it began.
 */
export function momentsOf(
  values: Readonly<Record<string, StoredValue>>,
  curves: Curves,
  frames: number,
  clip: Footage,
  shotRate: FrameRate,
): Moment[] {
  if (clip.frames === 1) return [{ frame: 0, share: 1 }];
  const v = <K extends keyof typeof timeParams>(name: K) => (values[name] ?? timeParams[name].default) as TimeValues[K],
    [first, last] = playedRange(values, clip.frames);
  return momentsAt(wayOf(values, curves, frames, clip, shotRate), {
    first,
    last,
    backwards: v('direction') === 'backwards',
    plays: v('playback'),
    overlap: Math.round(v('overlap')),
    between: v('between'),
  });
}

/**
 * A speed that stands still for some frames and then goes on as before. Frames count since it began to play.
 * @param curve the speed over time; where there is none, it is `plain` (%) throughout.
 */
export function frozen(curve: Curve | undefined, plain: number, at: number, frames: number): Curve {
  const now: Curve = curve ?? { points: [{ frame: Math.min(0, at), value: plain, ease: 'hold' }] },
    before = valueAt(now, at),
    after = valueAt(now, at + frames),
    kept = now.points.filter((p) => p.frame < at || p.frame > at + frames),
    last = kept.filter((p) => p.frame < at).at(-1);
  // The way to the freeze ends where it begins, not in it.
  const held = last && last.ease !== 'hold' ? [{ frame: at - 1, value: valueAt(now, at - 1), ease: 'hold' as const }] : [];
  return {
    points: [
      ...kept.filter((p) => p.frame < at && !held.some((h) => h.frame === p.frame)),
      ...(last || at <= 0 ? [] : [{ frame: 0, value: before, ease: 'hold' as const }]),
      ...held,
      { frame: at, value: 0, ease: 'hold' as const },
      { frame: at + frames, value: after, ease: 'hold' as const },
      ...kept.filter((p) => p.frame > at + frames),
    ],
  };
}
