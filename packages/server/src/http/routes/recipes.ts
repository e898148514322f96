import { randomUUID } from 'node:crypto';
import { Router } from 'express';
import { z } from 'zod';
import { readRecipe, type Recipe } from '@wraithos/core/recipes';
import { RecipeEntity } from '../../database/entities';
import type { Services } from '../../services';
import { check, notFound, Problem } from '../problem';

const nameBody = z.object({ name: z.string().trim().min(1, 'A recipe needs a name.').max(120) });

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
  router.get('/recipes', async (_, response) => {
    response.json(
      (await manager.find(RecipeEntity, { order: { created: 'ASC' } })).map(({ id, name, recipe }) => ({
        id,
        name,
        recipe: { ...recipe, name },
      })),
    );
  });
  router.post('/recipes', async (request, response) => {
    let recipe: Recipe;
    try {
      recipe = readRecipe(request.body);
    } catch (error) {
      throw new Problem(422, 'recipe', `${(error as Error).message} Nothing was kept.`);
    }
    const row = { id: randomUUID(), name: await nameFor(recipe.name), recipe, created: new Date() };
    await manager.insert(RecipeEntity, row);
    response.status(201).json({ id: row.id, name: row.name, recipe: { ...recipe, name: row.name } });
  });
  router.patch('/recipes/:id', async (request, response) => {
    const { name } = check(nameBody, request.body),
      found = await manager.findOneBy(RecipeEntity, { id: request.params.id });
    if (!found) throw notFound('This recipe');
    const fresh = await nameFor(name, found.id);
    await manager.update(RecipeEntity, { id: found.id }, { name: fresh });
    response.json({ id: found.id, name: fresh, recipe: { ...found.recipe, name: fresh } });
  });
  router.delete('/recipes/:id', async (request, response) => {
    const { affected } = await manager.delete(RecipeEntity, { id: request.params.id });
    if (!affected) throw notFound('This recipe');
    response.status(204).end();
  });
  return router;
}
