import type { OwnRecipe } from '../describe';
import { leaves } from '../arriving';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Called by the lamp', values: { from: [0, 300], extent: 430 }, curves: leaves },
  {
    name: 'Out of sea fire',
    values: {
      from: [0, 300],
      extent: 430,
      lightColour: '#7fe9ff',
      moteColour: '#bff6ff',
      motes: 9,
      orbit: 230,
      turns: 1.1,
      blurred: 30,
      zone: 34,
    },
    curves: leaves,
  },
  {
    name: 'Quietly there',
    values: { from: [0, 300], extent: 430, motes: 0, light: 30, blurred: 34, zone: 70, ragged: 12 },
    curves: leaves,
  },
];
