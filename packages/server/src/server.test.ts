import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { addClip, addCue, applyEdit, DOCUMENT_VERSION, plainReading, setValue, type Edit, type NewClip } from '@wraithos/core/shot';
import { changeOf, film as makeFilm, later, optionsFor, png, TestServer } from '../test/harness';
import { Medium, Revision } from './database/entities';
import { open, type Opened } from './open';

let server: TestServer, root: string, app: Opened, production: string;
const api = () => server.api();
const newShot = (code: string, more: object = {}) => server.newShot(code, more);
const opened = (id: string) => server.opened(id);
const save = (id: string, edit: Edit, base?: number) => server.save(id, edit, base);
const over = (id: string) => server.over(id);
const send = (files: [string | Buffer, string][]) => server.send(files);

beforeAll(async () => {
  server = await TestServer.start();
  ({ root, app, production } = server);
}, 60_000);
afterAll(async () => {
  await server?.end();
  expect(server.unexpected).toEqual([]);
}, 60_000);

describe('the door', () => {
  test('pages are isolated, and nothing is served to other sites', async () => {
    const { headers } = await api().get('/api/health').expect(200);
    expect(headers).toMatchObject({
      'cross-origin-opener-policy': 'same-origin',
      'cross-origin-embedder-policy': 'require-corp',
      'x-content-type-options': 'nosniff',
    });
    expect(headers['content-security-policy']).toContain("default-src 'self'");
    await api().get('/api/shots').set('Host', 'evil.example').expect(403);
    await api().post('/api/productions').set('Origin', 'http://evil.example').send({ name: 'x' }).expect(403);
    expect((app.server.address() as { address: string }).address).toBe('127.0.0.1');
  });
  test.each([
    ['POST', '/api/shots', { production: 'x', code: ' ' }, 400, 'invalid', 'code'],
    ['POST', '/api/shots', { production: 'x', code: 'A', width: 9000 }, 400, 'invalid', 'width'],
    ['POST', '/api/shots', { production: 'nobody', code: 'A' }, 404, 'not-found', undefined],
    ['GET', '/api/shots/nobody', undefined, 404, 'not-found', undefined],
    ['GET', '/api/nothing', undefined, 404, 'not-found', undefined],
    ['GET', '/api/media/abc/frames/0', undefined, 400, 'invalid', 'hash'],
    ['GET', `/api/media/${'0'.repeat(64)}/frames/0`, undefined, 404, 'no-frame', undefined],
    ['GET', `/api/samples/${'0'.repeat(64)}`, undefined, 404, 'not-found', undefined],
    ['POST', '/api/samples', [{ frame: 0, x: 'left' }], 400, 'invalid', undefined],
    ['DELETE', '/api/jobs/nobody', undefined, 404, 'not-found', undefined],
  ] as const)('%s %s with %j answers a problem: %i %s', async (method, path, body, status, type, field) => {
    const call =
      method === 'GET'
        ? api().get(path)
        : method === 'POST'
          ? api()
              .post(path)
              .send(body as object)
          : api().delete(path);
    const answer = await call.expect(status).expect('Content-Type', /application\/problem\+json/);
    expect(answer.body).toMatchObject({ type: `/problems/${type}`, status });
    expect(answer.body.detail).toMatch(/^[A-Z].*\.$|^\w+[.:]/);
    if (field) expect(answer.body.field).toBe(field);
  });
  test('what is no JSON, or too long, is refused in a sentence', async () => {
    const answer = await api().post('/api/productions').set('Content-Type', 'application/json').send('{"name":').expect(400);
    expect(answer.body.detail).toBe('The request is not JSON.');
    await api()
      .post('/api/productions')
      .set('Content-Type', 'application/json')
      .send(`{"name":"${'x'.repeat(33 * 2 ** 20)}"}`)
      .expect(413);
  });
});

describe('shots', () => {
  test('are made, renamed, duplicated, deleted and brought back', async () => {
    const id = await newShot('HT_010');
    expect((await api().patch(`/api/shots/${id}`).send({ code: 'HT_011' }).expect(200)).body).toMatchObject({
      code: 'HT_011',
      revision: 2,
    });
    const copy = (await api().post(`/api/shots/${id}/duplicate`).expect(201)).body as { id: string; code: string };
    expect(copy.code).toBe('HT_011 copy');
    await api().delete(`/api/shots/${id}`).expect(204);
    await api().get(`/api/shots/${id}`).expect(404);
    expect(((await api().get(`/api/shots?production=${production}`)).body as { id: string }[]).map((s) => s.id)).not.toContain(id);
    await api().post(`/api/shots/${id}/restore`).expect(200);
    expect((await opened(id)).document.code).toBe('HT_011');
  });
  test('edits build on the newest revision; an older one is told what it missed, and nothing is stored', async () => {
    const id = await newShot('HT_020'),
      { revision } = await opened(id);
    expect((await save(id, addCue('q1', 'strike', 1003))).body).toEqual({ revision: revision + 1 });
    const stale = await save(id, addCue('q2', 'echo', 1005), revision);
    expect(stale.status).toBe(409);
    expect(stale.body).toMatchObject({ type: '/problems/stale', revision: revision + 1, missed: [{ name: 'Add cue' }] });
    const now = await opened(id);
    expect([Object.keys(now.document.cues), now.history.map((h) => h.name)]).toEqual([['q1'], ['Add cue']]);
  });
  test('of two saves at once on one revision exactly one wins', async () => {
    const id = await newShot('HT_021'),
      { revision } = await opened(id);
    const answers = await Promise.all(['a', 'b', 'c'].map((q, i) => save(id, addCue(q, q, 1001 + i), revision)));
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409, 409]);
    expect(Object.keys((await opened(id)).document.cues)).toHaveLength(1);
  });
  test('an edit that gives no valid shot, or reaches for prototypes, is refused whole', async () => {
    const id = await newShot('HT_022'),
      { document, revision } = await opened(id),
      fine = changeOf(document, addCue('q1', 'strike', 1003));
    const send = (edits: object[]) => api().post(`/api/shots/${id}/edits`).send({ base: revision, edits });
    const bad = { name: 'Break', kind: 'do', patches: [{ op: 'replace', path: ['last'], value: 'never' }], inverse: [] };
    expect((await send([fine, bad]).expect(422)).body.detail).toMatch(/^"Break" does not give a valid shot: .*last/);
    await send([{ ...bad, patches: [{ op: 'add', path: ['__proto__', 'polluted'], value: 1 }] }]).expect(400);
    await send([{ ...bad, patches: [{ op: 'replace', path: ['rows', 'nobody', 'name'], value: 'x' }] }]).expect(422);
    expect(await opened(id)).toMatchObject({ revision, history: [] });
    expect(({} as Record<string, unknown>).polluted).toBeUndefined();
  });
  test('every fiftieth revision holds a snapshot, so that a log never grows without one', async () => {
    const id = await newShot('HT_023');
    let { document, revision } = await opened(id);
    const edits = [];
    for (let i = 0; i < 55; i++) {
      const edit = addCue(`q${i}`, `cue ${i}`, 1001);
      edits.push(changeOf(document, edit));
      document = applyEdit(document, edit).shot;
    }
    revision = ((await api().post(`/api/shots/${id}/edits`).send({ base: revision, edits }).expect(200)).body as { revision: number })
      .revision;
    const rows = await app.services.database.manager.find(Revision, { where: { shotId: id }, order: { revision: 'ASC' } });
    expect(rows.filter((r) => r.snapshot).map((r) => r.revision)).toEqual([1, 50]);
    expect([rows.length, revision]).toEqual([56, 56]);
  });
  test('a version that cannot be joined is kept as a shot beside', async () => {
    const id = await newShot('HT_024'),
      { document } = await opened(id);
    await api().post(`/api/shots/${id}/versions`).send({ name: 'HT_024 kept 10:12', document }).expect(201);
    expect(
      (
        await api()
          .post(`/api/shots/${id}/versions`)
          .send({ name: 'x', document: { version: DOCUMENT_VERSION + 1 } })
          .expect(422)
      ).body.detail,
    ).toContain('newer version');
  });
});

/** What was sent and is used by nothing. */
const leftIn = async (uploads: string) => (await readdir(uploads, { recursive: true })).filter((name) => name !== 'coming');
const nothingLeft = async () => {
  expect(await leftIn(app.services.folders.uploads)).toEqual([]);
  expect((await readdir(app.services.folders.frames)).filter((n) => n.startsWith('part-'))).toEqual([]);
};
const film = (args: string[]) => makeFilm(root, args);

describe('media', () => {
  test('a numbered sequence comes in as one clip in the order of its numbers; frames are raw codes with a small header', async () => {
    const files: [Buffer, string][] = [];
    for (const n of [10, 2, 1]) files.push([await png(n * 20), `ring.${n}.png`]);
    // Numbers that have no picture are frames, too: the one before stands there.
    const job = await over((await send(files)).body.id as string);
    expect(job).toMatchObject({
      state: 'done',
      result: { name: 'ring', info: { frames: 10, missing: [[2, 8]], width: 64, height: 36, bitDepth: 8, alpha: false, kind: 'sequence' } },
    });
    for (const [frame, value] of [20, 40, 40, 40, 40, 40, 40, 40, 40, 200].entries()) {
      const { body } = await api()
        .get(`/api/media/${job.result!.hash}/frames/${frame}`)
        .buffer(true)
        .parse((response, done) => {
          const parts: Buffer[] = [];
          response.on('data', (chunk: Buffer) => parts.push(chunk));
          response.on('end', () => done(null, Buffer.concat(parts)));
        });
      const bytes = body as Buffer;
      expect([0, 4, 8, 12, 16].map((at) => bytes.readUInt32LE(at))).toEqual([0x31465257, 64, 36, 3, 8]);
      expect([bytes.length, ...bytes.subarray(20, 23)]).toEqual([20 + 64 * 36 * 3, value, 90, 20]);
    }
    await nothingLeft();
  });
  test('a film comes in, and the same film again is the same medium', async () => {
    const path = film(['-frames:v', '9', '-c:v', 'libx264', '-pix_fmt', 'yuv420p']);
    const one = await over((await send([[path, 'swell.mp4']])).body.id as string),
      two = await over((await send([[path, 'swell again.mp4']])).body.id as string);
    expect(one).toMatchObject({ state: 'done', result: { info: { frames: 9, codec: 'h264' } } });
    expect(two.result!.hash).toBe(one.result!.hash);
    const shot = await newShot('HT_030', { medium: one.result!.hash });
    expect((await opened(shot)).document).toMatchObject({ width: 64, height: 36, last: 1009, base: { takes: [{ clip: 'c1' }] } });
  });
  test('names of files are text and never paths', async () => {
    const job = await over((await send([[await png(7), '../../../../evil.png']])).body.id as string);
    expect(job.state).toBe('done');
    expect(existsSync(join(root, '..', 'evil.png')) || existsSync(join(root, 'evil.png'))).toBe(false);
  });
  test.each([
    ['empty', async () => Buffer.alloc(0), 'empty.mp4', /^empty\.mp4 is empty\. Nothing was kept\.$/],
    [
      'no picture at all',
      async () => Buffer.from('this is a letter, not a film'),
      'letter.mp4',
      /^letter\.mp4 could not be brought in: .+\. Nothing of it was kept\.$/,
    ],
    [
      'a still that breaks off',
      async () => (await png(9, 640, 360)).subarray(0, 400),
      'torn.png',
      /^torn\.png could not be brought in: .+\. Nothing of it was kept\.$/,
    ],
    [
      'a drawing in SVG',
      async () => Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><image href="file:///etc/passwd"/></svg>'),
      'drawing.svg',
      /^drawing\.svg could not be brought in/,
    ],
    [
      'a playlist that names other files',
      async () => Buffer.from('#EXTM3U\n#EXT-X-TARGETDURATION:9\n#EXTINF:9,\nfile:///etc/passwd\n#EXT-X-ENDLIST\n'),
      'list.mp4',
      /^list\.mp4 could not be brought in/,
    ],
    [
      'a picture that claims 60,000 pixels a side',
      async () => huge(),
      'huge.png',
      /^huge\.png could not be brought in: .+\. Nothing of it was kept\.$/,
    ],
  ])('%s ends in one clear sentence and leaves nothing behind', async (_, make, name, message) => {
    const before = await readdir(app.services.folders.frames),
      answer = await send([[await make(), name]]);
    const text = answer.status === 202 ? (await over(answer.body.id as string)).message : (answer.body.detail as string);
    expect(text).toMatch(message);
    expect(text.split('\n')).toHaveLength(1);
    expect(await readdir(app.services.folders.frames)).toEqual(before);
    await nothingLeft();
  });
  test('pictures that are no sequence, or of different sizes, are told so', async () => {
    const answer = await send([
      [await png(1), 'a.png'],
      [await png(2), 'b.png'],
    ]);
    expect([answer.status, answer.body.detail]).toEqual([
      422,
      expect.stringMatching(/^These files are not one numbered sequence: .+ Nothing was kept\.$/),
    ]);
    const mixed = await over(
      (
        await send([
          [await png(1), 'm1.png'],
          [await png(2, 32, 32), 'm2.png'],
        ])
      ).body.id as string,
    );
    expect(mixed.message).toMatch(/32 x 32 stands among pictures of 64 x 36/);
    await nothingLeft();
  });
  test('a film that promises more than it holds keeps what is there, and says so', async () => {
    const path = film(['-frames:v', '200', '-c:v', 'mjpeg', '-f', 'avi']),
      whole = await (await import('node:fs/promises')).readFile(path);
    const job = await over((await send([[whole.subarray(0, Math.round(whole.length * 0.5)), 'cut.avi']])).body.id as string);
    if (job.state === 'done') expect(job.result!.info.frames).toBeLessThan(200);
    else expect(job.message).toMatch(/^cut\.avi could not be brought in: .+ Nothing of it was kept\.$/);
    await nothingLeft();
  });
  test('can be cancelled, and leaves nothing behind', async () => {
    const path = film(['-frames:v', '2500', '-vf', 'scale=640:360', '-c:v', 'mpeg4']);
    const id = (await send([[path, 'long.mp4']])).body.id as string;
    for (let i = 0; i < 200 && (await api().get(`/api/jobs/${id}`)).body.state === 'waiting'; i++) await later(20);
    await api().delete(`/api/jobs/${id}`);
    expect(await over(id)).toMatchObject({ state: 'cancelled' });
    await nothingLeft();
  }, 60_000);
});

/** A PNG whose header claims 60,000 x 60,000 pixels and holds next to nothing. */
async function huge(): Promise<Buffer> {
  const bytes = Buffer.from(await png(1, 8, 8));
  bytes.writeUInt32BE(60_000, 16);
  bytes.writeUInt32BE(60_000, 20);
  const { crc32 } = await import('node:zlib').then((z) => ({
    crc32: (z as unknown as { crc32?: (b: Buffer) => number }).crc32 ?? plainCrc,
  }));
  bytes.writeUInt32BE(crc32(bytes.subarray(12, 29)) >>> 0, 29);
  return bytes;
}
function plainCrc(bytes: Buffer): number {
  let c = ~0;
  for (const byte of bytes) {
    c ^= byte;
    for (let k = 0; k < 8; k++) c = c & 1 ? (c >>> 1) ^ 0xedb88320 : c >>> 1;
  }
  return ~c;
}

describe('renders', () => {
  let shot = '',
    frames: Buffer[] = [];
  beforeAll(async () => {
    const path = film(['-frames:v', '30', '-c:v', 'ffv1', '-pix_fmt', 'gbrp', '-f', 'matroska']);
    const job = await over((await send([[path, 'source.mkv']])).body.id as string);
    shot = await newShot('HT_040', { medium: job.result!.hash });
    frames = [];
    for (let f = 0; f < 30; f++) frames.push((await app.services.frames.raw(job.result!.hash, f)).bytes);
  }, 60_000);
  test('an idle shot comes out as it came in, 8 bit, as a ZIP of numbered PNG files', async () => {
    const job = (await api().post('/api/jobs').send({ shot, format: 'png', first: 1003, last: 1006 }).expect(202)).body as { id: string };
    expect((await api().get(`/api/jobs/${job.id}/file`)).status === 409 || (await over(job.id)).state === 'done').toBe(true);
    const done = await over(job.id);
    expect(done).toMatchObject({ state: 'done', result: { file: 'HT_040_1003-1006.zip', frames: 4 } });
    const { body } = await api()
      .get(`/api/jobs/${job.id}/file`)
      .buffer(true)
      .parse((response, end) => {
        const parts: Buffer[] = [];
        response.on('data', (chunk: Buffer) => parts.push(chunk));
        response.on('end', () => end(null, Buffer.concat(parts)));
      });
    const files = unzipSync(new Uint8Array(body as Buffer));
    expect(Object.keys(files)).toEqual(['1003', '1004', '1005', '1006'].map((n) => `HT_040_1003-1006/${n}.png`));
    for (const [i, bytes] of Object.values(files).entries())
      expect((await sharp(bytes).raw().toBuffer()).equals(frames[i + 2]!)).toBe(true);
  }, 60_000);
  test('bad ranges, formats and empty shots are refused', async () => {
    expect((await api().post('/api/jobs').send({ shot, format: 'png', first: 900 }).expect(400)).body.detail).toMatch(
      /does not lie within the shot \(1001 to 1030\)/,
    );
    await api().post('/api/jobs').send({ shot, format: 'gif' }).expect(400);
    expect(
      (
        await api()
          .post('/api/jobs')
          .send({ shot: await newShot('HT_041'), format: 'png' })
          .expect(422)
      ).body.type,
    ).toBe('/problems/empty-shot');
  });
  test('goes on after a restart with the frames that are there, from the document as it was asked for', async () => {
    const { document } = await opened(shot);
    const slow: Edit = {
      name: 'Make it slow',
      apply: (s) => {
        s.width = 2560;
        s.height = 1440;
      },
    };
    await save(shot, slow);
    const job = (await api().post('/api/jobs').send({ shot, format: 'png16' }).expect(202)).body as { id: string };
    for (let i = 0; i < 400 && ((await api().get(`/api/jobs/${job.id}`)).body.done as number) < 3; i++) await later(25);
    await app.close();
    const kept = (await readdir(join(root, 'renders', job.id))).filter((n) => /^\d+\.png$/.test(n));
    expect(kept.length).toBeGreaterThan(1);
    expect(kept.length).toBeLessThan(30);
    // What a crash leaves: half an import, an upload that nobody waits for, a row without frames.
    await mkdir(join(root, 'frames', 'part-left'));
    await mkdir(join(root, 'uploads', 'left'));
    await server.open();
    app = server.app;
    expect(await leftIn(join(root, 'uploads'))).toEqual([]);
    expect((await readdir(join(root, 'frames'))).filter((n) => n.startsWith('part-'))).toEqual([]);
    await save(shot, { name: 'Small again', apply: (s) => void ((s.width = document.width), (s.height = document.height)) });
    expect(await over(job.id)).toMatchObject({ state: 'done', result: { frames: 30 } });
    const meta = await sharp(join(root, 'renders', job.id, '1030.png')).metadata();
    expect([meta.width, meta.depth]).toEqual([2560, 'ushort']);
  }, 120_000);
  test('can be cancelled; what was drawn stays', async () => {
    await save(shot, { name: 'Large', apply: (s) => void ((s.width = 1920), (s.height = 1080)) });
    const job = (await api().post('/api/jobs').send({ shot, format: 'webm' })).body as { id: string };
    for (let i = 0; i < 400 && ((await api().get(`/api/jobs/${job.id}`)).body.done as number) < 1; i++) await later(25);
    await api().delete(`/api/jobs/${job.id}`).expect(200);
    expect(await over(job.id)).toMatchObject({ state: 'cancelled', message: 'Cancelled; what was finished is kept.' });
    await api().delete(`/api/jobs/${job.id}`).expect(409);
    await api().get(`/api/jobs/${job.id}/file`).expect(409);
  }, 60_000);
  test('a thumbnail is drawn in the background by the same core, once a revision; nobody waits for it on the line', async () => {
    await save(shot, { name: 'Small', apply: (s) => void ((s.width = 64), (s.height = 36)) });
    await api().get(`/api/shots/${shot}/thumbnail`).expect(202).expect('Cache-Control', 'no-store');
    let answer = await api().get(`/api/shots/${shot}/thumbnail`);
    for (let i = 0; i < 200 && answer.status === 202; i++) {
      await later(50);
      answer = await api().get(`/api/shots/${shot}/thumbnail`);
    }
    expect([answer.status, answer.headers['content-type']]).toEqual([200, 'image/png']);
    expect((await sharp(answer.body as Buffer).metadata()).width).toBe(16);
  });
});

test('a medium whose frames were lost is no longer claimed after a start', async () => {
  const job = await over((await send([[await png(77), 'lost.png']])).body.id as string);
  await rm(join(root, 'frames', job.result!.hash), { recursive: true });
  await app.close();
  await server.open();
  app = server.app;
  expect(await app.services.database.manager.findOneBy(Medium, { hash: job.result!.hash })).toBeNull();
}, 60_000);

test('an edit of a clip that the server does not hold is stored, and its picture ends in a sentence', async () => {
  const id = await newShot('HT_050');
  const clip: NewClip = {
    name: 'gone',
    role: 'performance',
    media: { hash: 'f'.repeat(64) },
    width: 64,
    height: 36,
    frames: 3,
    rate: { num: 24, den: 1 },
    alpha: false,
    bits: 8,
    transfer: 'srgb',
    ...plainReading,
    start: 1001,
  };
  expect((await save(id, addClip(clip, 'c1'))).status).toBe(200);
  // Pages ask what is held, and say it on the clip.
  expect((await api().get(`/api/shots/${id}/clips`).expect(200)).body).toEqual([{ clip: 'c1', held: null }]);
  const job = (await api().post('/api/jobs').send({ shot: id, format: 'png', first: 1001, last: 1001 })).body as { id: string };
  expect((await over(job.id)).message).toMatch(
    /^The clip "gone" cannot be read: its frames are not in the store; bring the file in again\.$/,
  );
  expect((await save(id, setValue('r9', 'reach', 1)).catch((error: Error) => error)) instanceof TypeError).toBe(true);
});

describe('starting', () => {
  test('a taken port is one clear line', async () => {
    const other = createServer().listen(0, '127.0.0.1');
    await new Promise((resolve) => other.once('listening', resolve));
    const { port } = other.address() as { port: number },
      folder = await mkdtemp(join(tmpdir(), 'wraithos-port-'));
    await expect(open({ ...optionsFor(folder), port })).rejects.toThrow(
      new RegExp(`^Port ${port} is taken by another program; stop it or choose another one with PORT=4601 npm start\\.$`),
    );
    other.close();
    await rm(folder, { recursive: true, force: true });
  });
  test('a database that cannot start is one clear line, and nothing stays running', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'wraithos-broken-'));
    for (const name of ['mysql', 'wraithos']) await mkdir(join(folder, 'mariadb', 'data', name), { recursive: true });
    await writeFile(join(folder, 'mariadb', 'data', 'ibdata1'), 'broken');
    const error = await open(optionsFor(folder)).then(
      () => null,
      (e: Error) => e,
    );
    expect(error!.message).toMatch(/^The database did not start: .+/);
    expect(error!.message.split('\n')).toHaveLength(1);
    await rm(folder, { recursive: true, force: true });
  }, 60_000);
});
