import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Over the lantern', values: { by: 'heat haze', strength: 5, size: 26, speed: 3, radius: 150 } },
  {
    name: 'Bell on the water',
    values: { by: 'ripple', strength: 9, size: 46, speed: 7, radius: 380 },
    curves: {
      strength: [
        [0, 9],
        [40, 0],
      ],
    },
    length: 44,
  },
  { name: 'The charge goes off', values: { by: 'shock ring', strength: 26, size: 60, speed: 18, radius: 520 }, length: 30 },
  { name: 'Heat about the body', values: { by: 'heat haze', strength: 7, size: 34, speed: 4, radius: 0, aroundBody: 90 } },
  {
    name: 'Through old glass',
    values: { by: 'a matte', strength: 14, size: 24, radius: 0, dispersion: 35 },
  },
];
