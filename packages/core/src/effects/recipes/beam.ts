import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Lantern answers', values: {} },
  { name: 'Thread of light', values: { core: 1.6, halo: 22, haloStrength: 40, taper: 0, travel: 14, impact: 30, flutter: 0.6 } },
  {
    name: 'Cold lamp',
    values: {
      core: 11,
      coreColour: '#f2fbff',
      halo: 130,
      haloColour: '#5db6ff',
      haloStrength: 70,
      travel: 5,
      stays: 22,
      impact: 190,
      impactStrength: 140,
      flutter: 3,
    },
    length: 30,
  },
];
