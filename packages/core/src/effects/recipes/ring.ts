import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  {
    name: 'Tide ring on the planks',
    values: { place: [0, 190], radius: 190, line: 4, halo: 60, near: '#e6fff6', far: '#3fb7a0', dashes: 0 },
    curves: {
      drawnTo: [
        [0, 0],
        [18, 100],
      ],
    },
  },
  { name: 'Compass door', values: { tilt: 0, radius: 210, dashes: 32, spin: 34, line: 7, inner: 4 }, lane: 'behind' },
  { name: 'About the hand', values: { radius: 42, line: 2.5, halo: 18, tilt: 58, swing: 18, spin: 160, dashes: 9 }, lane: 'front' },
];
