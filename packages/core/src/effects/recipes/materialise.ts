import type { OwnRecipe } from '../describe';
import { leaves } from '../arriving';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Called by the lamp', values: { from: [0, 300], extent: 430, onGround: 60 }, curves: leaves },
  {
    name: 'Out of sea fire',
    values: {
      from: [0, 300],
      extent: 430,
      lightColour: '#7fe9ff',
      moteColour: '#bff6ff',
      motes: 24,
      bright: 60,
      rings: 20,
      orbit: 230,
      turns: 1.1,
      blurred: 30,
      onGround: 80,
      inAir: 10,
      zone: 34,
    },
    curves: leaves,
  },
  {
    name: 'Put together',
    values: {
      from: [0, 300],
      extent: 430,
      motes: 34,
      bright: 0,
      own: 100,
      rings: 70,
      turns: 0.9,
      orbit: 110,
      size: 3.4,
      streak: 0,
      light: 15,
    },
    curves: leaves,
  },
  {
    name: 'Quietly there',
    values: { from: [0, 300], extent: 430, motes: 0, light: 30, bodyLight: 100, blurred: 34, zone: 70, ragged: 12 },
    curves: leaves,
  },
];
