import { readdir } from 'node:fs/promises';
import { request as httpRequest } from 'node:http';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import fc from 'fast-check';
import sharp from 'sharp';
import { addRow, newShot as coreShot, setShot } from '@wraithos/core/shot';
import { film, png, TestServer } from '../test/harness';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
}, 60_000);
afterAll(async () => {
  await server?.end();
  expect(server.unexpected).toEqual([]);
}, 60_000);

interface Answer {
  status: number;
  type: string;
  text: string;
}
/** A request as written, whatever a client would make of it. */
function raw(method: string, path: string, headers: Record<string, string> = {}, body?: string | Buffer): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const call = httpRequest({ port: server.app.port, method, path, headers }, (response) => {
      let text = '';
      response.on('data', (chunk: Buffer) => (text += chunk.toString()));
      response.on('end', () => resolve({ status: response.statusCode!, type: response.headers['content-type'] ?? '', text }));
      response.on('error', reject);
    });
    call.on('error', reject);
    call.end(body);
  });
}
/** What no answer may say: parts of the program, of libraries or of this machine. */
const INSIDES =
  /node_modules|\.ts:\d|at \w+ \(|\/tmp\/|\/root\/|Invalid input|expected (string|number|array|object)|ER_[A-Z]+|ENOENT|EACCES|undefined is not|Cannot read propert/;
function isClear({ status, type, text }: Answer, statuses: readonly number[]): void {
  expect([status, type]).toEqual([expect.anything(), expect.stringContaining('application/problem+json')]);
  expect(statuses).toContain(status);
  const { detail } = JSON.parse(text) as { detail: string };
  expect(detail).toMatch(/[.!?]$/);
  expect(detail).not.toMatch(INSIDES);
  expect(detail).not.toContain('your changes are kept here');
}

describe('what the client did wrong is told as that', () => {
  const json = { 'Content-Type': 'application/json' };
  const tus = { 'Tus-Resumable': '1.0.0' };
  /** An upload of which so many bytes have come. */
  const begun = async (text: string, sent: number) => {
    const { headers } = await fetch(`${server.address}/api/uploads`, {
      method: 'POST',
      headers: { ...tus, 'Upload-Length': String(text.length), 'Content-Type': 'application/offset+octet-stream' },
      body: sent ? text.slice(0, sent) : undefined,
    });
    return headers.get('Location')!.split('/').pop()!;
  };
  const sentJson = (...ids: string[]) => JSON.stringify({ files: ids.map((upload) => ({ upload, name: 'a1.png' })) });
  test.each<[string, () => Promise<Answer>, number[]]>([
    ['a path that cannot be read', () => raw('GET', '/api/shots/%'), [400]],
    [
      'an unknown character set',
      () => raw('POST', '/api/productions', { 'Content-Type': 'application/json; charset=klingon' }, '{}'),
      [415],
    ],
    ['an unknown packing', () => raw('POST', '/api/productions', { ...json, 'Content-Encoding': 'zip' }, '{}'), [415]],
    [
      'broken gzip',
      () => raw('POST', '/api/productions', { ...json, 'Content-Encoding': 'gzip' }, gzipSync('{"name":"x"}').subarray(0, 12)),
      [400],
    ],
    ['media as a form', () => raw('POST', '/api/media', { 'Content-Type': 'multipart/form-data' }, 'x'), [400]],
    ['media of no file', () => raw('POST', '/api/media', json, '{"files":[]}'), [400]],
    ['media of a file elsewhere', () => raw('POST', '/api/media', json, sentJson('../../shots')), [400]],
    ['media of a file that never came', () => raw('POST', '/api/media', json, sentJson('0'.repeat(32))), [404]],
    ['a medium of which half has come', async () => raw('POST', '/api/media', json, sentJson(await begun('abcdef', 3))), [409]],
    ['an empty file', async () => raw('POST', '/api/media', json, sentJson(await begun('', 0))), [422]],
    ['two files of one name', async () => raw('POST', '/api/media', json, sentJson(await begun('abc', 3), await begun('abd', 3))), [422]],
    [
      'one upload named twice',
      async () => {
        const id = await begun('abc', 3);
        return raw('POST', '/api/media', json, sentJson(id, id));
      },
      [400, 422],
    ],
    ['lists within lists', () => raw('POST', '/api/productions', json, `${'['.repeat(5_000_000)}`), [400]],
    ['a document of another kind', () => raw('POST', '/api/productions', json, '[1,2]'), [400]],
    ['a number that is none', () => raw('GET', `/api/media/${'0'.repeat(64)}/frames/1e99`), [400, 404]],
    ['a revision that is none', () => raw('GET', '/api/shots/x/since/never'), [400]],
  ])('%s', async (_, ask, statuses) => isClear(await ask(), statuses));

  test.each<[string, () => Promise<Answer>, number[]]>([
    ['an upload of no length', () => raw('POST', '/api/uploads', tus, ''), [400]],
    ['an upload larger than any', () => raw('POST', '/api/uploads', { ...tus, 'Upload-Length': '999999999999999' }, ''), [413]],
    [
      'the rest of an upload that is not here',
      () =>
        raw(
          'PATCH',
          `/api/uploads/${'0'.repeat(32)}`,
          { ...tus, 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' },
          'x',
        ),
      [404, 410],
    ],
    ['reading what was sent', () => raw('GET', `/api/uploads/${'0'.repeat(32)}`), [405]],
  ])('%s', async (_, ask, statuses) => {
    const { status, text } = await ask(),
      { detail } = JSON.parse(text) as { detail: string };
    expect(statuses).toContain(status);
    expect(detail).toMatch(/[.!?]$/);
    expect(detail).not.toMatch(INSIDES);
  });

  test('a name with a NUL in it is kept as text without it', async () => {
    const sent = await server.send([[await png(9), 'a\u0000b.png']]);
    expect(sent.status).toBe(202);
    const job = await server.over(sent.body.id);
    expect(job).toMatchObject({ state: 'done', result: { name: 'ab.png' } });
  });
  test('an upload that was cut goes on where it stopped, also after a restart', async () => {
    const picture = await png(11),
      half = picture.length >> 1,
      answer = await fetch(`${server.address}/api/uploads`, {
        method: 'POST',
        headers: { ...tus, 'Upload-Length': String(picture.length), 'Content-Type': 'application/offset+octet-stream' },
        body: new Uint8Array(picture.subarray(0, half)),
      }),
      place = answer.headers.get('Location')!;
    await server.restart();
    const known = await fetch(server.address + place, { method: 'HEAD', headers: tus });
    expect(known.headers.get('Upload-Offset')).toBe(String(half));
    const rest = await fetch(server.address + place, {
      method: 'PATCH',
      headers: { ...tus, 'Upload-Offset': String(half), 'Content-Type': 'application/offset+octet-stream' },
      body: new Uint8Array(picture.subarray(half)),
    });
    expect(rest.status).toBe(204);
    const { body } = await server
      .api()
      .post('/api/media')
      .send({ files: [{ upload: place.split('/').pop(), name: 'cut.png' }] })
      .expect(202);
    const first = await server.over((body as { id: string }).id);
    expect(first.state).toBe('done');
    // The same file under another name is the same medium, kept once.
    const again = await server.over((await server.send([[picture, 'other.png']])).body.id);
    expect(again.result.hash).toBe(first.result.hash);
    expect((await readdir(join(server.root, 'uploads', 'coming'))).some((name) => place.endsWith(name))).toBe(false);
  });
  test('deep nesting takes no time', async () => {
    const begun = Date.now();
    await raw('POST', '/api/productions', json, `{"name":${'['.repeat(5_000_000)}`);
    expect(Date.now() - begun).toBeLessThan(2000);
  });
});

describe('many at once', () => {
  test('twenty renames of one shot all succeed, and five duplicates get five codes', async () => {
    const id = await server.newShot('HT_040'),
      renames = await Promise.all(
        Array.from({ length: 20 }, (_, i) =>
          server
            .api()
            .patch(`/api/shots/${id}`)
            .send({ title: `Title ${i}` }),
        ),
      );
    expect(renames.map((r) => r.status)).toEqual(Array.from({ length: 20 }, () => 200));
    const copies = await Promise.all(Array.from({ length: 5 }, () => server.api().post(`/api/shots/${id}/duplicate`)));
    expect(new Set(copies.map((c) => (c.body as { code: string }).code)).size).toBe(5);
  });
});

describe('documents', () => {
  const patch = async (id: string, path: (string | number)[], value: unknown, op = 'replace') => {
    const { revision } = await server.opened(id);
    return server
      .api()
      .post(`/api/shots/${id}/edits`)
      .send({ base: revision, edits: [{ name: 'Change', kind: 'do', patches: [{ op, path, value }], inverse: [] }] });
  };
  test('names that every object answers to are no references and no ids', async () => {
    const id = await server.newShot('HT_041');
    for (const name of ['constructor', 'toString', '__proto__', 'hasOwnProperty']) {
      const answer = await patch(id, ['base'], name);
      expect(answer.status).toBe(422);
    }
    await server.save(id, addRow({ id: 'r1', effect: 'glow', lane: 'whole', subject: null }));
    // An effect of such a name is one that is not known: kept, and not drawn.
    expect((await patch(id, ['rows', 'r1', 'effect'], 'constructor')).status).toBe(200);
    expect((await server.opened(id)).document.rows.r1!.effect).toBe('constructor');
  });
  test('values are checked, also of an effect whose version differs; a newer one is kept and not drawn', async () => {
    const id = await server.newShot('HT_042', { medium: await server.medium(await png(30), 'mole.png') });
    await server.save(id, addRow({ id: 'r1', effect: 'emitter', lane: 'whole', subject: null }));
    expect((await patch(id, ['rows', 'r1', 'values', 'rate'], 1e9)).status).toBe(422);
    await server.save(id, { name: 'Newer', apply: (s) => void Object.assign(s.rows.r1!, { version: 99 }) });
    expect((await patch(id, ['rows', 'r1', 'values', 'rate'], 1e6)).status).toBe(200);
    const job = await server.over((await server.api().post('/api/jobs').send({ shot: id, format: 'png' }).expect(202)).body.id as string);
    expect(job.state).toBe('done');
  });
  test('numbers that nothing can be drawn with are refused', async () => {
    const id = await server.newShot('HT_043');
    await server.save(id, addRow({ id: 'r1', effect: 'glow', lane: 'whole', subject: null }));
    for (const [path, value] of [
      [
        ['rows', 'r1', 'values', 'place'],
        [1e12, 0],
      ],
      [['rows', 'r1', 'opacity'], 1e300],
      [['rate'], { num: 24, den: 0 }],
      [['width'], 60000],
    ] as [string[], unknown][])
      expect([path.join('.'), (await patch(id, path, value)).status]).toEqual([path.join('.'), 422]);
  });
  test('the refused edit is named, so that the others can go on', async () => {
    const id = await server.newShot('HT_044'),
      { revision, document } = await server.opened(id),
      fine = { name: 'Fine', kind: 'do', patches: [{ op: 'replace', path: ['title'], value: 'x' }], inverse: [] };
    const bad = { ...fine, name: 'Bad', patches: [{ op: 'replace', path: ['rows', 'nobody', 'name'], value: 'x' }] };
    const { body } = await server
      .api()
      .post(`/api/shots/${id}/edits`)
      .send({ base: revision, edits: [fine, fine, bad] })
      .expect(422);
    expect([body.edit, body.detail]).toEqual([2, '"Bad" changes something that is not in the shot.']);
    expect((await server.opened(id)).document).toEqual(document);
  });
});

describe('media', () => {
  const svg = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="64" height="36"><image href="file:///etc/hostname"/></svg>');
  test('every file of a sequence is looked at: a drawing that can name other files gets in nowhere', async () => {
    for (const at of [0, 1, 2]) {
      const files: [Buffer, string][] = [];
      for (let i = 0; i < 3; i++) files.push([i === at ? svg : await png(i * 9), `net${i}.png`]);
      const job = await server.over((await server.send(files)).body.id as string);
      expect([job.state, job.message]).toEqual([
        'failed',
        expect.stringMatching(new RegExp(`picture ${at + 1} of it is not PNG, JPEG, WebP, TIFF or EXR`)),
      ]);
    }
  });
  test('a picture with a side of 60,000 pixels is refused; a film of one pixel, or from a negative frame on, is rendered', async () => {
    const long = await server.over((await server.send([[await png(1, 1, 60_000), 'long.png']])).body.id as string);
    expect(long.message).toMatch(/^long\.png could not be brought in: at 1 x 60000 it is larger than 8192 x 8192\./);
    const tiny = await server.newShot('HT_045', { medium: await server.medium(await png(200), 'mast.png'), first: -3 });
    await server.save(tiny, setShot({ width: 1, height: 1, first: -3, last: 2 }));
    const film1 = await server.over(
      (await server.api().post('/api/jobs').send({ shot: tiny, format: 'webm' }).expect(202)).body.id as string,
    );
    expect([film1.state, film1.result?.frames]).toEqual(['done', 6]);
  }, 30_000);
  test.each([
    ['cut in the middle', (bytes: Buffer) => bytes.subarray(0, bytes.length >> 1)],
    ['with a torn head', (bytes: Buffer) => Buffer.concat([Buffer.alloc(400, 7), bytes.subarray(400)])],
  ])('a film %s ends in our own words, or keeps what is there', async (_, spoil) => {
    const { readFile } = await import('node:fs/promises'),
      path = film(server.root, ['-frames:v', '30', '-c:v', 'libx264']);
    const job = await server.over((await server.send([[spoil(await readFile(path)), 'torn.mp4']])).body.id as string);
    if (job.state === 'failed') expect(job.message).toMatch(/^torn\.mp4 could not be brought in: .+\. Nothing of it was kept\.$/);
    expect(job.message).not.toMatch(/Invalid|moov|Error|0x/);
  });
});

describe('whatever comes', () => {
  const runs = Number(process.env.WRAITHOS_FUZZ_RUNS) || 60;
  const routes: [string, string][] = [
    ['GET', '/api/shots/:x'],
    ['GET', '/api/shots/:x/since/:x'],
    ['GET', '/api/shots/:x/thumbnail'],
    ['GET', '/api/shots/:x/bundle'],
    ['GET', '/api/productions/:x/bundle'],
    ['GET', '/api/media/:x/frames/:x'],
    ['GET', '/api/samples/:x'],
    ['GET', '/api/jobs/:x'],
    ['GET', '/api/jobs/:x/file'],
    ['POST', '/api/productions'],
    ['POST', '/api/shots'],
    ['POST', '/api/shots/:x/edits'],
    ['POST', '/api/shots/:x/versions'],
    ['POST', '/api/shots/:x/duplicate'],
    ['POST', '/api/shots/:x/restore'],
    ['POST', '/api/samples'],
    ['POST', '/api/jobs'],
    ['POST', '/api/jobs/:x/again'],
    ['POST', '/api/recipes'],
    ['POST', '/api/media/:x/restore'],
    ['POST', '/api/renders/:x/restore'],
    ['PATCH', '/api/shots/:x'],
    ['PATCH', '/api/recipes/:x'],
    ['DELETE', '/api/shots/:x'],
    ['DELETE', '/api/jobs/:x'],
    ['DELETE', '/api/media/:x'],
    ['DELETE', '/api/renders/:x'],
    ['DELETE', '/api/recipes/:x'],
  ];
  const odd = fc.oneof(
    fc.constantFrom('constructor', '__proto__', '%2e%2e%2f', '..', 'null', '0', '-1', 'a'.repeat(300), '%00', "'%20OR%201=1%20--"),
    fc.string({ maxLength: 30 }).map(encodeURIComponent),
    fc.uuid(),
  );
  test('every route answers in a sentence, and nothing changes that was not asked for', async () => {
    const before = await server.opened(await server.newShot('HT_046'));
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...routes),
        fc.array(odd, { minLength: 2, maxLength: 2 }),
        fc.jsonValue({ maxDepth: 4 }),
        async ([method, pattern], [a, b], body) => {
          let n = 0;
          const path = pattern.replace(/:x/g, () => [a, b][n++ % 2]!),
            answer = await raw(
              method,
              path,
              { 'Content-Type': 'application/json' },
              method === 'GET' || method === 'DELETE' ? undefined : JSON.stringify(body),
            );
          if (answer.status >= 400) isClear(answer, [400, 403, 404, 409, 413, 415, 422]);
          else expect([200, 201, 202, 204]).toContain(answer.status);
        },
      ),
      { numRuns: runs * 4, seed: 20261128 },
    );
    expect(before.document.code).toBe('HT_046');
    expect(({} as Record<string, unknown>).polluted).toBeUndefined();
  }, 120_000);

  test('every kind of medium, with bytes changed anywhere, ends in words or comes in whole', async () => {
    const { readFile } = await import('node:fs/promises');
    const good: [string, Buffer][] = [
      ['a.png', await png(90)],
      ['b.mp4', await readFile(film(server.root, ['-frames:v', '6', '-c:v', 'libx264']))],
      ['c.webm', await readFile(film(server.root, ['-frames:v', '6', '-c:v', 'libvpx-vp9'], 'webm'))],
      ['d.gif', await readFile(film(server.root, ['-frames:v', '4'], 'gif'))],
      [
        'f.jpg',
        await sharp(await png(91))
          .jpeg()
          .toBuffer(),
      ],
      [
        'g.webp',
        await sharp(await png(92))
          .webp()
          .toBuffer(),
      ],
      [
        'h.tif',
        await sharp(await png(93))
          .tiff()
          .toBuffer(),
      ],
      ['i.mkv', await readFile(film(server.root, ['-frames:v', '4', '-c:v', 'ffv1'], 'mkv'))],
      ['j.mov', await readFile(film(server.root, ['-frames:v', '4', '-c:v', 'prores_ks'], 'mov'))],
      ['e.avi', await readFile(film(server.root, ['-frames:v', '4', '-c:v', 'mjpeg'], 'avi'))],
    ];
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...good),
        fc.array(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.integer({ min: 0, max: 255 })), { minLength: 1, maxLength: 12 }),
        fc.double({ min: 0.05, max: 1, noNaN: true }),
        async ([name, bytes], changes, share) => {
          const spoiled = Buffer.from(bytes.subarray(0, Math.max(1, Math.floor(bytes.length * share))));
          for (const [at, value] of changes) spoiled[Math.floor(at * (spoiled.length - 1))] = value;
          const answer = await server.send([[spoiled, name]]);
          expect(answer.status).toBe(202);
          const job = await server.over(answer.body.id as string);
          expect(['done', 'failed']).toContain(job.state);
          if (job.state === 'failed') {
            expect(job.message).toMatch(/^[a-j]\.\w+ could not be brought in: .+ Nothing of it was kept\.$/);
            expect(job.message).not.toMatch(INSIDES);
          }
        },
      ),
      { numRuns: Math.ceil(runs / 2), seed: 20261128 },
    );
  }, 240_000);
  test('a document that is made of anything is refused in a sentence, or is a shot', async () => {
    const id = await server.newShot('HT_047'),
      base = coreShot({ code: 'HT_047', width: 64, height: 36, rate: { num: 24, den: 1 }, frames: 6 });
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...(Object.keys(base) as (keyof typeof base)[])),
        fc.jsonValue({ maxDepth: 3 }),
        async (key, value) => {
          const answer = await server
            .api()
            .post(`/api/shots/${id}/versions`)
            .send({ name: 'x', document: { ...base, [key]: value } });
          expect([201, 422]).toContain(answer.status);
          if (answer.status === 422) expect(answer.body.detail).not.toMatch(INSIDES);
        },
      ),
      { numRuns: runs * 2, seed: 20261128 },
    );
  }, 120_000);
});
