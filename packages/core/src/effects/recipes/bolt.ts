import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Forked at sea', values: {} },
  {
    name: 'Static between hands',
    values: {
      core: 2,
      halo: 16,
      branches: 2,
      branchLength: 20,
      every: 1,
      shows: 1,
      jagged: 34,
      flash: 0,
      strength: 120,
      haloColour: '#b98cff',
    },
  },
  {
    name: 'Slow root',
    values: {
      core: 6,
      every: 12,
      shows: 12,
      fades: 22,
      branches: 14,
      branchLength: 60,
      branchAngle: 46,
      coreColour: '#ffe8c2',
      haloColour: '#ff8f3a',
      halo: 60,
      flash: 0,
    },
  },
];
