import { get, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import * as contract from '@wraithos/contract';
import { serverEvent, type Route, type ServerEvent } from '@wraithos/contract';
import { ownRecipes } from '@wraithos/core/recipes';
import { addCue } from '@wraithos/core/shot';
import { later, png, TestServer } from '../test/harness';

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()), 60_000);
afterAll(async () => {
  await server?.end();
  expect(server.unexpected).toEqual([]);
}, 60_000);

const routes = Object.values(contract as Record<string, unknown>).filter(
  (entry): entry is Route => typeof entry === 'object' && entry !== null && 'method' in entry && 'path' in entry,
);

test('every route of the contract is answered by the server', async () => {
  for (const { method, path } of routes) {
    const address = `/api${path.replace(/:(hash)/g, '0'.repeat(64)).replace(/:\w+/g, '1')}`,
      verb = method.toLowerCase() as 'get' | 'post' | 'patch' | 'delete',
      request = server.api()[verb](address),
      { body, status } = await request.send(method === 'GET' ? undefined : {});
    // Nothing of these names is there, and many bodies are empty: but it is the route that says so.
    expect(`${method} ${path}: ${(body as { detail?: string }).detail ?? status}`).not.toContain('There is nothing at');
  }
});

test('answers can be read through their own schemas', async () => {
  const hash = await server.medium(await png(120), 'still.png'),
    { body: made } = await server
      .api()
      .post('/api/shots')
      .send({ production: server.production, code: 'HT_800', medium: hash })
      .expect(201),
    id = contract.addShot.answer!.parse(made).id;
  await server.save(id, addCue('q1', 'strike', 1001));
  await server.api().post('/api/recipes').send(ownRecipes[0]!).expect(201);
  const answers: [Route, string][] = [
    [contract.listProductions, '/api/productions'],
    [contract.listShots, '/api/shots'],
    [contract.openShot, `/api/shots/${id}`],
    [contract.changesSince, `/api/shots/${id}/since/1`],
    [contract.heldClips, `/api/shots/${id}/clips`],
    [contract.listJobs, '/api/jobs'],
    [contract.listRecipes, '/api/recipes'],
    [contract.getRoom, '/api/room'],
    [contract.getHealth, '/api/health'],
  ];
  for (const [{ answer }, path] of answers) {
    const { body } = await server.api().get(path).expect(200),
      result = answer!.safeParse(body);
    expect([path, result.error?.issues]).toEqual([path, undefined]);
    expect(JSON.stringify(body).length).toBeGreaterThan(2);
  }
});

/** A page that listens, and all that it has heard. */
async function listen(): Promise<{ heard: ServerEvent[]; text: () => string; end(): void }> {
  const { port } = server.app.server.address() as AddressInfo,
    heard: ServerEvent[] = [];
  let text = '';
  const response = await new Promise<IncomingMessage>((ready, fail) =>
    get({ host: '127.0.0.1', port, path: '/api/events', headers: { Host: `127.0.0.1:${port}` } }, ready).on('error', fail),
  );
  expect(response.headers['content-type']).toBe('text/event-stream');
  response.setEncoding('utf8').on('data', (part: string) => {
    text += part;
    for (const line of part.split('\n')) if (line.startsWith('data: ')) heard.push(serverEvent.parse(JSON.parse(line.slice(6))));
  });
  return { heard, text: () => text, end: () => response.destroy() };
}
const until = async (what: () => boolean) => {
  for (let i = 0; i < 100 && !what(); i++) await later(50);
  expect(what()).toBe(true);
};

test('events tell what happened in ids and numbers, each once for a moment, and to every listener', async () => {
  const one = await listen(),
    two = await listen();
  await until(() => server.services.events.count === 2);
  const id = await server.newShot('HT_810');
  await until(() => one.heard.some((e) => e.type === 'shots'));
  for (let i = 0; i < 5; i++) await server.save(id, addCue(`q${i}`, `cue ${i}`, 1001));
  await until(() => one.heard.some((e) => e.type === 'shot' && e.id === id && e.revision === 6));
  await server.medium(await png(30), 'other.png');
  await until(() => one.heard.some((e) => e.type === 'job' && e.state === 'done'));
  // No document and no result travels with them.
  expect(one.text()).not.toContain('"document"');
  expect(one.text()).not.toContain('"result"');
  await until(() => two.heard.length === one.heard.length);
  expect(two.heard).toEqual(one.heard);
  one.end();
  await until(() => server.services.events.count === 1);
  two.end();
  await until(() => server.services.events.count === 0);
});

test('what happens within a moment goes out together, of one thing only the newest', async () => {
  const page = await listen();
  await until(() => server.services.events.count === 1);
  for (let revision = 1; revision <= 50; revision++) server.services.events.send({ type: 'shot', id: 'x', revision });
  server.services.events.send({ type: 'disk', level: 'low' });
  await until(() => page.heard.length >= 2);
  expect(page.heard).toEqual([
    { type: 'shot', id: 'x', revision: 50 },
    { type: 'disk', level: 'low' },
  ]);
  page.end();
});
