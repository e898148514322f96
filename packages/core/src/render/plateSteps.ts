import type { Arena } from '../image/arena';
import { bytesOf, type Picture, type Plane } from '../image/picture';
import { emptyPicture } from '../image/planeMath';
import { meanHalf, weighedSum } from '../image/blur';
import { decodeMixed, type HeldCodes } from '../image/codes';
import { gradeMatrix } from '../image/grade';
import { withAddresses } from '../image/kernelCall';
import { hash } from '../image/random';
import { fitTo } from '../image/resize';
import type { Homography } from '../image/warp';
import { bytesOfMotion, motionBetween, pictureBetween, type Motion } from '../motion/between';
import type { Moment } from '../time/moments';
import { drawMoving, drawPlaced, type Moving } from '../placing';
import { appearanceOf, type Appearance } from '../shot/appearance';
import type { Clip, Shot } from '../shot/schema';
import { combine } from './combine';
import { sizeOf, type Factor, type FrameSize } from './factor';
import type { Step } from './evaluate';
import { keyOf } from './key';
import { matchedStep } from './matchedLight';
import { codesStep, plainlyRead, readClip, readKey } from './readStep';
import { repairedStep } from './repairs';
import type { Sources } from './sources';

/**
 * One frame of a clip that fills the picture, in linear light, at a draft size. Clips of another size are fitted to the shot. The quarter is made from the
 * half, which a draft has anyway.
 */
function wholeStep(shot: Shot, clip: Clip, at: number, factor: Factor, sources: Sources): Step<Picture> {
  const size = sizeOf(shot, factor),
    same = {
      key: keyOf('plate', repairedStep(shot.clips, clip, at, factor, sources).key, size),
      keep: clip.frames === 1 ? 'for frames' : 'for edits',
    } as const;
  if (factor === 4)
    return {
      ...same,
      // Who needs the half size for itself remembers it; on the way to the quarter it is worth nothing.
      inputs: [{ ...wholeStep(shot, clip, at, 2, sources), keep: 'never' }],
      run: ([half]: Picture[], arena: Arena) => meanHalf(half!, arena),
    };
  const read = repairedStep(shot.clips, clip, at, factor, sources);
  return {
    ...same,
    inputs: read.inputs,
    async run(codes, arena, owned) {
      const own = await read.run(codes, arena, owned);
      if (own.width === size.width && own.height === size.height) return own;
      const fitted = fitTo(own, size.width, size.height, arena);
      arena.give(own);
      return fitted;
    },
  };
}

/** A clip's own picture at one of its frames, in linear light and its own shape, at a draft size. */
export const ownStep = (shot: Shot, clip: Clip, at: number, factor: Factor, sources: Sources): Step<Picture> =>
  clip.width === shot.width && clip.height === shot.height
    ? wholeStep(shot, clip, at, factor, sources)
    : repairedStep(shot.clips, clip, at, factor, sources);

const even = (k: number) => [k, k, k, k] as const;
/** The motion between two pictures of half the size: measured once for all that stands between them. */
const motionStep = (a: Step<Picture>, b: Step<Picture>): Step<Motion> => ({
  ...(combine('motion', [a, b], ([from, to]: [Picture, Picture], arena: Arena) => motionBetween(from, to, arena)) as Step<Motion>),
  keep: 'for frames',
  bytes: bytesOfMotion,
});

/** Values of several moments, each weighed by its share, where those that are the ends of a motion have become one. */
export interface Weighed<V> {
  step: Step<V>;
  share: number;
}
/**
 * What shows at moments, made of what shows at their frames.
 * @param of the value at a moment, @param seen its picture at half the size, from which motions are measured, @param between makes a value between two.
 */
export function weighedSteps<V>(
  moments: readonly Moment[],
  of: (m: Moment) => Step<V>,
  seen: (m: Moment) => Step<Picture>,
  between: (a: V, b: V, motion: Motion, part: number, arena: Arena) => V,
): Weighed<V>[] {
  const out: Weighed<V>[] = [];
  moments.forEach((m, i) => {
    const other = m.motion === undefined ? -1 : moments.findIndex((k, j) => j !== i && k.motion === m.motion);
    if (other < 0) out.push({ step: of(m), share: m.share });
    else if (other > i) {
      const next = moments[other]!,
        share = m.share + next.share,
        part = next.share / share,
        step = combine(
          `between ${part}`,
          [of(m), of(next), motionStep(seen(m), seen(next))],
          ([a, b, motion]: [V, V, Motion], arena: Arena) => between(a, b, motion, part, arena),
        ) as Step<V>;
      out.push({ step: { ...step, keep: 'for edits' }, share });
    }
  });
  return out;
}

/** Pictures of several moments by their shares; null where there is none. */
export function mixedStep(
  moments: readonly Moment[],
  of: (m: Moment) => Step<Picture>,
  seen: (m: Moment) => Step<Picture>,
): Step<Picture> | null {
  const weighed = weighedSteps(moments, of, seen, pictureBetween),
    shares = weighed.map((w) => w.share);
  if (weighed.length < 2 && (shares[0] ?? 1) === 1) return weighed[0]?.step ?? null;
  return combine(
    `moment ${shares.join()}`,
    weighed.map((w) => w.step),
    (pictures: Picture[], arena: Arena) => {
      let sum = weighedSum(pictures[0]!, even(shares[0]!), pictures[1] ?? pictures[0]!, even(shares[1] ?? 0), arena);
      for (let i = 2; i < pictures.length; i++) sum = weighedSum(sum, even(1), pictures[i]!, even(shares[i]!), arena, sum);
      return sum;
    },
  ) as Step<Picture>;
}

/** What shows of a clip at a moment, in linear light and its own shape, at a draft size; null where nothing does. */
export const momentStep = (shot: Shot, clip: Clip, moments: readonly Moment[], factor: Factor, sources: Sources): Step<Picture> | null =>
  mixedStep(
    moments,
    (m) => ownStep(shot, clip, m.frame, factor, sources),
    (m) => ownStep(shot, clip, m.frame, 2, sources),
  );

/** A picture with nothing in it. */
export const clearStep = (size: FrameSize): Step<Picture> => ({
  key: keyOf('clear', size),
  inputs: [],
  keep: 'never',
  run: (_, arena) => emptyPicture(size.width, size.height, arena),
});

/** A map in whole-shot pixels, for pictures of a draft. */
export const draftMap = (m: Homography, factor: Factor): Homography =>
  factor === 1 ? m : [m[0], m[1], m[2] / factor, m[3], m[4], m[5] / factor, m[6] * factor, m[7] * factor, m[8]];

/** Two frames of a clip as large as the shot, mixed in one pass as they are read; null where it is not that. */
function mixedCodes(shot: Shot, clip: Clip, moments: readonly Moment[], factor: Factor, sources: Sources): Step<Picture> | null {
  const [a, b] = moments;
  if (!plainlyRead(clip)) return null;
  if (moments.length !== 2 || a!.motion !== undefined || b!.motion !== undefined || factor !== 1) return null;
  if (clip.width !== shot.width || clip.height !== shot.height) return null;
  const part = b!.share;
  return {
    key: keyOf('mixed', readKey(clip, a!.frame), b!.frame, part),
    inputs: [codesStep(clip, a!.frame, sources), codesStep(clip, b!.frame, sources)],
    keep: 'for edits',
    run: ([first, second]: HeldCodes[], arena: Arena) => decodeMixed(first!, second!, clip.transfer, part, arena),
  };
}

/** A clip where and when it appears, as large as the shot; empty around it, and where none of its frames shows. */
export function appearsStep(shot: Shot, clip: Clip, look: Appearance, factor: Factor, sources: Sources): Step<Picture> {
  const size = sizeOf(shot, factor);
  if (look.whole)
    return litStep(
      look.light,
      mixedCodes(shot, clip, look.moments, factor, sources) ??
        mixedStep(
          look.moments,
          (m) => wholeStep(shot, clip, m.frame, factor, sources),
          (m) => wholeStep(shot, clip, m.frame, 2, sources),
        ) ??
        clearStep(size),
    );
  const own = momentStep(shot, clip, look.moments, factor, sources),
    lit = own && litStep(look.light, own);
  return lit && look.matrix ? placedStep(lit, look.matrix, size) : (lit ?? clearStep(size));
}
/** A picture with gains of red, green and blue; itself without any. */
function litStep(light: Appearance['light'], own: Step<Picture>): Step<Picture> {
  if (!light) return own;
  const [r, g, b] = light;
  return combine(`light ${light.join()}`, [own], ([picture]: [Picture], arena: Arena) =>
    gradeMatrix(picture, [r, 0, 0, 0, g, 0, 0, 0, b, 0, 0, 0], arena),
  ) as Step<Picture>;
}
/** A picture seen through a map in whole-shot pixels; blurred by its move where that is given. */
export const placedStep = (own: Step<Picture>, matrix: Homography, size: FrameSize, moving: Moving | null = null): Step<Picture> => ({
  key: keyOf('placed', matrix, size, own.key, moving),
  inputs: [own],
  keep: 'for edits',
  run([picture]: Picture[], arena: Arena) {
    const map = (m: Homography | null) => m && draftMap(m, size.factor);
    return moving
      ? drawMoving(
          picture!,
          map(matrix)!,
          { before: map(moving.before), after: map(moving.after), open: moving.open },
          size.width,
          size.height,
          arena,
        )
      : drawPlaced(picture!, map(matrix)!, size.width, size.height, arena);
  },
});

/** A picture at another size, as large as `size`; itself where it has it. */
export const fittedStep = (own: Step<Picture>, size: FrameSize): Step<Picture> =>
  combine(`fitted ${size.width} ${size.height}`, [own], ([picture]: [Picture], arena: Arena) =>
    picture.width === size.width && picture.height === size.height ? picture : fitTo(picture, size.width, size.height, arena),
  ) as Step<Picture>;

/** A clip's picture at a shot frame as it stands in the base, in linear light, at a draft size. */
export const plateStep = (shot: Shot, clip: Clip, frame: number, factor: Factor, sources: Sources): Step<Picture> =>
  matchedStep(shot, clip, frame, appearsStep(shot, clip, appearanceOf(shot, clip, frame), factor, sources), sources);

/** Pictures of an element for sprites: at most this many of its frames, and not larger than this. */
const MOST_PICTURES = 48,
  LARGEST_SPRITE = 160;

/** All pictures of an element in linear light, small and in their own shape: what particles are drawn from. */
export function elementStep(clip: Clip, sources: Sources): Step<Picture[]> {
  const count = Math.min(clip.frames, MOST_PICTURES),
    factor = [1, 2, 4].find((f) => Math.max(clip.width, clip.height) / f <= LARGEST_SPRITE) ?? 4;
  return {
    key: keyOf('element', readKey(clip, 0), count, factor),
    inputs: [],
    keep: 'for frames',
    bytes: (list) => list.reduce((n, p) => n + bytesOf(p), 0),
    async run(_, arena) {
      const out: Picture[] = [];
      for (let i = 0; i < count; i++) {
        const drawn = await readClip(clip, i, factor as Factor, sources, arena);
        // Outside of the arena, where it may stay as long as it is remembered.
        out.push({ kind: 'picture', width: drawn.width, height: drawn.height, data: Float32Array.from(drawn.data) });
        arena.give(drawn);
      }
      return out;
    },
  };
}

const root = (x: number) => (x > 0 ? Math.sqrt(x) : 0);

/** How grainy a plate is against its clean plate: deviation by channel on square roots of light, from the median of neighbour differences. */
function grainStep(plate: Step<Picture>, clean: Step<Picture>): Step<number[]> {
  return {
    key: keyOf('grain level', plate.key, clean.key),
    inputs: [plate, clean],
    keep: 'for frames',
    run([p, c]: Picture[]) {
      return [0, 1, 2].map((channel) => {
        const found: number[] = [],
          n = p!.width * p!.height,
          stride = Math.max(1, Math.floor(n / 40000));
        for (let i = 0; i + 1 < n; i += stride) {
          const d = (j: number) => root(p!.data[4 * j + channel]!) - root(c!.data[4 * j + channel]!);
          found.push(Math.abs(d(i) - d(i + 1)));
        }
        found.sort((a, b) => a - b);
        return (found[found.length >> 1] ?? 0) / (0.6745 * 1.4142135623730951);
      });
    },
  };
}

/** How strong the grain of a clip is against its clean plate, measured on the shot's first frame. */
export const grainLevel = (shot: Shot, clip: Clip, clean: Clip, factor: Factor, sources: Sources): Step<number[]> =>
  grainStep(plateStep(shot, clip, shot.first, factor, sources), plateStep(shot, clean, shot.first, factor, sources));

/** Shows the clean plate, grained anew on every frame, where the mask says so; exact where it says 0. Grain is drawn only where it shows. */
export function showClean(
  picture: Picture,
  clean: Picture,
  sigma: readonly number[],
  mask: Plane,
  frame: number,
  arena: Arena,
  out = arena.takePicture(picture.width, picture.height),
): Picture {
  const deviations = arena.takePlane(4, 1);
  deviations.data.set([...sigma, 0]);
  withAddresses(arena, [out, ...(out === picture ? [] : [picture]), clean, mask, deviations], (to, ...given) => {
    const [p, c, m, s] = out === picture ? [to, ...given] : given;
    arena.run('showGrained', out.height, p!, c!, m!, s!, hash(frame, 77) | 0, to!, out.width);
  });
  arena.give(deviations);
  return out;
}
