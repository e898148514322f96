import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Moonlit', values: { amount: 45, colour: '#6f8fc0' }, lane: 'on' },
  {
    name: 'Lit from below',
    values: { with: 'gradient across', direction: -90, extent: 430, colour: '#ff9c4a', other: '#1b2444', amount: 40, clear: 60 },
    lane: 'on',
  },
  { name: 'Flat shadow', values: { colour: '#0a0d18', amount: 85 }, lane: 'on' },
];
