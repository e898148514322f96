import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { ownRecipes, type Recipe } from '@wraithos/core/recipes';
import { open, type Opened } from './open';

let root = '',
  app: Opened;
const unexpected: unknown[] = [];
const start = () =>
  open({
    root,
    port: 0,
    webFolder: null,
    workFile: join(process.cwd(), 'dist', 'server', 'work.mjs'),
    demoFolder: null,
    stockFolder: null,
    log: (error: unknown) => unexpected.push(error),
  });
beforeAll(async () => {
  root = await mkdtemp(join(tmpdir(), 'wraithos-recipes-'));
  app = await start();
}, 60_000);
afterAll(async () => {
  await app?.close();
  await rm(root, { recursive: true, force: true });
  expect(unexpected).toEqual([]);
}, 60_000);
const api = () => request(app.server);
interface Saved {
  id: string;
  name: string;
  recipe: Recipe;
}
const list = async () => (await api().get('/api/recipes').expect(200)).body as Saved[];

test('recipes are kept, listed in their order, renamed and deleted; a name is there once', async () => {
  expect(await list()).toEqual([]);
  const [one, two] = [ownRecipes[0]!, ownRecipes[5]!],
    first = (await api().post('/api/recipes').send(one).expect(201)).body as Saved,
    second = (await api().post('/api/recipes').send(two).expect(201)).body as Saved,
    again = (await api().post('/api/recipes').send(one).expect(201)).body as Saved;
  expect(first.recipe).toEqual(one);
  expect(again.name).toBe(`${one.name} 2`);
  expect((await list()).map((r) => r.id)).toEqual([first.id, second.id, again.id]);
  const renamed = (await api().patch(`/api/recipes/${second.id}`).send({ name: one.name }).expect(200)).body as Saved;
  expect(renamed.name).toBe(`${one.name} 3`);
  expect(renamed.recipe.name).toBe(renamed.name);
  // Its own name is no other's.
  expect(((await api().patch(`/api/recipes/${first.id}`).send({ name: one.name }).expect(200)).body as Saved).name).toBe(one.name);
  await api().delete(`/api/recipes/${again.id}`).expect(204);
  await api().delete(`/api/recipes/${again.id}`).expect(404);
  await api().patch(`/api/recipes/${again.id}`).send({ name: 'x' }).expect(404);
  expect(await list()).toHaveLength(2);
});
test('what is no recipe is turned away in a sentence, and nothing is kept', async () => {
  const before = await list();
  for (const [body, words] of [
    [{}, /not a recipe/],
    [{ ...ownRecipes[0], values: { density: -5 } }, /Flakes wants a number/],
    [{ ...ownRecipes[0], name: '' }, /needs a name/],
  ] as const) {
    const { body: problem } = await api().post('/api/recipes').send(body).expect(422);
    expect((problem as { detail: string }).detail).toMatch(words);
    expect((problem as { detail: string }).detail).toMatch(/Nothing was kept/);
  }
  await api().patch(`/api/recipes/${before[0]!.id}`).send({ name: '  ' }).expect(400);
  expect(await list()).toEqual(before);
});
test('they are there after a restart', async () => {
  const before = await list();
  await app.close();
  app = await start();
  expect(await list()).toEqual(before);
}, 60_000);
