import type { OwnRecipe } from '../describe';

/** Recipes of this effect that come with Wraithos: lengths and offsets for a subject 430 px tall. */
export const recipes: readonly OwnRecipe[] = [
  { name: 'Lamp in the lens', values: {} },
  { name: 'Cold streak', values: { reach: 70, rays: 0, streak: 760, ghosts: 8, colour: '#dfeaff', streakColour: '#4f9bff' } },
  { name: 'Salt on the glass', values: { dirt: 150, rays: 20, streak: 160, ghosts: 6, reach: 170, strength: 60 } },
  { name: 'Harbour star', values: { reach: 150, rays: 120, rayCount: 6, streak: 0, ghosts: 0, strength: 60 } },
];
