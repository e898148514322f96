import type { Pictures } from './arena';
import { withAddresses } from './kernelCall';
import type { Picture, Plane } from './picture';
import { decodeValue, encodeValue } from './transfer';

/**
 * Separable blends B(backdrop, source), W3C Compositing and Blending Level 1, section 9.1. `normal`, `add`, `multiply` and
 * `screen` work on linear light here (screen keeps values above 1 by taking the larger); the others on display-encoded values
 * clamped to 0..1, as the standard means them.
 */
const encoded = {
  lighten: (b: number, s: number) => Math.max(b, s),
  darken: (b: number, s: number) => Math.min(b, s),
  overlay: (b: number, s: number) => hardLight(s, b),
  'hard light': hardLight,
  'soft light': (b: number, s: number) =>
    s <= 0.5 ? b - (1 - 2 * s) * b * (1 - b) : b + (2 * s - 1) * ((b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b)) - b),
  difference: (b: number, s: number) => Math.abs(b - s),
};
function hardLight(b: number, s: number): number {
  return s <= 0.5 ? b * 2 * s : b + (2 * s - 1) - b * (2 * s - 1);
}
const linear = {
  multiply: (b: number, s: number) => b * s,
  screen: (b: number, s: number) => (b <= 1 && s <= 1 ? b + s - b * s : Math.max(b, s)),
};

export const blendNames = [
  'normal',
  'add',
  'screen',
  'multiply',
  'lighten',
  'darken',
  'overlay',
  'soft light',
  'hard light',
  'difference',
] as const;
export type Blend = (typeof blendNames)[number];

/** The formula of one blend on straight colours in linear light. */
function formula(blend: Blend): (b: number, s: number) => number {
  if (blend === 'multiply' || blend === 'screen') return linear[blend];
  const f = encoded[blend as keyof typeof encoded];
  return (b, s) => decodeValue(f(encodeValue(b), encodeValue(s)));
}

/**
 * Blends `source` over `backdrop` with `opacity` 0..1 into a new picture, with the standard's alpha composition:
 * co = cs as (1 - ab) + cb ab (1 - as) + as ab B(cb, cs). Add is the plus operator on premultiplied values.
 */
export function blendOver(source: Picture, backdrop: Picture, blend: Blend, opacity: number, pictures: Pictures): Picture {
  const out = pictures.takePicture(backdrop.width, backdrop.height),
    s = source.data,
    b = backdrop.data,
    o = out.data,
    n = o.length;
  if (blend === 'normal') {
    if (opacity === 1) {
      withAddresses(pictures, [source, backdrop, out], (front, back, to) => pictures.kernels.over(front!, back!, to!, n >> 2));
      return out;
    }
    for (let i = 0; i < n; i += 4) {
      const free = 1 - s[i + 3]! * opacity;
      for (let c = 0; c < 4; c++) o[i + c] = s[i + c]! * opacity + b[i + c]! * free;
    }
    return out;
  }
  if (blend === 'add') {
    for (let i = 0; i < n; i += 4) {
      for (let c = 0; c < 3; c++) o[i + c] = b[i + c]! + s[i + c]! * opacity;
      o[i + 3] = Math.min(1, b[i + 3]! + s[i + 3]! * opacity);
    }
    return out;
  }
  const f = formula(blend);
  for (let i = 0; i < n; i += 4) {
    const as = s[i + 3]! * opacity,
      ab = b[i + 3]!;
    if (!(as > 0)) {
      for (let c = 0; c < 4; c++) o[i + c] = b[i + c]!;
      continue;
    }
    const ks = 1 / s[i + 3]!,
      kb = ab > 0 ? 1 / ab : 0;
    for (let c = 0; c < 3; c++) {
      const cs = s[i + c]! * ks,
        cb = b[i + c]! * kb;
      o[i + c] = cs * as * (1 - ab) + b[i + c]! * (1 - as) + as * ab * f(cb, cs);
    }
    o[i + 3] = as + ab - as * ab;
  }
  return out;
}

/** Lays light (which has no alpha of its own) on a picture by linear screen: a + b - ab up to 1, and never below either. */
export function screenLight(light: Picture, below: Picture, opacity: number, pictures: Pictures): Picture {
  const out = pictures.takePicture(below.width, below.height);
  withAddresses(pictures, [light, below, out], (from, under, to) =>
    pictures.kernels.screenLight(from!, under!, opacity, to!, below.width * below.height),
  );
  return out;
}

/** `before` where the mask is 0, `after` where it is 1, into a new picture; exact at both ends. */
export function mixByMask(before: Picture, after: Picture, mask: Plane, pictures: Pictures): Picture {
  const out = pictures.takePicture(before.width, before.height);
  withAddresses(pictures, [before, after, mask, out], (a, b, m, to) => pictures.kernels.mixByMask(a!, b!, m!, to!, mask.data.length));
  return out;
}

/** `base + weight (after - before)`: what an effect changed, laid onto another picture. `base` may be `before`. */
export function addDifference(base: Picture, before: Picture, after: Picture, weight: Plane, pictures: Pictures): Picture {
  const out = pictures.takePicture(base.width, base.height);
  withAddresses(pictures, [base, before, after, weight, out], (p, a, b, w, to) =>
    pictures.kernels.addDifference(p!, a!, b!, w!, to!, weight.data.length),
  );
  return out;
}
