type Floats = Float32Array<ArrayBufferLike>;
const FIRST = 0x38800000;
const word = new Int32Array(1),
  value = new Float32Array(word.buffer);

/** A value through a stored curve (see assembly/transfer.ts, curveAt). */
export function curveTwin(x: number, table: Floats, shift: number, low: number): number {
  value[0] = x;
  const bits = word[0]!;
  if (!(x > 0)) return 0;
  if (x >= 1) return table[table.length - 2]!;
  if (bits < FIRST) return x * low;
  const entry = (bits - FIRST) >> shift;
  return table[2 * entry]! + table[2 * entry + 1]! * ((bits - FIRST) & ((1 << shift) - 1));
}
export function decodeTwin(codes: ArrayLike<number>, table: Floats, channels: number, top: number, out: Floats): void {
  for (let i = 0, j = 0; i < out.length; i += 4, j += channels) {
    const a = channels === 4 ? codes[j + 3]! / top : 1;
    for (let c = 0; c < 3; c++) out[i + c] = table[codes[channels === 1 ? j : j + c]!]! * a;
    out[i + 3] = a;
  }
}
/** A curve as a polynomial of the fourth root, straight below its toe: c0 to c5, the toe, the slope. */
export function rootCurveTwin(x: number, c: ArrayLike<number>): number {
  const v = x > 0 ? Math.min(1, x) : 0,
    t = Math.sqrt(Math.sqrt(v));
  return v < c[6]! ? v * c[7]! : [5, 4, 3, 2, 1, 0].reduce((y, k) => y * t + c[k]!, 0);
}
/** Codes of one pixel before the dither's noise (-0.46 to 0.46 of a step) and rounding. */
export function encodeTwin(pixel: ArrayLike<number>, curve: (x: number) => number, channels: number, top: number): number[] {
  const a = pixel[3]!,
    divide = channels === 4 && a > 0 && a < 1 ? a : 1;
  return Array.from({ length: channels }, (_, c) =>
    c === 3 ? (a > 0 ? Math.min(1, a) : 0) * top : curve(Math.fround(pixel[c]! / divide)) * top,
  );
}
/** Through a matrix of three columns and an offset (times alpha). */
export function gradeMatrixTwin(src: Floats, matrix: ArrayLike<number>, out: Floats): void {
  for (let i = 0; i < src.length; i += 4) {
    for (let c = 0; c < 3; c++)
      out[i + c] = src[i]! * matrix[c]! + src[i + 1]! * matrix[4 + c]! + (src[i + 2]! * matrix[8 + c]! + src[i + 3]! * matrix[12 + c]!);
    out[i + 3] = src[i + 3]!;
  }
}
