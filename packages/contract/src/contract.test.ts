import { newShot } from '@wraithos/core/shot';
import * as contract from './index';
import { addressOf, document, frameHeader, readFrame, serverEvent, type Route } from './index';

const routes = Object.entries(contract as Record<string, unknown>).filter(
  (entry): entry is [string, Route] => typeof entry[1] === 'object' && entry[1] !== null && 'method' in entry[1] && 'path' in entry[1],
);

test('an address has its parameters in place, escaped, and its query', () => {
  expect(addressOf(contract.openShot, { id: 'a/b' })).toBe('/shots/a%2Fb');
  expect(addressOf(contract.changesSince, { id: 'a', revision: '7' })).toBe('/shots/a/since/7');
  expect(addressOf(contract.listJobs, undefined, { shot: 'x y' })).toBe('/jobs?shot=x+y');
  expect(addressOf(contract.listJobs, undefined, { shot: undefined })).toBe('/jobs');
});

test('no two routes are the same request, and each answer has a status', () => {
  expect(routes.length).toBeGreaterThan(30);
  expect(new Set(routes.map(([, r]) => `${r.method} ${r.path}`)).size).toBe(routes.length);
  for (const [name, r] of routes) if (r.status) expect([name, !!r.answer]).toEqual([name, true]);
});

test('a frame comes back as it was sent, and a broken one is refused', () => {
  const codes = Uint16Array.from({ length: 2 * 3 * 3 }, (_, i) => i * 1000),
    header = frameHeader({ width: 2, height: 3, channels: 3, bits: 16 }),
    sent = new Uint8Array(header.length + codes.byteLength);
  sent.set(header);
  sent.set(new Uint8Array(codes.buffer), header.length);
  expect(readFrame(sent.buffer)).toEqual({ width: 2, height: 3, channels: 3, bits: 16, data: codes });
  expect(() => readFrame(sent.buffer.slice(0, 30))).toThrow('broken frame');
  expect(() => readFrame(new ArrayBuffer(4))).toThrow('no frame');
  sent[0] = 0;
  expect(() => readFrame(sent.buffer)).toThrow('no frame');
});

test('a document is brought up to date while it is read, and what is none says where', () => {
  const shot = newShot({ code: 'HT_010', width: 64, height: 36, rate: { num: 24, den: 1 }, frames: 10 });
  const { base: _, ...old } = shot;
  expect(document.parse(JSON.parse(JSON.stringify({ ...old, base: null, version: 1 })))).toEqual({
    ...shot,
    // A shot without a clip was black.
    base: {
      ...shot.base,
      // Nothing that was drawn was made to look filmed.
      match: { grain: 0, edges: 'as they are drawn' },
      ground: { clip: null, values: { ...shot.base.ground.values, ground: 'colour', colour: '#000000' } },
    },
  });
  expect(document.safeParse({ ...shot, last: 5 }).error!.issues[0]!.message).toMatch(/not valid at last/);
});

test('patches that reach past a document are refused', () => {
  const edit = (path: (string | number)[]) => contract.patch.safeParse({ op: 'add', path, value: 1 }).success;
  expect(edit(['rows', 'r1', 'opacity'])).toBe(true);
  for (const name of ['__proto__', 'constructor', 'prototype']) expect(edit(['rows', name])).toBe(false);
});

test('what an event does not know is refused', () => {
  expect(serverEvent.safeParse({ type: 'shot', id: 'a', revision: 3 }).success).toBe(true);
  expect(serverEvent.safeParse({ type: 'shot', id: 'a' }).success).toBe(false);
  expect(serverEvent.safeParse({ type: 'rain' }).success).toBe(false);
});
