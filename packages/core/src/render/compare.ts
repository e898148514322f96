import type { Arena } from '../image/arena';
import { cos, radians, sin } from '../image/exactMath';
import type { Picture } from '../image/picture';
import { laidOver } from './skin';

/** How a picture is looked at beside another one. */
export const compareWays = ['wipe', 'side by side', 'difference', 'the other alone'] as const;
export type CompareWay = (typeof compareWays)[number];
/** What a picture is compared with: the base without effects, a clip as it stands in the base, or the same view of another frame of the shot. */
export type CompareWith = { kind: 'base' } | { kind: 'clip'; clip: string } | { kind: 'frame'; frame: number };
export interface Compare {
  with: CompareWith;
  how: CompareWay;
  /** Where a wipe's line stands: 0 at the one end of the picture, 1 at the other. */
  at: number;
  /** Direction in which the wipe goes, degrees clockwise from right: the picture lies before its line, the other one behind it. */
  angle: number;
}

/** A wipe's line as a x + b y = c in pixels of a picture of this size: the picture lies where a x + b y < c. */
export function wipeLine({ at, angle }: Pick<Compare, 'at' | 'angle'>, width: number, height: number): [a: number, b: number, c: number] {
  const a = cos(radians(angle)),
    b = sin(radians(angle)),
    reach = Math.abs(a) * width + Math.abs(b) * height;
  return [a, b, (a * width + b * height) / 2 + (at - 0.5) * reach];
}

/** Two pictures of one size beside each other; in a difference, how far their display values are apart, twice over. */
export function compared(near: Picture, far: Picture, compare: Compare, arena: Arena): Picture {
  if (compare.how === 'difference') return laidOver(near, far, 'difference', arena);
  const { width, height } = near,
    out = arena.takePicture(width, height),
    [n, f, o] = [near.data, far.data, out.data];
  switch (compare.how) {
    case 'the other alone':
      o.set(f);
      break;
    case 'side by side': {
      // Each at half the size, in the middle of its half.
      o.fill(0);
      const half = Math.floor(width / 2),
        top = Math.floor(height / 4);
      for (let y = 0; y < Math.floor(height / 2); y++)
        for (let x = 0; x < half * 2; x++) {
          const from = x < half ? n : f,
            i = ((top + y) * width + x) * 4,
            sx = 2 * (x % half),
            p = (2 * y * width + sx) * 4,
            q = p + (sx + 1 < width ? 4 : 0),
            r = 2 * y + 1 < height ? 4 * width : 0;
          for (let c = 0; c < 4; c++) o[i + c] = (from[p + c]! + from[q + c]! + from[p + r + c]! + from[q + r + c]!) / 4;
        }
      break;
    }
    case 'wipe': {
      const [a, b, c] = wipeLine(compare, width, height);
      for (let y = 0, i = 0; y < height; y++)
        for (let x = 0; x < width; x++, i += 4) {
          const from = a * (x + 0.5) + b * (y + 0.5) < c ? n : f;
          o[i] = from[i]!;
          o[i + 1] = from[i + 1]!;
          o[i + 2] = from[i + 2]!;
          o[i + 3] = from[i + 3]!;
        }
    }
  }
  return out;
}
