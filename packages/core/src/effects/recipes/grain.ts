import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'As the plate has it', values: {} },
  { name: 'Pushed two stops', values: { amount: 200, on: 'everything' } },
  { name: 'A breath of it', values: { amount: 60 } },
];
