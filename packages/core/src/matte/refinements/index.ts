import type { Pictures } from '../../image/arena';
import type { Plane } from '../../image/picture';
import { clampedLine } from '../../image/planeMath';
import { defaultsOf, type StoredOf } from '../../params/describe';
import { valuesAt } from '../../params/values';
import { blur } from './blur';
import { despeckle } from './despeckle';
import type { Refinement, RefinementReads } from './describe';
import { feather } from './feather';
import { fillHoles } from './fillHoles';
import { followEdges } from './followEdges';
import { grow } from './grow';
import { invert } from './invert';
import { levels } from './levels';
import { smoothCorners } from './smoothCorners';
import { steady } from './steady';

const register = {
  despeckle,
  'fill holes': fillHoles,
  grow,
  'smooth corners': smoothCorners,
  'follow edges': followEdges,
  feather,
  blur,
  steady,
  levels,
  invert,
};
export type RefinementKind = keyof typeof register;
/** Every refinement by its kind. Adding one touches its file, its test and one line here. */
export const refinements = register as unknown as Record<RefinementKind, Refinement>;
export const refinementKinds = Object.keys(register) as RefinementKind[];

/** A refinement as a document stores it: its kind and the values of this kind alone. */
export type StoredRefinement = {
  [K in RefinementKind]: { id: string; kind: K; muted: boolean } & StoredOf<(typeof register)[K]['params']>;
}[RefinementKind];
/** A refinement with the defaults of its kind, and values that are not the usual ones. */
export const newRefinement = (id: string, kind: RefinementKind, values: Readonly<Record<string, unknown>> = {}): StoredRefinement =>
  ({ id, kind, muted: false, ...defaultsOf(refinements[kind].params), ...values }) as StoredRefinement;

/** Refinements that change something, with their values at a size of the picture (`scale` of its pixels to one of the clip). */
export const refinementsAt = (list: readonly StoredRefinement[], scale: number): { kind: RefinementKind; v: object }[] =>
  list.flatMap((one) => {
    const { params, idle } = refinements[one.kind],
      v = valuesAt(params, one as never, {}, 0, scale);
    return one.muted || idle?.(v) ? [] : [{ kind: one.kind, v }];
  });
/** Refines a matte by one after another: in place, or into another plane, and the first is given back. Values end between 0 and 1. */
export function refined(
  matte: Plane,
  list: ReturnType<typeof refinementsAt>,
  pictures: Pictures,
  read: Partial<RefinementReads> | null,
): Plane {
  let out = matte;
  for (const { kind, v } of list) out = refinements[kind].apply(out, v as never, pictures, read as RefinementReads);
  return clampedLine(out, 1, 0, pictures, out);
}
export * from './describe';
