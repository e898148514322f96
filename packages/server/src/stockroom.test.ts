import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Imported, StockItem } from '@wraithos/contract';
import { STRIP_TILES } from '@wraithos/core/render';
import { TestServer } from '../test/harness';
import { sweep } from './folder/sweep';

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()), 60_000);
afterAll(() => server.end(), 60_000);
const list = async () => (await server.api().get('/api/stockroom').expect(200)).body as StockItem[];

test('our elements are listed without reading them; each has a moving thumbnail', async () => {
  const items = await list(),
    index = JSON.parse(await readFile(join(process.cwd(), 'packages', 'demo', 'media', 'stockroom', 'index.json'), 'utf8')) as {
      id: string;
    }[];
  expect(items.map((i) => i.id)).toEqual(index.map((i) => i.id));
  expect(items.length).toBeGreaterThanOrEqual(8);
  for (const item of items) {
    const strip = await server.api().get(`/api/stockroom/${item.id}/strip`).buffer(true).expect(200).expect('Content-Type', /png/),
      { width, height, hasAlpha } = await sharp(strip.body as Buffer).metadata();
    expect([item.id, width! / STRIP_TILES, height, hasAlpha]).toEqual([item.id, 192, 108, true]);
  }
  await server.api().get('/api/stockroom/attic/strip').expect(404);
}, 60_000);

test('one that is used comes into the store, once', async () => {
  const first = (await server.api().post('/api/stockroom/spark/use').expect(200)).body as Imported,
    again = (await server.api().post('/api/stockroom/spark/use').expect(200)).body as Imported;
  expect(again.hash).toBe(first.hash);
  expect(first).toMatchObject({ name: 'Spark', info: { width: 192, height: 192, frames: 36, alpha: true } });
  await server.api().get(`/api/media/${first.hash}/frames/35`).expect(200);
  await server.api().post('/api/stockroom/attic/use').expect(404);
}, 60_000);

test('a clip is kept as an element of one’s own: it is listed, stays while it is kept, and goes when it is removed', async () => {
  const { hash } = (await server.api().post('/api/stockroom/water-drops/use').expect(200)).body as Imported,
    kept = (await server.api().post('/api/stockroom').send({ hash, name: 'My rain', loops: true, light: false }).expect(201))
      .body as StockItem;
  expect((await list()).at(-1)).toEqual(kept);
  expect(kept).toMatchObject({ own: true, loops: true, width: 640, frames: 32 });
  await server.api().get(`/api/stockroom/${kept.id}/strip`).expect(200);
  expect((await server.api().post(`/api/stockroom/${kept.id}/use`).expect(200)).body).toMatchObject({ hash, name: 'My rain' });
  // In the bin for longer than its time, it stays as long as somebody has it in the stockroom.
  await server.api().delete(`/api/media/${hash}`).expect(204);
  await sweep(server.services, false, Date.now() + 40 * 86_400_000);
  await server.api().get(`/api/media/${hash}/frames/0`).expect(200);
  await server.api().delete(`/api/stockroom/${kept.id}`).expect(204);
  await server.api().delete(`/api/stockroom/${kept.id}`).expect(404);
  await server
    .api()
    .post('/api/stockroom')
    .send({ hash: 'f'.repeat(64), name: 'Ghost', loops: false, light: false })
    .expect(404);
  await server.api().post('/api/stockroom').send({ hash, name: '', loops: false, light: false }).expect(400);
}, 60_000);
