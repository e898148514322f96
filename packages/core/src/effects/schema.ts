import { z } from 'zod';
import { wordsOf } from '../words';
import type { Effect, Param } from './describe';

/** Pixels that a point may be away from where it is counted from; beyond that nothing can be drawn. */
const FARTHEST = 100_000;
const place = z.number().min(-FARTHEST, `wants ${-FARTHEST} or more`).max(FARTHEST, `wants ${FARTHEST} or less`);

/** The schema of one parameter's stored value, from its description. */
export function valueSchema(p: Param<unknown>): z.ZodType {
  if (p.kind === 'choice') return z.enum(p.of as [string, ...string[]], `wants one of ${p.of!.join(', ')}`);
  if (p.kind === 'colour') return z.string().regex(/^#[0-9a-f]{6}$/i, 'wants a colour such as #ffb05a');
  if (p.kind === 'point') return z.tuple([place, place], 'wants two numbers');
  const [low, high] = p.range ?? [-Infinity, Infinity],
    words = `wants a number from ${low} to ${high}${p.unit ? ` ${p.unit}` : ''}`;
  return z.number(words).min(low, words).max(high, words);
}

/** What is wrong with the stored values and curves of a row of this effect: where, and why. Parameters that are not there count as default. */
export function valueProblems(
  effect: Effect,
  values: Readonly<Record<string, unknown>>,
  curves: Readonly<Record<string, { points: readonly { value: number }[] }>>,
): { path: string[]; message: string }[] {
  const problems: { path: string[]; message: string }[] = [];
  const look = (path: string[], schema: z.ZodType, title: string, value: unknown) => {
    const result = schema.safeParse(value, { error: wordsOf });
    if (!result.success) problems.push({ path, message: `${title} ${result.error.issues[0]!.message}.` });
  };
  for (const [name, value] of Object.entries(values)) {
    const p = Object.hasOwn(effect.params, name) ? effect.params[name] : undefined;
    if (p) look(['values', name], valueSchema(p), p.title, value);
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
    for (const point of curve.points) look(['curves', key], schema, p.title, point.value);
  }
  return problems;
}
