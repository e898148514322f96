import { exactMath } from '../src/image';
import { FACE_MARKS, type FaceMarks } from '../src/motion/face';

const { cos, PI, radians, sin } = exactMath;
/** Places that mirror each other, right first, in the order in which a face finder gives them. */
const eyes: readonly [readonly number[], readonly number[]] = [
    [33, 7, 163, 144, 145, 153, 154, 155, 133, 173, 157, 158, 159, 160, 161, 246],
    [263, 249, 390, 373, 374, 380, 381, 382, 362, 398, 384, 385, 386, 387, 388, 466],
  ],
  brows: readonly [readonly number[], readonly number[]] = [
    [70, 63, 105, 66, 107, 46, 53, 52, 65, 55],
    [300, 293, 334, 296, 336, 276, 283, 282, 295, 285],
  ],
  mouth = [61, 146, 91, 181, 84, 17, 314, 405, 321, 375, 291, 409, 270, 269, 267, 0, 37, 39, 40, 185],
  oval = [
    10, 338, 297, 332, 284, 251, 389, 356, 454, 323, 361, 288, 397, 365, 379, 378, 400, 377, 152, 148, 176, 149, 150, 136, 172, 58, 132, 93,
    234, 127, 162, 21, 54, 103, 67, 109,
  ];

/** A face as a finder gives it: drawn with plain ellipses, its eyes `apart` pixels from each other, its lids `open` (0..1), turned about its middle. */
export function drawnFace({
  x,
  y,
  apart,
  turn = 0,
  open = 1,
  mouth: speaks = 0,
}: {
  x: number;
  y: number;
  apart: number;
  turn?: number;
  open?: number;
  mouth?: number;
}): FaceMarks {
  const out = new Float64Array(2 * FACE_MARKS),
    c = cos(radians(turn)),
    s = sin(radians(turn)),
    put = (i: number, u: number, v: number) => {
      out[2 * i] = x + apart * (c * u - s * v);
      out[2 * i + 1] = y + apart * (s * u + c * v);
    };
  for (const [side, sign] of [
    [0, -1],
    [1, 1],
  ] as const) {
    const wide = 0.2;
    eyes[side].forEach((i, k) => {
      // From the outer corner along the lower lid to the inner one, and back along the upper one; pairs lie above each other.
      const along = k <= 8 ? k / 8 : (16 - k) / 8,
        lid = k === 0 || k === 8 ? 0 : k < 8 ? 1 : -1;
      put(i, sign * (0.5 + wide * (1 - 2 * along)), lid * 0.3 * wide * open);
    });
    for (let k = 0; k < 5; k++) put(side ? 473 + k : 468 + k, sign * 0.5 + [0, 0.06, 0, -0.06, 0][k]!, [0, 0, -0.06, 0, 0.06][k]!);
    brows[side].forEach((i, k) => put(i, sign * (0.75 - 0.1 * (k % 5)), k < 5 ? -0.4 : -0.34));
    put(side ? 327 : 98, sign * 0.15, 0.6);
  }
  [168, 6, 197, 195, 5, 2].forEach((i, k) => put(i, 0, 0.12 * k));
  mouth.forEach((i, k) => {
    const a = PI + (2 * PI * k) / mouth.length;
    put(i, 0.35 * cos(a), 1 - (0.12 + 0.2 * speaks) * sin(a));
  });
  oval.forEach((i, k) => {
    const a = (2 * PI * k) / oval.length - PI / 2;
    put(i, 1.05 * cos(a), 0.4 + 1.4 * sin(a));
  });
  return out;
}
