import type { ColourMatrix } from './grade';

/**
 * Primaries of material, as chromaticities of red, green, blue and white: ITU-R BT.709-6, SMPTE EG 432-1 (P3 with the white of D65), ITU-R BT.2020-2,
 * and AP1 of the Academy (S-2014-004, ACEScg) with its white near D60.
 */
export const primariesNames = ['rec709', 'p3-d65', 'rec2020', 'acescg'] as const;
export type Primaries = (typeof primariesNames)[number];
/** Chromaticities x and y of red, green, blue and white. */
export type Chromaticities = readonly [number, number, number, number, number, number, number, number];
const chromaticities: Record<Primaries, Chromaticities> = {
  rec709: [0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329],
  'p3-d65': [0.68, 0.32, 0.265, 0.69, 0.15, 0.06, 0.3127, 0.329],
  rec2020: [0.708, 0.292, 0.17, 0.797, 0.131, 0.046, 0.3127, 0.329],
  acescg: [0.713, 0.293, 0.165, 0.83, 0.128, 0.044, 0.32168, 0.33767],
};

/** Rows of a 3 by 3 matrix. */
type Rows = readonly [number, number, number, number, number, number, number, number, number];
const times = (a: Rows, b: Rows): Rows =>
  Array.from({ length: 9 }, (_, i) => {
    const row = i - (i % 3),
      column = i % 3;
    return a[row]! * b[column]! + a[row + 1]! * b[column + 3]! + a[row + 2]! * b[column + 6]!;
  }) as unknown as Rows;
const applied = (m: Rows, [x, y, z]: readonly [number, number, number]): [number, number, number] => [
  m[0] * x + m[1] * y + m[2] * z,
  m[3] * x + m[4] * y + m[5] * z,
  m[6] * x + m[7] * y + m[8] * z,
];
function inverse([a, b, c, d, e, f, g, h, i]: Rows): Rows {
  const x = e * i - f * h,
    y = f * g - d * i,
    z = d * h - e * g,
    k = 1 / (a * x + b * y + c * z);
  return [
    x * k,
    (c * h - b * i) * k,
    (b * f - c * e) * k,
    y * k,
    (a * i - c * g) * k,
    (c * d - a * f) * k,
    z * k,
    (b * g - a * h) * k,
    (a * e - b * d) * k,
  ];
}
const xyz = (x: number, y: number): [number, number, number] => [x / y, 1, (1 - x - y) / y];

/** From light of these primaries to CIE XYZ, white at Y = 1 (SMPTE RP 177). */
function toXyz([rx, ry, gx, gy, bx, by, wx, wy]: Chromaticities): Rows {
  const [r, g, b] = [xyz(rx, ry), xyz(gx, gy), xyz(bx, by)],
    columns: Rows = [r[0], g[0], b[0], r[1], g[1], b[1], r[2], g[2], b[2]],
    [sr, sg, sb] = applied(inverse(columns), xyz(wx, wy));
  return times(columns, [sr, 0, 0, 0, sg, 0, 0, 0, sb]);
}
/** Cone responses of Bradford (as in the ICC's specification, annex E), by which one white becomes another. */
const BRADFORD: Rows = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];
function adapted([fx, fy]: readonly [number, number], [tx, ty]: readonly [number, number]): Rows {
  const from = applied(BRADFORD, xyz(fx, fy)),
    to = applied(BRADFORD, xyz(tx, ty));
  return times(inverse(BRADFORD), times([to[0] / from[0], 0, 0, 0, to[1] / from[1], 0, 0, 0, to[2] / from[2]], BRADFORD));
}

/** Rows of the matrix from light of some primaries to the light that the program works in, that of Rec.709. */
export function toWorking(from: Primaries): Rows {
  const own = chromaticities[from],
    working = chromaticities.rec709;
  return times(inverse(toXyz(working)), times(adapted([own[6], own[7]], [working[6], working[7]]), toXyz(own)));
}
/** XYZ of red, green and blue one after another as a colour profile holds them: adapted to D50 (ICC.1, 6.3.4). */
export function profileColumns(of: Primaries): number[] {
  const own = chromaticities[of],
    m = times(adapted([own[6], own[7]], [0.3457, 0.3585]), toXyz(own));
  return [0, 1, 2].flatMap((c) => [m[c]!, m[c + 3]!, m[c + 6]!]);
}
const known = new Map<Primaries, ColourMatrix>();
/** The same for `gradeMatrix`. */
export function workingMatrix(from: Primaries): ColourMatrix {
  let matrix = known.get(from);
  if (!matrix) {
    const m = toWorking(from);
    known.set(from, (matrix = [m[0], m[3], m[6], m[1], m[4], m[7], m[2], m[5], m[8], 0, 0, 0]));
  }
  return matrix;
}
/** The primaries of this name that these chromaticities are, to three decimals as files round them; null where they are none of them. */
export const primariesOf = (own: readonly number[]): Primaries | null =>
  primariesNames.find((name) => chromaticities[name].every((v, i) => Math.abs(v - own[i]!) < 0.0015)) ?? null;
