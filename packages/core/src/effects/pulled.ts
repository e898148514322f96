import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import { noise2 } from '../image/noise';
import type { Plane } from '../image/picture';
import type { Box } from '../image/extent';

/** What a silhouette is pulled out by; lengths in pixels of the plane once they are multiplied by `scale`. */
export interface Tongues {
  edge: 'flames' | 'teeth' | 'veil';
  stretch: number;
  wanders: number;
  raggedSize: number;
  ragged: number;
  sway: number;
  rise: number;
  seed: number;
}
/** One copy of the tongues at one moment. */
export interface Moment {
  /** Pixels of the plane for each pixel of the values. */
  scale: number;
  /** Seconds. */
  time: number;
  /** Number of the copy, from 0. */
  copy: number;
  /** Pixels of the whole shot a metre. */
  metre: number;
}
/** Kinds of edge, as kernels count them. */
export const EDGES = ['flames', 'teeth', 'veil'] as const;

/** Of one copy at one moment: size of a tongue, its phase, how far tongues reach, in pixels of the plane, and how far they have risen, in tongues. */
export function tonguesOf(v: Tongues, { scale, time, copy, metre }: Moment): { size: number; phase: number; far: number; risen: number } {
  const size = Math.max(1, v.raggedSize * scale * (1 + 0.3 * copy)),
    phase = copy * 17.3,
    wander = 1 + v.wanders * (2 * noise2(time * 1.3 + phase, 0.5, v.seed + 90) - 1);
  return { size, phase, far: Math.max(1, v.stretch * scale * wander), risen: (v.rise * metre * scale * time) / size };
}

/**
 * One copy of a silhouette pulled up, or to all four sides, so that what is left of it falls off with the way, by noise that moves with the tongues.
 * @param body a box of the plane, @param box where it lies in it, @param out of the same size.
 */
export function pull(body: Plane, [x0, y0]: Box, v: Tongues, upOnly: boolean, at: Moment, out: Plane, pictures: Pictures): void {
  const { width, height } = body,
    { size, phase, far, risen } = tonguesOf(v, at),
    [lengths, leans] = [pictures.takePlane(width, height), pictures.takePlane(width, height)],
    params = pictures.takePlane(12, 1);
  params.data.set([x0, y0, size, phase, risen, v.ragged, v.sway * 1.6, EDGES.indexOf(v.edge), at.time, v.seed]);
  out.data.fill(0);
  withAddresses(pictures, [params, lengths, leans, body, out], (given, long, lean, from, to) => {
    pictures.run('tonguesAt', height, given!, long!, lean!, width);
    // Sideways and down it is pulled less: light rises.
    pictures.kernels.pullAlong(from!, long!, lean!, far, 0, -1, to!, width, height);
    if (upOnly) return;
    for (const [dx, dy] of [
      [0, 1],
      [-1, 0],
      [1, 0],
    ] as const)
      pictures.kernels.pullAlong(from!, long!, lean!, 0.45 * far, dx, dy, to!, width, height);
  });
  for (const working of [lengths, leans, params]) pictures.give(working);
}
