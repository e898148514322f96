import { z } from 'zod';
import type { Effect, Param } from './describe';

/** The schema of one parameter's stored value, from its description. */
export function valueSchema(p: Param<unknown>): z.ZodType {
  if (p.kind === 'choice') return z.enum(p.of as [string, ...string[]], `wants one of ${p.of!.join(', ')}`);
  if (p.kind === 'colour') return z.string().regex(/^#[0-9a-f]{6}$/i, 'wants a colour such as #ffb05a');
  if (p.kind === 'point') return z.tuple([z.number(), z.number()], 'wants two numbers');
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
    const result = schema.safeParse(value);
    if (!result.success) problems.push({ path, message: `${title} ${result.error.issues[0]!.message}.` });
  };
  for (const [name, value] of Object.entries(values)) {
    const p = effect.params[name];
    if (p) look(['values', name], valueSchema(p), p.title, value);
    else problems.push({ path: ['values', name], message: `${effect.title} has no parameter "${name}".` });
  }
  for (const [key, curve] of Object.entries(curves)) {
    const side = /^(.*)\.[xy]$/.exec(key),
      p = effect.params[side?.[1] ?? key];
    if (!p || !p.curve || (p.kind === 'point') !== (side !== null)) {
      problems.push({ path: ['curves', key], message: `${effect.title} has no parameter "${key}" that can change over time.` });
      continue;
    }
    const schema = p.kind === 'point' ? z.number() : valueSchema(p);
    for (const point of curve.points) look(['curves', key], schema, p.title, point.value);
  }
  return problems;
}
