import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Eyes in the dark', values: { reach: 20, strength: 150 } },
  { name: 'Coal in the hand', values: { reach: 60, strength: 130, ragged: 110 } },
  { name: 'Sea-glass heart', values: { reach: 46, hot: '#eafff6', cool: '#2fd6a8', ragged: 40, flicker: 30 } },
];
