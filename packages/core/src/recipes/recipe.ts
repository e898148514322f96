import { z } from 'zod';
import { blendNames } from '../image/blend';
import { effectOf, isTimed, lanes, valueProblems, type Lane, type Param, type StoredValue } from '../effects';
import { newRow } from '../shot/create';
import { upgradeMade } from '../shot/migrate';
import { heightOf } from '../shot/drawn';
import { settledCurves } from '../shot/hungCurves';
import { sentenceOf, wordsOf } from '../words';
import { curveSchema } from '../shot/fields';
import { treatmentSchema, type Row, type Shot } from '../shot/schema';

const stored = z.union([z.number().finite(), z.string().max(400), z.tuple([z.number().finite(), z.number().finite()])]);

/**
 * A saved effect, to be used on any mount of any shot. Lengths and offsets are shares of the subject's height (1 is as tall as it), so that it fits
 * another shot; places, tracks and mattes are no part of it.
 */
export const recipeSchema = z.object({
  kind: z.literal('wraithos recipe'),
  version: z.literal(1),
  name: z.string().trim().min(1, 'A recipe needs a name.').max(120),
  effect: z.string().min(1).max(60),
  effectVersion: z.number().int().min(1),
  lane: z.enum(lanes as [string, ...string[]]),
  opacity: z.number().min(0).max(100),
  blend: z.enum(blendNames),
  /** How long it lasts, frames; null is to the end of the shot. */
  length: z.number().int().min(1).max(1_000_000).nullable(),
  values: z.record(z.string(), stored),
  curves: z.record(z.string(), curveSchema),
  treatments: z.array(treatmentSchema.omit({ id: true })).max(20),
});
export type Recipe = z.infer<typeof recipeSchema>;

/** Pixels to a thousandth; shares of a height so fine that they come back to the same pixels. */
const rounded = (value: number, pixels: boolean): number => {
  const steps = pixels ? 1000 : 10_000_000;
  return Math.round(value * steps) / steps;
};
function scaled(p: Param<unknown>, value: StoredValue, k: number, pixels: boolean): StoredValue {
  if (p.kind === 'point') return (value as [number, number]).map((v) => rounded(v * k, pixels)) as [number, number];
  if (p.kind !== 'length') return value;
  // As shares, lengths are small numbers of no range.
  const [low, high] = pixels && p.range ? p.range : [-Infinity, Infinity];
  return rounded(Math.min(high, Math.max(low, (value as number) * k)), pixels);
}
/** Values and curves times `k`: from shares to pixels, or from pixels to shares. */
function scaledAll(
  effect: string,
  values: Row['values'],
  curves: Row['curves'],
  k: number,
  pixels: boolean,
): Pick<Row, 'values' | 'curves'> {
  const params = effectOf(effect)?.params ?? {},
    out: Pick<Row, 'values' | 'curves'> = { values: {}, curves: {} };
  for (const [name, value] of Object.entries(values)) {
    const p = params[name];
    if (p) out.values[name] = scaled(p, value as StoredValue, k, pixels) as Row['values'][string];
  }
  for (const [key, curve] of Object.entries(curves)) {
    const p = params[key.replace(/\.[xy]$/, '')];
    if (!p) continue;
    // One side of a point is a length without a range.
    const one: Param<unknown> = p.kind === 'point' ? { ...p, kind: 'length', range: undefined } : p;
    // No cue is known where it goes.
    out.curves[key] = { points: curve.points.map(({ cue: _, ...q }) => ({ ...q, value: scaled(one, q.value, k, pixels) as number })) };
  }
  return out;
}
const treatmentsScaled = <T extends { effect: string; values: Row['values'] }>(list: readonly T[], k: number, pixels: boolean): T[] =>
  list.map((t) => ({ ...t, values: scaledAll(t.effect, t.values, {}, k, pixels).values }));

/** Values, curves, twins and treatments of a row with all lengths times `k`, each kept within its range. */
export function scaledRow(row: Row, k: number): Pick<Row, 'values' | 'curves' | 'twins' | 'treatments'> {
  return {
    ...scaledAll(row.effect, row.values, row.curves, k, true),
    twins: row.twins.map((t) => ({ ...t, values: scaledAll(row.effect, t.values, {}, k, true).values })),
    treatments: treatmentsScaled(row.treatments, k, true),
  };
}

/** A row as a recipe of this name. */
export function recipeOf(shot: Shot, row: Row, name: string): Recipe {
  const k = 1 / heightOf(shot, row.subject),
    { values, curves } = scaledAll(row.effect, row.values, settledCurves(shot, row), k, false),
    last = row.start + row.length - 1;
  return {
    kind: 'wraithos recipe',
    version: 1,
    name,
    effect: row.effect,
    effectVersion: row.version,
    lane: row.lane,
    opacity: row.opacity,
    blend: row.blend,
    length: last >= shot.last && row.cue === null ? null : row.length,
    values,
    curves,
    treatments: treatmentsScaled(row.treatments, k, false).map(({ id: _, ...t }) => t),
  };
}

/** The row that a recipe makes on a shot: for its own subject's height, at a frame. @throws Error in plain words where its effect is not known. */
export function rowFromRecipe(
  shot: Shot,
  recipe: Recipe,
  o: { id: string; subject: string | null; mount: string | null; frame: number },
): Row {
  const effect = effectOf(recipe.effect);
  if (!effect) throw new Error(`The recipe "${recipe.name}" uses an effect that is not known here ("${recipe.effect}").`);
  if (recipe.effectVersion > effect.version) throw new Error(`The recipe "${recipe.name}" was made by a newer version.`);
  const k = heightOf(shot, o.subject),
    { values, curves } = scaledAll(recipe.effect, recipe.values as Row['values'], recipe.curves, k, true),
    lane = recipe.lane as Lane,
    ofSubject = lane === 'on' || lane === 'front' || lane === 'behind',
    // Without a subject there is nothing to stand on.
    stands: Lane = ofSubject && !o.subject ? (effect.lanes.includes('foreground') ? 'foreground' : effect.lanes[0]!) : lane,
    row = newRow(shot, { id: o.id, effect: recipe.effect, lane: stands, subject: ofSubject ? o.subject : null, mount: o.mount }),
    begins = recipe.length !== null || isTimed(effect) || Object.keys(recipe.curves).length > 0,
    start = begins ? o.frame : shot.first;
  return {
    ...row,
    name: recipe.name,
    start,
    length: Math.max(1, Math.min(recipe.length ?? Infinity, shot.last - start + 1)),
    opacity: recipe.opacity,
    blend: recipe.blend,
    values: { ...row.values, ...values },
    curves,
    treatments: treatmentsScaled(recipe.treatments, k, true).map((t, i) => ({ ...t, id: `t${i + 1}` })),
  };
}

/** A recipe with its values, curves and treatments as the effects of this version have them. */
const upgraded = ({ effectVersion, ...recipe }: Recipe): Recipe => {
  const { version, ...rest } = upgradeMade({ ...recipe, version: effectVersion });
  return { ...rest, version: 1, effectVersion: version };
};
/** A recipe from unknown data, brought up to date. @throws an Error that says what is wrong with it. */
export function readRecipe(data: unknown): Recipe {
  const result = recipeSchema.transform(upgraded).safeParse(data, { error: wordsOf });
  if (!result.success)
    throw new Error(
      `This is not a recipe of Wraithos: ${sentenceOf(result.error).field || 'its root'}: ${result.error.issues[0]!.message}`,
    );
  const effect = effectOf(result.data.effect);
  if (effect) {
    // Shares of a height have no range of their own; everything else has.
    const checked = scaledAll(result.data.effect, result.data.values as Row['values'], result.data.curves, 400, true),
      problem = valueProblems(effect, checked.values, checked.curves)[0];
    if (problem) throw new Error(`The recipe "${result.data.name}" is not valid at ${problem.path.join('.')}: ${problem.message}`);
  }
  return result.data;
}
