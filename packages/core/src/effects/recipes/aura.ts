import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Cold fire', values: { stretch: 74 } },
  {
    name: 'Paper teeth',
    values: {
      edge: 'teeth',
      pulled: 'outwards',
      stretch: 40,
      raggedSize: 30,
      ragged: 90,
      sway: 10,
      near: '#fff4d2',
      far: '#ffb43a',
      second: '#ff5d2e',
      soft: 1,
    },
  },
  {
    name: 'Veil of dusk',
    values: {
      edge: 'veil',
      stretch: 150,
      ragged: 60,
      raggedSize: 60,
      copies: 3,
      near: '#d8c7ff',
      far: '#5b3fb0',
      second: '#274b8f',
      strength: 55,
      soft: 10,
    },
  },
];
