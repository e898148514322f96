import { z } from 'zod';
import { primariesNames, transferNames } from '@wraithos/core/image';
import { rateSchema, readShot } from '@wraithos/core/shot';

export const name = z.string().trim().min(1, 'A name needs at least one letter.').max(120);
/** SHA-256 of what it names, as the stores keep it. */
export const hash = z.string().regex(/^[0-9a-f]{64}$/);
/** A moment, ISO 8601. */
export const moment = z.string();
/** `1` and `0` in an address. */
export const flag = z.enum(['0', '1']).transform((v) => v === '1');

/** A document of any version, read and brought up to date. */
export const document = z.unknown().transform((data, context) => {
  try {
    return readShot(data);
  } catch (error) {
    context.addIssue({ code: 'custom', message: (error as Error).message });
    return z.NEVER;
  }
});

/** An error for people (RFC 9457), with a stable `type`. */
export const problem = z.looseObject({ type: z.string().default(''), detail: z.string(), field: z.string().optional() });
export type Problem = z.infer<typeof problem>;

const triple = z.tuple([z.number(), z.number(), z.number()]);
/** What a medium is. */
export const mediumInfo = z.looseObject({
  width: z.number().int(),
  height: z.number().int(),
  frames: z.number().int(),
  frameRate: rateSchema,
  alpha: z.boolean(),
  bitDepth: z.union([z.literal(8), z.literal(16), z.literal(32)]),
  transfer: z.enum(transferNames),
  primaries: z.enum(primariesNames).optional(),
  premultiplied: z.boolean().optional(),
  /** First and last frame of each gap in a sequence's numbers. */
  missing: z.array(z.tuple([z.number().int(), z.number().int()])).optional(),
  /** The values that the sides of a colour table stand for. */
  domain: z.object({ low: triple, high: triple, curves: z.boolean() }).optional(),
  codec: z.string(),
  kind: z.string(),
});
export type MediumInfo = z.infer<typeof mediumInfo>;
