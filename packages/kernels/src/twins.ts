/**
 * Plain twins of the kernels: the same arithmetic in the same order, in float32. Their tests hold each kernel against its twin to
 * the bit; they are also the place to read what a kernel does. See assembly/ for units.
 */
type Floats = Float32Array<ArrayBufferLike>;
const f = Math.fround;
const edge = (i: number, size: number): number => (i < 0 ? 0 : i >= size ? size - 1 : i);

export function overTwin(front: Floats, back: Floats, out: Floats): void {
  for (let i = 0; i < front.length; i += 4) {
    const free = f(1 - front[i + 3]!);
    for (let c = 0; c < 4; c++) out[i + c] = f(front[i + c]! + f(back[i + c]! * free));
  }
}

/** Both passes of the symmetric sum: along rows, or (`vertical`) along columns. */
export function blurTwin(src: Floats, out: Floats, width: number, height: number, channels: number, taps: Floats, vertical: boolean): void {
  const at = (x: number, y: number, c: number) => src[(edge(y, height) * width + edge(x, width)) * channels + c]!;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < channels; c++) {
        let sum = f(taps[0]! * at(x, y, c));
        for (let k = 1; k < taps.length; k++)
          sum = f(sum + f(taps[k]! * (vertical ? f(at(x, y - k, c) + at(x, y + k, c)) : f(at(x - k, y, c) + at(x + k, y, c)))));
        out[(y * width + x) * channels + c] = sum;
      }
}

export function halveTwin(src: Floats, out: Floats, width: number, height: number, channels: number): void {
  const w = (width + 1) >> 1,
    h = (height + 1) >> 1;
  const four = (a: number, b: number, c: number, d: number) => f(f(0.125 * f(a + d)) + f(0.375 * f(b + c)));
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      for (let c = 0; c < channels; c++) {
        const column = (i: number) => {
          const at = (j: number) => src[(edge(j, height) * width + edge(i, width)) * channels + c]!;
          return four(at(2 * y - 1), at(2 * y), at(2 * y + 1), at(2 * y + 2));
        };
        out[(y * w + x) * channels + c] = four(column(2 * x - 1), column(2 * x), column(2 * x + 1), column(2 * x + 2));
      }
}

/** `w` x `h` is the source's size. */
export function doubleTwin(src: Floats, out: Floats, w: number, h: number, channels: number, width: number, height: number): void {
  const mix = (near: number, far: number) => f(f(0.75 * near) + f(0.25 * far));
  const far = (i: number, size: number) => edge(i & 1 ? (i >> 1) + 1 : (i >> 1) - 1, size);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < channels; c++) {
        const column = (i: number) => mix(src[((y >> 1) * w + i) * channels + c]!, src[(far(y, h) * w + i) * channels + c]!);
        out[(y * width + x) * channels + c] = mix(column(x >> 1), column(far(x, w)));
      }
}

export function growTwin(src: Floats, out: Floats, width: number, height: number, square: boolean, shrink: boolean): void {
  const best = (a: number, b: number) => (shrink ? (b < a ? b : a) : a < b ? b : a);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = (i: number, j: number) => src[edge(y + j, height) * width + edge(x + i, width)]!;
      let v = [at(-1, 0), at(1, 0), at(0, -1), at(0, 1)].reduce(best, at(0, 0));
      if (square) v = [at(-1, -1), at(1, -1), at(-1, 1), at(1, 1)].reduce(best, v);
      out[y * width + x] = v;
    }
}

export function rootDifferenceTwin(a: Floats, b: Floats, out: Floats): void {
  const root = (x: number) => f(Math.sqrt(x > 0 ? x : 0));
  for (let i = 0; i < a.length; i++) out[i] = i % 4 === 3 ? 0 : f(root(a[i]!) - root(b[i]!));
}

export function mixByMaskTwin(before: Floats, after: Floats, mask: Floats, out: Floats): void {
  for (let i = 0; i < before.length; i++) {
    const k = mask[i >> 2]!;
    out[i] = k <= 0 ? before[i]! : k >= 1 ? after[i]! : f(before[i]! + f(f(after[i]! - before[i]!) * k));
  }
}

export function addDifferenceTwin(base: Floats, before: Floats, after: Floats, weight: Floats, out: Floats): void {
  for (let i = 0; i < base.length; i++) out[i] = f(base[i]! + f(f(after[i]! - before[i]!) * weight[i >> 2]!));
}

export function screenLightTwin(light: Floats, below: Floats, opacity: number, out: Floats): void {
  for (let i = 0; i < below.length; i++) {
    const x = f(light[i]! * f(opacity)),
      y = below[i]!;
    out[i] = i % 4 === 3 || x <= 0 ? y : x <= 1 && y <= 1 ? f(f(x + y) - f(x * y)) : x < y ? y : x;
  }
}

export function windowProductsTwin(
  window: Floats,
  side: number,
  pattern: Floats,
  rows: number,
  columns: number,
  span: number,
  out: Floats,
): void {
  for (let j = 0; j < span; j++)
    for (let i = 0; i < span; i++) {
      // Eight running sums, as the kernel keeps them: two vectors in turn along a row.
      const sums = new Float32Array(8);
      for (let r = 0; r < rows; r++)
        for (let c = 0; c < columns; c++) {
          const last = columns % 8 && c >= columns - 4 ? c % 4 : c % 8;
          sums[last] = f(sums[last]! + f(pattern[r * columns + c]! * window[(j + r) * side + i + c]!));
        }
      const lane = (k: number) => f(sums[k]! + sums[k + 4]!);
      out[j * span + i] = f(f(lane(0) + lane(1)) + f(lane(2) + lane(3)));
    }
}
