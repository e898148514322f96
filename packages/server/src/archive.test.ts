import { createHash } from 'node:crypto';
import { readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { unzipSync, zipSync } from 'fflate';
import { ownRecipes } from '@wraithos/core/recipes';
import { addCue, newTrack } from '@wraithos/core/shot';
import { film, later, png, TestServer } from '../test/harness';
import { Medium } from './database/entities';
import { emptyBin, sweep } from './folder/sweep';

const sha = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
async function download(server: TestServer, path: string): Promise<Buffer> {
  const { body } = await server
    .api()
    .get(path)
    .buffer(true)
    .parse((response, done) => {
      const parts: Buffer[] = [];
      response.on('data', (chunk: Buffer) => parts.push(chunk));
      response.on('end', () => done(null, Buffer.concat(parts)));
    })
    .expect(200);
  return body as Buffer;
}
const samples = Array.from({ length: 6 }, (_, frame) => ({
  frame,
  x: 10 + frame,
  y: 9,
  rotation: 0,
  scale: 1,
  confidence: 1,
  state: 'good',
}));

describe('backup and bundles', () => {
  let server: TestServer, other: TestServer, shot: string, medium: string, track: string;
  beforeAll(async () => {
    server = await TestServer.start();
    other = await TestServer.start();
    medium = await server.medium(film(server.root, ['-frames:v', '30', '-c:v', 'libx264']), 'swell.mp4');
    shot = await server.newShot('HT_050', { medium });
    track = (await server.api().post('/api/samples').send(samples).expect(201)).body.hash as string;
    await server.save(shot, {
      name: 'Track',
      apply: (s) =>
        void (s.tracks.t1 = {
          ...newTrack({ id: 't1', name: 'pin', clip: 'c1', at: [9, 9], frame: 0, values: { policy: 'fixed' } }),
          samples: track,
        }),
    });
    for (let i = 0; i < 60; i++) await server.save(shot, addCue(`q${i}`, `cue ${i}`, 1002));
    await server.newShot('HT_051');
    await server.api().post('/api/recipes').send(ownRecipes[0]!).expect(201);
    await server.over(
      (await server.api().post('/api/jobs').send({ shot, format: 'png', first: 1001, last: 1003 }).expect(202)).body.id as string,
    );
  }, 90_000);
  afterAll(async () => {
    await server?.end();
    await other?.end();
  }, 60_000);

  test('a backup made while edits go on brings everything back elsewhere: revisions, media, samples, recipes, renders', async () => {
    let writing = true;
    const edits = (async () => {
      for (let i = 0; writing; i++) await server.save(shot, addCue(`w${i}`, `while ${i}`, 1003));
    })();
    const archive = await download(server, '/api/backup?renders=1');
    writing = false;
    await edits;
    const entries = unzipSync(archive),
      contents = JSON.parse(Buffer.from(entries['contents.json']!).toString()) as {
        entries: Record<string, { bytes: number; sha256: string }>;
      };
    // Every entry is named with its hash, and nothing else is in it.
    expect(
      Object.keys(entries)
        .filter((name) => name !== 'contents.json')
        .sort(),
    ).toEqual(Object.keys(contents.entries).sort());
    for (const [name, { bytes, sha256 }] of Object.entries(contents.entries))
      expect([entries[name]!.length, sha(entries[name]!)]).toEqual([bytes, sha256]);
    const job = await other.over((await other.send([[archive, 'all.wraithos.zip']], '/bundles')).body.id as string);
    expect([job.state, job.message, job.result]).toEqual([
      'done',
      '',
      { shots: ['HT_050', 'HT_051'], same: 0, media: 1, recipes: 1, renders: 1 },
    ]);
    const stored = JSON.parse(Buffer.from(entries[`shots/${shot}.json`]!).toString()) as { revision: number; document: object };
    const back = await other.opened(shot);
    expect([back.revision, back.document]).toEqual([stored.revision, stored.document]);
    expect(back.history.length).toBe(Math.min(200, stored.revision - 1));
    const frame = (of: TestServer, n: number) => download(of, `/api/media/${medium}/frames/${n}`).then(sha);
    for (const n of [0, 23, 24, 29]) expect(await frame(other, n)).toBe(await frame(server, n));
    expect((await other.api().get(`/api/samples/${track}`).expect(200)).body).toEqual(samples);
    // Drawn elsewhere, it is the same to the bit.
    const render = async (of: TestServer) => {
      const { id, state } = await of.over(
        (await of.api().post('/api/jobs').send({ shot, format: 'png16', first: 1002, last: 1002 }).expect(202)).body.id as string,
      );
      expect(state).toBe('done');
      return sha(await readFile(join(of.root, 'renders', id, '1002.png')));
    };
    expect(await render(other)).toBe(await render(server));
    // And in once more: nothing is doubled.
    const again = await other.over((await other.send([[archive, 'again.zip']], '/bundles')).body.id as string);
    expect(again.result).toEqual({ shots: [], same: 2, media: 0, recipes: 0, renders: 0 });
  }, 60_000);

  test('a shot that was changed since comes in beside, under a code of its own; the one that is here stays', async () => {
    const bundle = await download(server, `/api/shots/${shot}/bundle`);
    await other.save(shot, addCue('mine', 'mine', 1004));
    const here = await other.opened(shot),
      job = await other.over((await other.send([[bundle, 'shot.zip']], '/bundles')).body.id as string);
    expect(job.result).toMatchObject({ shots: ['HT_050 restored'], media: 0 });
    expect(await other.opened(shot)).toEqual(here);
    const list = (await other.api().get('/api/shots')).body as { id: string; code: string; revision: number }[],
      copy = await other.opened(list.find((s) => s.code === 'HT_050 restored')!.id);
    expect(Object.keys(copy.document.cues)).toEqual(Object.keys((await server.opened(shot)).document.cues));
  }, 30_000);

  test('a bundle without its media says so by what it holds, and a production has all its shots', async () => {
    const light = unzipSync(await download(server, `/api/productions/${server.production}/bundle?media=0`));
    expect(Object.keys(light).filter((name) => name.startsWith('media/'))).toEqual([]);
    expect(Object.keys(light).filter((name) => name.startsWith('shots/'))).toHaveLength(2);
  });

  test.each<[string, RegExp, (entries: Record<string, Uint8Array>) => Record<string, Uint8Array> | Buffer]>([
    ['cut off', /cannot be opened as a ZIP/, (entries) => Buffer.from(zipSync(entries)).subarray(0, 4000)],
    ['without its list of contents', /list of contents is missing/, ({ 'contents.json': _, ...rest }) => rest],
    [
      'with a byte changed',
      /productions\.json is not what was written/,
      (entries) => ({
        ...entries,
        'productions.json': Buffer.from(Buffer.from(entries['productions.json']!).toString().replace('Harbour', 'Harbouh')),
      }),
    ],
    ['with an entry more', /evil\.sh is not in its list/, (entries) => ({ ...entries, 'evil.sh': Buffer.from('#!') })],
    ['that would write elsewhere', /list of entries is damaged/, (entries) => ({ ...entries, '../../evil': Buffer.from('x') })],
    ['that is no archive', /cannot be opened as a ZIP/, () => Buffer.from('a letter')],
  ])(
    'an archive %s is refused in a sentence, and nothing of it is taken over',
    async (_, why, spoil) => {
      const whole = unzipSync(await download(server, `/api/shots/${shot}/bundle`)),
        spoiled = spoil(whole),
        before = (await other.api().get('/api/shots')).body as object[];
      const job = await other.over(
        (await other.send([[Buffer.isBuffer(spoiled) ? spoiled : Buffer.from(zipSync(spoiled, { level: 0 })), 'spoiled.zip']], '/bundles'))
          .body.id as string,
      );
      expect([job.state, job.message]).toEqual([
        'failed',
        expect.stringMatching(/^This is not an archive of Wraithos, or it is damaged: .+\. Nothing of it was taken over\.$/),
      ]);
      expect(job.message).toMatch(why);
      expect((await other.api().get('/api/shots')).body).toEqual(before);
    },
    30_000,
  );
});

describe('room', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await TestServer.start();
  }, 60_000);
  afterAll(() => server?.end(), 60_000);
  const DAY = 86_400_000;
  const room = async () =>
    (await server.api().get('/api/room').expect(200)).body as {
      media: { hash: string; bytes: number; goneAt: string | null; uses: { code: string }[] }[];
      renders: { id: string; bytes: number; goneAt: string | null }[];
      shots: { code: string }[];
      groups: Record<string, number>;
    };

  test('shows what uses how much; what is deleted can be brought back for 30 days, and is gone after that', async () => {
    const hash = await server.medium(await png(70), 'buoy.png'),
      unused = await server.medium(await png(71), 'old.png'),
      shot = await server.newShot('HT_060', { medium: hash }),
      job = await server.over((await server.api().post('/api/jobs').send({ shot, format: 'png' })).body.id as string);
    const now = await room();
    expect(now.media.map((m) => [m.hash === hash, m.uses.map((u) => u.code)]).sort()).toEqual([
      [false, []],
      [true, ['HT_060']],
    ]);
    expect(now.media[0]!.bytes).toBeGreaterThan(64 * 36 * 3);
    expect(now.groups.renders).toBeGreaterThan(0);

    await server.api().delete(`/api/media/${unused}`).expect(204);
    await server.api().delete(`/api/renders/${job.id}`).expect(204);
    expect((await server.api().get(`/api/jobs?shot=${shot}`)).body).toEqual([]);
    await server.api().post(`/api/renders/${job.id}/restore`).expect(204);
    expect((await server.api().get(`/api/jobs?shot=${shot}`)).body).toHaveLength(1);
    await server.api().delete(`/api/renders/${job.id}`).expect(204);
    await emptyBin(server.services, Date.now() + 29 * DAY);
    expect((await room()).renders).toHaveLength(1);
    await emptyBin(server.services, Date.now() + 31 * DAY);
    expect((await room()).renders).toEqual([]);
    expect(await server.services.frames.has(unused)).toBe(false);
    expect(await server.services.frames.has(hash)).toBe(true);
  }, 30_000);

  test('what a document or an old revision names is not deleted without a word', async () => {
    const hash = await server.medium(await png(72), 'pier.png'),
      shot = await server.newShot('HT_061', { medium: hash });
    const now = await server.api().delete(`/api/media/${hash}`).expect(409);
    expect([now.body.type, now.body.detail]).toEqual(['/problems/used', expect.stringMatching(/^pier\.png is used by HT_061\./)]);
    await server.save(shot, { name: 'Remove clip', apply: (s) => void (delete s.clips.c1, (s.base.takes = [])) });
    expect((await server.api().delete(`/api/media/${hash}`).expect(409)).body.detail).toMatch(/an earlier revision of HT_061/);
    await server.api().delete(`/api/media/${hash}?told=1`).expect(204);
    await server.api().post(`/api/media/${hash}/restore`).expect(204);
    // Deleted while nobody used it, and put to use again: it stays.
    await server.services.database.getRepository(Medium).update({ hash }, { deleted: new Date(), told: false });
    await emptyBin(server.services, Date.now() + 31 * DAY);
    expect(await server.services.frames.has(hash)).toBe(true);
    await server.api().delete(`/api/media/${hash}?told=1`).expect(204);
    await server.api().post('/api/room/empty').expect(200);
    expect(await server.services.frames.has(hash)).toBe(false);
    // The same file brings it back.
    await server.medium(await png(72), 'pier.png');
    expect(await server.services.frames.has(hash)).toBe(true);
  }, 30_000);

  test('a deleted shot is listed, comes back whole, and goes with its revisions after 30 days', async () => {
    const shot = await server.newShot('HT_062');
    await server.api().delete(`/api/shots/${shot}`).expect(204);
    expect((await room()).shots.map((s) => s.code)).toContain('HT_062');
    await server.api().post(`/api/shots/${shot}/restore`).expect(200);
    await server.api().delete(`/api/shots/${shot}`).expect(204);
    await emptyBin(server.services, Date.now() + 31 * DAY);
    await server.api().post(`/api/shots/${shot}/restore`).expect(404);
    expect(await server.services.database.query('SELECT COUNT(*) AS n FROM revisions WHERE shot_id = ?', [shot])).toEqual([{ n: '0' }]);
  });

  test('leftovers are swept: what was cut off, and files that no row names', async () => {
    const { folders } = server.services;
    for (const path of [join(folders.blobs, 'part-left'), join(folders.renders, '00000000-0000-0000-0000-000000000000')])
      await writeFile(path, 'x');
    await writeFile(join(folders.thumbnails, '00000000-0000-0000-0000-000000000001'), 'x');
    await sweep(server.services, true);
    for (const name of ['part-left']) await expect(readFile(join(folders.blobs, name))).rejects.toThrow();
    await expect(readFile(join(folders.renders, '00000000-0000-0000-0000-000000000000'))).rejects.toThrow();
    await expect(readFile(join(folders.thumbnails, '00000000-0000-0000-0000-000000000001'))).rejects.toThrow();
    await rm(folders.thumbnails, { recursive: true, force: true });
    await later(10);
    await sweep(server.services, false);
  });
});
