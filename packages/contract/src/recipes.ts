import { z } from 'zod';
import { readRecipe } from '@wraithos/core/recipes';
import { name } from './common';
import { route } from './route';

/** A recipe of any version, read and brought up to date. */
const recipe = z.unknown().transform((data, context) => {
  try {
    return readRecipe(data);
  } catch (error) {
    context.addIssue({ code: 'custom', message: (error as Error).message });
    return z.NEVER;
  }
});
export const savedRecipe = z.object({ id: z.string(), name: z.string(), recipe });
export type SavedRecipe = z.infer<typeof savedRecipe>;

export const listRecipes = route({ method: 'GET', path: '/recipes', answer: z.array(savedRecipe) });
/** Keeps a recipe; one that is not valid is refused with 422. */
export const keepRecipe = route({ method: 'POST', path: '/recipes', body: z.unknown(), answer: savedRecipe, status: 201 });
export const renameRecipe = route({
  method: 'PATCH',
  path: '/recipes/:id',
  body: z.object({ name: name }),
  answer: savedRecipe,
});
export const removeRecipe = route({ method: 'DELETE', path: '/recipes/:id' });
