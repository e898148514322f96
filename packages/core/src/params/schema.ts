import { z } from 'zod';
import { wordsOf } from '../words';
import type { Param, Params } from './describe';

/** Pixels that a point may be away from where it is counted from; beyond that nothing can be drawn. */
const FARTHEST = 100_000;
const place = z.number().min(-FARTHEST, `wants ${-FARTHEST} or more`).max(FARTHEST, `wants ${FARTHEST} or less`);

const schemas = new WeakMap<Param<unknown>, z.ZodType>();
/**
 * The schema of one parameter's stored value, from its description. Each is made once: making them for every check of a document took more
 * than half of the time of an edit.
 */
export function valueSchema(p: Param<unknown>): z.ZodType {
  let schema = schemas.get(p);
  if (!schema) schemas.set(p, (schema = makeSchema(p)));
  return schema;
}
function makeSchema(p: Param<unknown>): z.ZodType {
  if (p.kind === 'choice') return z.enum(p.of as [string, ...string[]], `wants one of ${p.of!.join(', ')}`);
  if (p.kind === 'colour') return z.string().regex(/^#[0-9a-f]{6}$/i, 'wants a colour such as #ffb05a');
  if (p.kind === 'point') return z.tuple([place, place], 'wants two numbers');
  const [low, high] = p.range ?? [-Infinity, Infinity],
    words = `wants a number from ${low} to ${high}${p.unit ? ` ${p.unit}` : ''}`;
  return z.number(words).min(low, words).max(high, words);
}

/** True for a number within its range: the usual value by far, and looked at without the schema, which takes ten times as long. */
const isFine = (p: Param<unknown>, value: unknown): boolean =>
  typeof value === 'number' && p.range !== undefined && p.kind !== 'point' && value >= p.range[0] && value <= p.range[1];

/** The schema of the stored values of parameters; those that are not there take their default. */
export const valuesShape = (params: Params): Record<string, z.ZodType> =>
  Object.fromEntries(Object.entries(params).map(([name, p]) => [name, valueSchema(p).default(p.default)]));

/** What is wrong with stored values and curves: where, and why. Parameters that are not there count as default. */
export function valueProblems(
  effect: { title: string; params: Params },
  values: Readonly<Record<string, unknown>>,
  curves: Readonly<Record<string, { points: readonly { value: number }[] }>>,
): { path: string[]; message: string }[] {
  const problems: { path: string[]; message: string }[] = [];
  const look = (path: string[], schema: z.ZodType, title: string, value: unknown, p: Param<unknown>) => {
    if (isFine(p, value)) return;
    const result = schema.safeParse(value, { error: wordsOf });
    if (!result.success) problems.push({ path, message: `${title} ${result.error.issues[0]!.message}.` });
  };
  for (const [name, value] of Object.entries(values)) {
    const p = Object.hasOwn(effect.params, name) ? effect.params[name] : undefined;
    if (p) look(['values', name], valueSchema(p), p.title, value, p);
    else problems.push({ path: ['values', name], message: `${effect.title} has no parameter "${name}".` });
  }
  for (const [key, curve] of Object.entries(curves)) {
    const side = /^(.*)\.[xy]$/.exec(key),
      name = side?.[1] ?? key,
      p = Object.hasOwn(effect.params, name) ? effect.params[name] : undefined;
    if (!p || !p.curve || (p.kind === 'point') !== (side !== null)) {
      problems.push({ path: ['curves', key], message: `${effect.title} has no parameter "${key}" that can change over time.` });
      continue;
    }
    const schema = p.kind === 'point' ? place : valueSchema(p);
    for (const point of curve.points) look(['curves', key], schema, p.title, point.value, p);
  }
  return problems;
}
