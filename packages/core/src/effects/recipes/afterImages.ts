import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Left behind', values: {} },
  { name: 'Stamped at cues', values: { kind: 'at cues', count: 8, stands: 48, paint: 'paint', strength: 70, tint: 60, soft: 8 } },
  {
    name: 'Fan of selves',
    values: {
      kind: 'same pose',
      count: 6,
      shift: [34, 0],
      paint: 'light',
      strength: 55,
      tint: 90,
      near: '#ffe6b0',
      far: '#ff7a4a',
      fade: 1,
      soft: 3,
    },
  },
  {
    name: 'Left on the quay',
    values: {
      kind: 'left standing',
      count: 6,
      every: 9,
      stands: 40,
      paint: 'paint',
      strength: 60,
      tint: 55,
      near: '#9fb8d8',
      far: '#41527c',
      soft: 10,
    },
  },
];
