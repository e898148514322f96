import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Lantern bloom', values: {} },
  { name: 'Wide haze', values: { reach: 260, strength: 30 } },
  { name: 'Hot edge', values: { reach: 18, strength: 120 } },
];
