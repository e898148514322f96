import type { Arena } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import { hash, normal, textKey } from '../image/random';
import { fitTo, reducedSize } from '../image/resize';
import { decodeCodes, decodeReduced } from '../image/transfer';
import { clipFrame } from '../shot/query';
import type { Clip, Shot } from '../shot/schema';
import type { Step } from './evaluate';
import type { Sources } from './sources';
import { ENGINE_VERSION } from './version';

/** Draft sizes: 1 is the whole shot; 2 and 4 are the half and the quarter of each side. */
export type Factor = 1 | 2 | 4;
export interface FrameSize {
  width: number;
  height: number;
  factor: Factor;
}
export const sizeOf = (shot: Shot, factor: Factor): FrameSize => ({
  width: reducedSize(shot.width, factor),
  height: reducedSize(shot.height, factor),
  factor,
});

export const keyOf = (...parts: unknown[]): string => textKey(JSON.stringify([ENGINE_VERSION, ...parts]));

/** A clip's picture at a shot frame, in linear light, at a draft size. Clips of another size are fitted to the shot. */
export function plateStep(shot: Shot, clip: Clip, frame: number, factor: Factor, sources: Sources): Step<Picture> {
  const size = sizeOf(shot, factor),
    at = clipFrame(clip, frame);
  return {
    key: keyOf('plate', clip.media, clip.transfer, at, size),
    inputs: [],
    keep: clip.frames === 1 ? 'for frames' : 'for edits',
    async run(_, arena: Arena) {
      const codes = await sources.frame(clip, at),
        width = reducedSize(codes.width, factor),
        height = reducedSize(codes.height, factor),
        own = arena.takePicture(width, height);
      if (factor === 1) decodeCodes(codes, clip.transfer, own);
      else decodeReduced(codes, clip.transfer, factor, own);
      if (width === size.width && height === size.height) return own;
      const fitted = fitTo(own, size.width, size.height, arena);
      arena.give(own);
      return fitted;
    },
  };
}

/** A matte carried by a clip: its alpha, or its luma where it has none. */
export function clipMatteStep(clip: Clip, plate: Step<Picture>): Step<Plane> {
  return {
    key: keyOf('clip matte', clip.alpha, plate.key),
    inputs: [plate],
    keep: clip.frames === 1 ? 'for frames' : 'for edits',
    run([picture]: Picture[], arena) {
      const p = picture!,
        out = arena.takePlane(p.width, p.height);
      for (let i = 0; i < out.data.length; i++)
        out.data[i] = clip.alpha
          ? p.data[4 * i + 3]!
          : Math.sqrt(Math.max(0, 0.2126 * p.data[4 * i]! + 0.7152 * p.data[4 * i + 1]! + 0.0722 * p.data[4 * i + 2]!));
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

/** What the clean plate needs to stand beside the plate: itself, and how strong the plate's grain is (measured on the shot's first frame). */
export function cleanWithGrain(
  shot: Shot,
  performance: Clip,
  clean: Clip,
  frame: number,
  factor: Factor,
  sources: Sources,
): { plate: Step<Picture>; level: Step<number[]> } {
  return {
    plate: plateStep(shot, clean, frame, factor, sources),
    level: grainStep(plateStep(shot, performance, shot.first, factor, sources), plateStep(shot, clean, shot.first, factor, sources)),
  };
}

/** Shows the clean plate, grained anew on every frame, where the mask says so; exact where it says 0. Grain is drawn only where it shows. */
export function showClean(picture: Picture, clean: Picture, sigma: readonly number[], mask: Plane, frame: number, arena: Arena): Picture {
  const out = arena.takePicture(picture.width, picture.height),
    seed = hash(frame, 77),
    p = picture.data,
    b = clean.data,
    o = out.data;
  for (let k = 0, i = 0; i < o.length; k++, i += 4) {
    const m = mask.data[k]!;
    if (m <= 0) {
      for (let c = 0; c < 4; c++) o[i + c] = p[i + c]!;
      continue;
    }
    const common = normal(k, seed, 3) * 0.63;
    for (let c = 0; c < 3; c++) {
      const v = root(b[i + c]!) + sigma[c]! * (common + 0.77 * normal(k, seed, c)),
        grained = v > 0 ? v * v : 0;
      o[i + c] = p[i + c]! + (grained - p[i + c]!) * m;
    }
    o[i + 3] = p[i + 3]! + (b[i + 3]! - p[i + 3]!) * m;
  }
  return out;
}
