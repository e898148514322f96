import type { Plane } from '../image/picture';

/** What is measured of a matte on one frame, as shares of its picture, 0..1. */
export interface MatteMeasure {
  frame: number;
  area: number;
  /** Holes inside it, and what is neither in nor out. */
  holes: number;
  soft: number;
  /** What of it lies outside of the subject that it is a part of; 0 where it is part of none. */
  outside: number;
  /** What comes or goes on this frame and was otherwise on the frames before and after. */
  flicker: number;
}
export const matteReasons = [
  'reaches outside its subject',
  'is empty',
  'jumps in size',
  'flickers',
  'has a hole',
  'is half there',
] as const;
export type MatteReason = (typeof matteReasons)[number];
/** A frame on which a matte is doubtful: why, and how much, as a share of its usual area. */
export interface MatteDoubt {
  frame: number;
  reason: MatteReason;
  size: number;
}

/** Shares of the area that a doubt must have at the least, and deviations of what is usual in the shot. */
const LEAST: Record<Exclude<MatteReason, 'is empty' | 'reaches outside its subject'>, number> = {
  'jumps in size': 0.06,
  flickers: 0.02,
  'has a hole': 0.02,
  'is half there': 0.06,
};
const DEVIATIONS = 6;
/** The share of a part that may lie outside of its subject: soft edges do. */
const BEYOND = 0.12;
/** Frames to both sides with which a frame is compared. */
const WINDOW = 4;

/** Shares of a matte on one frame. `before` and `after` are the same matte on the frames beside it, `subject` the matte of the subject that it is a part of, where there are any. */
export function measureMatte(
  frame: number,
  matte: Plane,
  before: Plane | null,
  after: Plane | null,
  subject: Plane | null = null,
): MatteMeasure {
  const { width, height, data: m } = matte,
    n = m.length;
  let [area, soft, flicker, outside] = [0, 0, 0, 0];
  for (let i = 0; i < n; i++) {
    const v = m[i]!;
    area += v;
    if (v > 0.1 && v < 0.9) soft++;
    if (subject) outside += Math.max(0, v - subject.data[i]!);
    if (before && after) {
      const [a, b] = [v - before.data[i]!, v - after.data[i]!];
      // An edge that moves on goes one way; what flickers comes and goes.
      if (a * b > 0) flicker += Math.min(Math.abs(a), Math.abs(b));
    }
  }
  return { frame, area: area / n, holes: holesOf(m, width, height) / n, soft: soft / n, flicker: flicker / n, outside: outside / n };
}
/** Pixels outside a matte that are not connected with the border of the picture. */
function holesOf(m: Float32Array, width: number, height: number): number {
  const seen = new Uint8Array(m.length),
    stack: number[] = [],
    visit = (p: number) => {
      if (!seen[p] && m[p]! < 0.5) {
        seen[p] = 1;
        stack.push(p);
      }
    };
  for (let x = 0; x < width; x++) {
    visit(x);
    visit((height - 1) * width + x);
  }
  for (let y = 0; y < height; y++) {
    visit(y * width);
    visit(y * width + width - 1);
  }
  for (let p = stack.pop(); p !== undefined; p = stack.pop()) {
    const x = p % width;
    if (x > 0) visit(p - 1);
    if (x + 1 < width) visit(p + 1);
    if (p >= width) visit(p - width);
    if (p + width < m.length) visit(p + width);
  }
  let holes = 0;
  for (let p = 0; p < m.length; p++) if (m[p]! < 0.5 && !seen[p]) holes++;
  return holes;
}

const middle = (list: number[]): number => {
  const sorted = [...list].sort((a, b) => a - b);
  // Of an even number both middle ones count: what grows evenly differs in nothing from its neighbours.
  return sorted.length ? (sorted[sorted.length >> 1]! + sorted[(sorted.length - 1) >> 1]!) / 2 : 0;
};

/**
 * The frames on which a matte is doubtful: each is compared with the frames around it, and with how much that differs in the shot anyway, so that a walk with
 * swinging legs is not doubted as a whole. In order of frames, with one reason each.
 */
export function doubtfulMattes(measures: readonly MatteMeasure[]): MatteDoubt[] {
  const areas = measures.filter((m) => m.area > 1e-5).map((m) => m.area),
    usual = middle(areas);
  if (!areas.length) return [];
  /** What a frame differs by from the middle one of those around it, in shares of the area there; a slow change is none. */
  const reach = (i: number) => Math.max(1, Math.min(WINDOW, i, measures.length - 1 - i)),
    unlike = (of: (m: MatteMeasure) => number): number[] =>
      measures.map((m, i) => {
        const [next, after] = i === 0 ? [measures[1], measures[2]] : i === measures.length - 1 ? [measures[i - 1], measures[i - 2]] : [],
          around = measures.slice(Math.max(0, i - reach(i)), i + reach(i) + 1).filter((other) => other !== m),
          // The first and the last one are compared with how those beside them go on.
          expected = next && after ? 2 * of(next) - of(after) : middle(around.map(of));
        return (of(m) - expected) / Math.max(0.2 * usual, middle(around.map((other) => other.area)));
      });
  const differing = {
    'jumps in size': unlike((m) => m.area).map(Math.abs),
    flickers: unlike((m) => m.flicker),
    'has a hole': unlike((m) => m.holes),
    'is half there': unlike((m) => m.soft),
  };
  const limits = Object.fromEntries(
    Object.entries(differing).map(([reason, list]) => [
      reason,
      Math.max(LEAST[reason as keyof typeof LEAST], DEVIATIONS * 1.4826 * middle(list.map(Math.abs))),
    ]),
  ) as Record<keyof typeof LEAST, number>;
  const by = (reason: keyof typeof differing, i: number) => (differing[reason][i] ?? 0) / limits[reason],
    empty = (i: number) => measures[i]!.area < 0.02 * usual && [measures[i - 1], measures[i + 1]].some((m) => m && m.area > 0.2 * usual);
  return measures.flatMap(({ frame, area, outside }, i): MatteDoubt[] => {
    if (empty(i)) return [{ frame, reason: 'is empty', size: 1 }];
    if (outside > BEYOND * area) return [{ frame, reason: 'reaches outside its subject', size: outside / area }];
    // What can be seen on the frame alone says more than that it differs.
    for (const reason of ['has a hole', 'jumps in size', 'is half there'] as const)
      if (by(reason, i) > 1) return [{ frame, reason, size: differing[reason][i]! }];
    const flickers = by('flickers', i),
      // Beside a frame that is wrong everything comes and goes.
      worse = [i - 1, i + 1].some((j) => measures[j] && (empty(j) || by('flickers', j) > flickers || by('jumps in size', j) > 1));
    return flickers > 1 && !worse ? [{ frame, reason: 'flickers', size: differing.flickers[i]! }] : [];
  });
}
