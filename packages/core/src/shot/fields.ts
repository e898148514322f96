import { z } from 'zod';
import { easings } from '../time/curve';

/** Fields that many entries of a document have. */

/** Names that every object answers to: an id of this name would be found where there is none. */
const inherited = new Set([...Object.getOwnPropertyNames(Object.prototype), 'prototype']);
export const id = z
  .string()
  .min(1)
  .max(40)
  .refine((key) => !inherited.has(key), 'is a name that cannot be used here');
const keyOf = (most: number) =>
  z
    .string()
    .min(1)
    .max(most)
    .refine((key) => !inherited.has(key), 'is a name that cannot be used here');
export const name = z.string().trim().min(1, 'A name needs at least one letter.').max(120);
/** Numbers beyond this can be neither drawn nor counted with. */
const LARGEST = 1e7;
export const finite = z.number().min(-LARGEST).max(LARGEST);
export const pair = z.tuple([finite, finite]);
export const frame = z.number().int().min(-1_000_000).max(10_000_000);
export const size = z.number().int().min(1).max(8192);

export const curvePointSchema = z.object({
  frame: finite,
  cue: id.nullish(),
  value: finite,
  ease: z.enum(easings),
  bend: z.tuple([finite, finite, finite, finite]).optional(),
});
export const curveSchema = z.object({
  points: z
    .array(curvePointSchema)
    .min(1)
    .max(2000)
    // Those that hang on cues stand wherever these are.
    .refine((all) => {
      const ps = all.filter((p) => !p.cue);
      return ps.every((p, i) => i === 0 || p.frame > ps[i - 1]!.frame);
    }, 'Points of a curve must be in order of frames.'),
});
export const valuesSchema = z.record(keyOf(60), z.union([finite, z.string().max(400), pair]));
export const curvesSchema = z.record(keyOf(60), curveSchema);
/** Values and curves of something that is placed. */
export const placedSchema = z.object({ values: valuesSchema, curves: curvesSchema });
