import { mutate } from 'swr';
import { effectOf, laneTitles } from '@wraithos/core/effects';
import { recipeOf, type Recipe } from '@wraithos/core/recipes';
import type { Row, Shot } from '@wraithos/core/shot';
import { keepRecipe as keep, listRecipes } from '@wraithos/contract';
import { call } from '../api/client';
import { keyOf } from '../api/useRoute';

/** Keeps a recipe on the server; `tell` gets a sentence of what came of it. */
export async function keepRecipe(recipe: unknown, tell: (sentence: string) => void): Promise<void> {
  try {
    const kept = await call(keep, { body: recipe });
    // Told first: what comes of the next file must not be overtaken by this one's list.
    const lanes = effectOf(kept.recipe.effect)
      ?.lanes.map((lane) => laneTitles[lane])
      .join(', ');
    tell(`Kept the recipe "${kept.name}". Find it under Recipes in the plus of these lanes: ${lanes ?? 'none here'}.`);
    await mutate(keyOf(listRecipes));
  } catch (error) {
    tell((error as Error).message);
  }
}
export const saveRecipe = (shot: Shot, row: Row, tell: (sentence: string) => void): Promise<void> =>
  keepRecipe(recipeOf(shot, row, row.name), tell);

/** Saves a recipe as a file of the user's. */
export function exportRecipe(recipe: Recipe): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([`${JSON.stringify(recipe, null, 1)}\n`], { type: 'application/json' }));
  link.download = `${recipe.name.replace(/[^\w -]+/g, '').trim() || 'recipe'}.json`;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 1000);
}
/** Reads a file that should hold a recipe, and keeps it. */
export async function importRecipe(file: File, tell: (sentence: string) => void): Promise<void> {
  let data: unknown;
  try {
    data = JSON.parse(await file.text());
  } catch {
    tell(`${file.name} is not JSON, so it is no recipe. Nothing was kept.`);
    return;
  }
  await keepRecipe(data, tell);
}
