import { z } from 'zod';
import { matteModes } from '../matte/modes';
import { keyEasings } from '../matte/outlineKeys';
import { paintModes } from '../matte/painted';
import { refinementKinds, refinements, type StoredRefinement } from '../matte/refinements';
import { matteSources, sourceKinds, type StoredSource } from '../matte/sources';
import { valuesShape } from '../params';
import { curvesSchema, finite, frame, id, name, pair, valuesSchema } from './fields';

/** The form of a matte in a document: its sources, outlines and refinements. */

const reach = finite.min(0).max(1000);
export const vertexSchema = z.object({ x: finite, y: finite, in: pair, out: pair, inner: reach, outer: reach });
const outlineKeySchema = z.object({
  frame,
  ease: z.enum(keyEasings),
  vertices: z.array(vertexSchema.nullable()).max(500),
  sure: z.array(z.number().min(0).max(1)).max(500).nullable(),
});
export const outlineSchema = z.strictObject({
  id,
  name,
  mode: z.enum(matteModes),
  /** It does not count. */
  muted: z.boolean(),
  /** Of all sources and outlines of its matte, only those that have it count. */
  solo: z.boolean(),
  keys: z
    .array(outlineKeySchema)
    .min(1)
    .max(2000)
    .refine((keys) => keys.every((k, i) => i === 0 || k.frame > keys[i - 1]!.frame), 'Keys of an outline must be in order of frames.')
    .refine(
      ([first, ...others]) => others.every((k) => k.vertices.length === first!.vertices.length),
      'All keys of an outline must have the same number of points.',
    )
    .refine(
      (keys) => keys.every((k) => !k.sure || k.sure.length === k.vertices.length),
      'A key that was carried must say of each point how sure it is.',
    )
    .refine((keys) => keys[0]!.vertices.every((_, i) => keys.some((k) => k.vertices[i])), 'Each point of an outline must be set on a key.'),
  /** Over the frames of its clip. */
  values: valuesSchema,
  curves: curvesSchema,
  mount: id.nullable(),
  mountFrame: frame,
});
/** Each source of a matte with its own values alone. */
const madeFrom = z.discriminatedUnion(
  'kind',
  sourceKinds.map((kind) =>
    z.strictObject({
      kind: z.literal(kind),
      clip: id.nullable(),
      ...valuesShape(matteSources[kind].params),
      ...(matteSources[kind].names ? { [matteSources[kind].names]: id.nullable() } : {}),
    }),
  ) as never,
) as unknown as z.ZodType<StoredSource>;
const matteSourceSchema = z.strictObject({ id, mode: z.enum(matteModes), muted: z.boolean(), solo: z.boolean(), source: madeFrom });
/** Each refinement with its own values alone. */
const refinementSchema = z.discriminatedUnion(
  'kind',
  refinementKinds.map((kind) =>
    z.strictObject({ id, kind: z.literal(kind), muted: z.boolean(), ...valuesShape(refinements[kind].params) }),
  ) as never,
) as unknown as z.ZodType<StoredRefinement>;
/** A stroke painted over a matte, in the pixels of its clip. */
const paintedSchema = z.strictObject({
  id,
  mode: z.enum(paintModes),
  /** First and last frame of its clip on which it counts. */
  first: frame,
  last: frame,
  /** The way of the brush's middle. */
  points: z.array(pair).min(1).max(5000),
  radius: finite.min(0.5).max(2000),
  /** Share of the radius over which it fades out, 0..100 per cent. */
  softness: finite.min(0).max(100),
});
export const matteSchema = z.strictObject({
  id,
  name,
  /** The clip on which it lies, in whose frames and pixels it is; null is the performance, or the clip of the subject that brings a ready matte. */
  clip: id.nullable(),
  /** The subject of which it is a named part: a head, a hand. */
  part: id.nullable(),
  /** They count in this order, outlines after them. */
  sources: z.array(matteSourceSchema).max(30),
  outlines: z.array(outlineSchema).max(60),
  /** In this order. */
  refine: z.array(refinementSchema).max(30),
  /** They are laid over all that was made and refined, in this order. */
  painted: z.array(paintedSchema).max(2000),
});
