import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'On a tripod', values: { enlarged: 106 } },
  { name: 'As close as it goes', values: { enlarged: 118 } },
  { name: 'Edges mended by themselves', values: { enlarged: 100, edge: 'mirror' } },
];
