import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'By moonlight', values: { exposure: -0.8, warmth: -38, saturation: 62, contrast: 112 } },
  { name: 'By lamplight', values: { exposure: 0.15, warmth: 42, tint: 4, saturation: 112, contrast: 106 } },
  { name: 'Drained to ash', values: { saturation: 14, lift: 3, contrast: 88, warmth: 6 }, lane: 'on' },
];
