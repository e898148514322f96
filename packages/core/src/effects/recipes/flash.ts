import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Lightning far out', values: { strength: 40, colour: '#cfe0ff', fall: 16, middle: 0 }, length: 24 },
  {
    name: 'The bell is struck',
    values: { over: 'about the mount', strength: 130, reach: 520, colour: '#ffd69a', rise: 1, fall: 36 },
    length: 40,
  },
  { name: 'Caught light', values: { over: 'about the mount', strength: 60, reach: 180, colour: '#fff2d8', rise: 0, fall: 16 }, length: 16 },
];
