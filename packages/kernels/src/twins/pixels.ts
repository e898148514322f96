/**
 * Plain twins of the kernels, against which their tests hold them; they are also the place to read what a kernel does. Those with `f` do the same
 * arithmetic in the same order in float32 and agree to the bit; the others agree within what single precision loses. See assembly/ for units.
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

/** Everything that a pair of pixels makes: kernels that treat channels alike, by name. Given are front and back, or a and b, and a number. */
export const pairTwins = {
  overPart: (s: Floats, b: Floats, opacity: number, out: Floats): void => {
    for (let i = 0; i < s.length; i += 4) {
      const free = f(1 - f(s[i + 3]! * f(opacity)));
      for (let c = 0; c < 4; c++) out[i + c] = f(f(s[i + c]! * f(opacity)) + f(b[i + c]! * free));
    }
  },
  plus: (s: Floats, b: Floats, opacity: number, out: Floats): void => {
    for (let i = 0; i < s.length; i++) {
      const v = f(b[i]! + f(s[i]! * f(opacity)));
      out[i] = i % 4 === 3 && 1 < v ? 1 : v;
    }
  },
};

/** Light of half the size laid on: enlarged as doubleTwin does it, then screened or added. */
export function layHalfLightTwin(
  light: Floats,
  w: number,
  h: number,
  below: Floats,
  opacity: number,
  added: boolean,
  out: Floats,
  width: number,
  height: number,
): void {
  const large = new Float32Array(below.length);
  doubleTwin(light, large, w, h, 4, width, height);
  if (added) for (let i = 0; i < out.length; i++) out[i] = i % 4 === 3 ? below[i]! : below[i]! + large[i]! * opacity;
  else screenLightTwin(large, below, opacity, out);
}

export function overBehindTwin(front: Floats, base: Floats, before: Floats, weight: Floats, opacity: number, out: Floats): void {
  for (let i = 0; i < out.length; i++) {
    const a = front[i - (i % 4) + 3]! * opacity;
    out[i] = base[i]! + (front[i]! * opacity - before[i]! * a) * weight[i >> 2]!;
  }
}

export function weighedSumTwin(a: Floats, b: Floats, weights: ArrayLike<number>, out: Floats): void {
  for (let i = 0; i < a.length; i++) out[i] = f(f(a[i]! * weights[i % 4]!) + f(b[i]! * weights[4 + (i % 4)]!));
}

/** Means of two by two of what `light` makes of four channels at a pixel. */
function meansOfFour(width: number, height: number, out: Floats, light: (p: number) => number[]): void {
  const w = (width + 1) >> 1;
  for (let y = 0; y < (height + 1) >> 1; y++)
    for (let x = 0; x < w; x++) {
      const places = [0, 1].flatMap((j) => [0, 1].map((i) => edge(2 * y + j, height) * width + edge(2 * x + i, width)));
      for (let c = 0; c < 4; c++) out[(y * w + x) * 4 + c] = places.reduce((n, p) => n + light(p)[c]! / 4, 0);
    }
}
export function brightHalfTwin(picture: Floats, within: Floats | null, level: number, out: Floats, width: number, height: number): void {
  meansOfFour(width, height, out, (p) => {
    const [r, g, b] = picture.subarray(4 * p, 4 * p + 3) as unknown as [number, number, number],
      most = Math.max(r, g, b),
      k = most > level ? ((most - level) / most) * (within ? within[p]! : 1) : 0;
    return [r * k, g * k, b * k, 0];
  });
}
export function glowingHalfTwin(layer: Floats, out: Floats, width: number, height: number): void {
  const mean = new Float32Array(out.length);
  meansOfFour(width, height, mean, (p) => [...layer.subarray(4 * p, 4 * p + 4)]);
  for (let i = 0; i < out.length; i++) out[i] = i % 4 === 3 ? 0 : Math.max(0, mean[i]! - 0.75 * mean[i - (i % 4) + 3]!);
}

/** Operations on planes, value by value: a, b and a number. */
export const planeTwins = {
  leave: (a: number, b: number, k: number) => f(a * f(1 - f(b * f(k)))),
  product: (a: number, b: number, k: number) => f(f(a * b) * f(k)),
  largerOf: (a: number, b: number, k: number) => (a < f(b * f(k)) ? f(b * f(k)) : a),
  between: (a: number, b: number, k: number) => f(a + f(f(b - a) * f(k))),
};
/** What a matte holds of a pixel's channel, with a share of what stands behind it taken out of soft pixels. */
export const cutOutTwin = (p: number, behind: number | null, m: number, share: number): number => {
  if (!(m > 0)) return 0;
  const plain = f(p * m);
  if (behind === null || m >= 1) return plain;
  const clear = Math.min(f(m * Math.max(1, p)), Math.max(0, f(p - f(behind * f(1 - m)))));
  return f(plain + f(f(clear - plain) * f(share)));
};
export const uniteTwin = (a: number, b: number): number => f(f(a + b) - f(a * b));
export const clampedLineTwin = (v: number, gain: number, offset: number): number => {
  const l = f(f(v * f(gain)) + f(offset));
  return 0 < l ? (l < 1 ? l : 1) : 0;
};

export function windowProductsTwin(
  window: Int16Array,
  side: number,
  pattern: Int16Array,
  rows: number,
  columns: number,
  span: number,
): Float32Array {
  const out = new Float32Array(span * span);
  for (let j = 0; j < span; j++)
    for (let i = 0; i < span; i++) {
      let sum = 0;
      for (let r = 0; r < rows; r++) for (let c = 0; c < columns; c++) sum += pattern[r * columns + c]! * window[(j + r) * side + i + c]!;
      out[j * span + i] = sum;
    }
  return out;
}
