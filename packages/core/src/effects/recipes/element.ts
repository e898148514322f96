import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Loop without a seam', values: { playback: 'loops, crossfaded', overlap: 16 } },
  { name: 'Lying on the ground', values: { tilt: 74, place: [0, 200], playback: 'loops' } },
  { name: 'Left behind in the world', values: { carried: 'stays where it began' } },
];
