import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { keepRecipe, listRecipes, removeRecipe, renameRecipe } from '@wraithos/contract';
import { readRecipe, type Recipe } from '@wraithos/core/recipes';
import { RecipeEntity } from '../../database/entities';
import type { Services } from '../../services';
import { notFound, Problem } from '../problem';
import { serve } from '../serve';

/** Saved effects: listed, kept, renamed, deleted. A file of one is the recipe itself, as JSON. */
export function recipeRoutes({ database: { manager } }: Services): Router {
  const router = Router();
  const nameFor = async (wanted: string, but?: string): Promise<string> => {
    const taken = new Set((await manager.find(RecipeEntity)).filter((r) => r.id !== but).map((r) => r.name));
    for (let n = 1; ; n++) {
      const name = n === 1 ? wanted : `${wanted} ${n}`;
      if (!taken.has(name)) return name;
    }
  };
  serve(router, listRecipes, async () =>
    (await manager.find(RecipeEntity, { order: { created: 'ASC' } })).map(({ id, name, recipe }) => ({
      id,
      name,
      recipe: { ...recipe, name },
    })),
  );
  serve(router, keepRecipe, async ({ body }) => {
    let recipe: Recipe;
    try {
      recipe = readRecipe(body);
    } catch (error) {
      throw new Problem(422, 'recipe', `${(error as Error).message} Nothing was kept.`);
    }
    const row = { id: randomUUID(), name: await nameFor(recipe.name), recipe, created: new Date() };
    await manager.insert(RecipeEntity, row);
    return { id: row.id, name: row.name, recipe: { ...recipe, name: row.name } };
  });
  serve(router, renameRecipe, async ({ params, body: { name } }) => {
    const found = await manager.findOneBy(RecipeEntity, { id: params.id });
    if (!found) throw notFound('This recipe');
    const fresh = await nameFor(name, found.id);
    await manager.update(RecipeEntity, { id: found.id }, { name: fresh });
    return { id: found.id, name: fresh, recipe: { ...found.recipe, name: fresh } };
  });
  serve(router, removeRecipe, async ({ params }) => {
    const { affected } = await manager.delete(RecipeEntity, { id: params.id });
    if (!affected) throw notFound('This recipe');
  });
  return router;
}
