import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Live coat', values: {} },
  {
    name: 'Cracked ember',
    values: {
      cell: 20,
      width: 2.8,
      crawl: 0.15,
      lit: 80,
      hold: 6,
      core: '#ffd9a0',
      haloColour: '#ff5a14',
      haloStrength: 130,
      strength: 110,
    },
  },
  { name: 'Fine nerves', values: { cell: 12, width: 1, crawl: 3, lit: 30, hold: 1, halo: 8, core: '#f6efff', haloColour: '#a06bff' } },
];
