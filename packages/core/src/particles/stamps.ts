import { cos, sin, smoothstep } from '../image/exactMath';
import type { Picture } from '../image/picture';
import { uniform } from '../image/random';

/** What a particle looks like. */
export const spriteNames = ['soft dot', 'disc', 'ring', 'square', 'shard', 'polygon', 'star', 'drawn'] as const;
export type Sprite = (typeof spriteNames)[number];

/** One stamp in several sizes, largest first: where it begins in the sheet, in floats, and its side with the empty rim. */
export type Levels = readonly { at: number; side: number }[];
/** Stamps one after another: premultiplied RGBA, each with an empty rim of one pixel. */
export interface Sheet {
  data: Float32Array;
  stamps: readonly Levels[];
}

const SIDES = [64, 32, 16, 8];
/** Samples along each side of a pixel when a stamp is made. */
const FINE = 4;

/** Signed distance inside of a star-shaped outline whose corners are given by angle and radius; 1 is the stamp's half side. */
function inOutline(x: number, y: number, corners: readonly (readonly [number, number])[]): boolean {
  let inside = false;
  for (let i = 0, j = corners.length - 1; i < corners.length; j = i++) {
    const [ax, ay] = corners[i]!,
      [bx, by] = corners[j]!;
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}
const spread = (n: number, radius: (i: number) => number, turn = 0): [number, number][] =>
  Array.from({ length: n }, (_, i) => {
    const a = ((i + turn) / n) * 6.283185307179586;
    return [radius(i) * cos(a), radius(i) * sin(a)];
  });

/** How many variants a kind has, and coverage of a variant at a place -1..1. */
const kinds: Record<Exclude<Sprite, 'drawn'>, { variants: number; cover(variant: number): (x: number, y: number) => number }> = {
  'soft dot': {
    variants: 1,
    cover: () => (x, y) => {
      const d = Math.sqrt(x * x + y * y);
      // Near to a Gaussian that has come to nothing at the rim.
      return smoothstep(1, 0, d) * smoothstep(1, 0, d);
    },
  },
  disc: { variants: 1, cover: () => (x, y) => (x * x + y * y < 0.98 ? 1 : 0) },
  ring: { variants: 1, cover: () => (x, y) => smoothstep(0.2, 0.08, Math.abs(Math.sqrt(x * x + y * y) - 0.78)) },
  square: { variants: 1, cover: () => (x, y) => (Math.max(Math.abs(x), Math.abs(y)) < 0.74 ? 1 : 0) },
  shard: {
    variants: 6,
    cover(variant) {
      const corners = spread(4 + (variant % 3), (i) => 0.35 + 0.6 * uniform(variant, i, 5), 0.4 * uniform(variant, 9));
      return (x, y) => (inOutline(x, y, corners) ? 1 : 0);
    },
  },
  polygon: {
    variants: 3,
    cover(variant) {
      const corners = spread([3, 5, 6][variant]!, () => 0.95);
      return (x, y) => (inOutline(x, y, corners) ? 1 : 0);
    },
  },
  star: {
    variants: 1,
    cover: () => (x, y) => {
      const d = Math.sqrt(x * x + y * y),
        ray = Math.max(0, 1 - Math.abs(x) * 9 - Math.abs(y) * 0.9) + Math.max(0, 1 - Math.abs(y) * 9 - Math.abs(x) * 0.9);
      return Math.min(1, ray + 0.8 * smoothstep(0.3, 0, d)) * smoothstep(1, 0.9, d);
    },
  },
};

function bake(kind: Exclude<Sprite, 'drawn'>): Sheet {
  const { variants, cover } = kinds[kind],
    floats = SIDES.reduce((n, s) => n + (s + 2) * (s + 2) * 4, 0),
    data = new Float32Array(floats * variants),
    stamps: Levels[] = [];
  let at = 0;
  for (let variant = 0; variant < variants; variant++) {
    const of = cover(variant),
      levels: { at: number; side: number }[] = [];
    for (const inner of SIDES) {
      const side = inner + 2;
      for (let y = 0; y < inner; y++)
        for (let x = 0; x < inner; x++) {
          let sum = 0;
          for (let k = 0; k < FINE * FINE; k++)
            sum += of(((x + ((k % FINE) + 0.5) / FINE) / inner) * 2 - 1, ((y + (Math.floor(k / FINE) + 0.5) / FINE) / inner) * 2 - 1);
          data.fill(sum / (FINE * FINE), at + ((y + 1) * side + x + 1) * 4, at + ((y + 1) * side + x + 2) * 4);
        }
      levels.push({ at, side });
      at += side * side * 4;
    }
    stamps.push(levels);
  }
  return { data, stamps };
}
const baked = new Map<Sprite, Sheet>();
/** The stamps of a kind of ours, made once. */
export function sheetOf(kind: Exclude<Sprite, 'drawn'>): Sheet {
  let sheet = baked.get(kind);
  if (!sheet) baked.set(kind, (sheet = bake(kind)));
  return sheet;
}

/** Two sheets as one: the stamps of the first, then those of the second. */
export function sheetsTogether(a: Sheet, b: Sheet): Sheet {
  const data = new Float32Array(a.data.length + b.data.length);
  data.set(a.data);
  data.set(b.data, a.data.length);
  return { data, stamps: [...a.stamps, ...b.stamps.map((levels) => levels.map((l) => ({ ...l, at: l.at + a.data.length })))] };
}

/** Stamps of drawn pictures (premultiplied, linear), each fitted into a square and in every size. */
export function sheetFrom(pictures: readonly Picture[]): Sheet {
  const floats = SIDES.reduce((n, s) => n + (s + 2) * (s + 2) * 4, 0),
    data = new Float32Array(floats * pictures.length),
    stamps: Levels[] = [];
  let at = 0;
  for (const { data: from, width, height } of pictures) {
    const whole = Math.max(width, height),
      left = (whole - width) / 2,
      top = (whole - height) / 2,
      levels: { at: number; side: number }[] = [];
    for (const inner of SIDES) {
      const side = inner + 2,
        step = whole / inner;
      for (let y = 0; y < inner; y++)
        for (let x = 0; x < inner; x++) {
          // The mean of what lies below the stamp's pixel.
          const x0 = Math.max(0, Math.floor(x * step - left)),
            x1 = Math.min(width, Math.max(x0 + 1, Math.ceil((x + 1) * step - left))),
            y0 = Math.max(0, Math.floor(y * step - top)),
            y1 = Math.min(height, Math.max(y0 + 1, Math.ceil((y + 1) * step - top)));
          const o = at + ((y + 1) * side + x + 1) * 4,
            area = (x1 - x0) * (y1 - y0);
          if (x1 <= x0 || y1 <= y0) continue;
          for (let py = y0; py < y1; py++)
            for (let px = x0; px < x1; px++) for (let c = 0; c < 4; c++) data[o + c]! += from[(py * width + px) * 4 + c]! / area;
        }
      levels.push({ at, side });
      at += side * side * 4;
    }
    stamps.push(levels);
  }
  return { data, stamps };
}
