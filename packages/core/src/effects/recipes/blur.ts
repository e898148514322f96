import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Out of focus', values: { kind: 'even', radius: 12 } },
  { name: 'Rush past', values: { kind: 'along', length: 46, direction: 0 } },
  { name: 'Edges of the plate', values: { kind: 'as soft as the plate' } },
  { name: 'Soft breath', values: { kind: 'even', radius: 4 } },
];
