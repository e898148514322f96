import { spawnSync } from 'node:child_process';
import { mkdtemp, open, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { addCue } from '@wraithos/core/shot';
import { changeOf, later, png, TestServer } from '../test/harness';

const MIB = 2 ** 20;
/** A disk of a size of our own, where this machine lets us have one. */
async function smallDisk(mebibytes: number): Promise<{ root: string; remount(option: string): void; end(): Promise<void> } | null> {
  const root = await mkdtemp(join(tmpdir(), 'wraithos-disk-'));
  if (spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${mebibytes}m,mode=0700`, 'tmpfs', root]).status !== 0) {
    await rm(root, { recursive: true, force: true });
    return null;
  }
  return {
    root,
    remount: (option) => void spawnSync('mount', ['-o', `remount,${option}`, root]),
    async end() {
      spawnSync('umount', ['-l', root]);
      await rm(root, { recursive: true, force: true });
    },
  };
}

test('a disk that is full: new work is refused in words, what runs waits, edits go on, and all goes on when there is room', async () => {
  const disk = await smallDisk(420);
  if (!disk) {
    console.info('no small disk can be made on this machine; the disk is tested by its levels only');
    return;
  }
  const server = await TestServer.start({ disk: { fullBelow: 48 * MIB, reserve: 24 * MIB, everyMs: 100 } }, disk.root);
  const fill = async () => {
    const { free } = await server.services.disk.look();
    await writeFile(join(disk.root, 'filler'), Buffer.alloc(Math.max(0, free - 20 * MIB), 1));
    await later(300);
  };
  try {
    expect(server.services.disk.state.level).toBe('very low');
    const id = await server.newShot('HT_020', { medium: await server.medium(await png(40), 'swell.png') });
    await server.save(id, { name: 'Long', apply: (s) => void ((s.last = 3000), (s.width = 640), (s.height = 360)) });
    const job = (await server.api().post('/api/jobs').send({ shot: id, format: 'png', factor: 4 }).expect(202)).body as { id: string };
    for (let i = 0; i < 200 && ((await server.api().get(`/api/jobs/${job.id}`)).body.done as number) < 2; i++) await later(20);
    await fill();
    expect(server.services.disk.state.level).toBe('full');
    // New work.
    for (const answer of [
      await server.send([[await png(41), 'foam.png']]),
      await server.api().post('/api/jobs').send({ shot: id, format: 'png' }),
    ])
      expect([answer.status, answer.body.type, answer.body.detail]).toEqual([
        507,
        '/problems/disk',
        expect.stringMatching(/^The disk is full: .+ are left\..+ Nothing was begun\.$/),
      ]);
    // Work under way.
    const paused = (await server.api().get(`/api/jobs/${job.id}`)).body as { state: string; message: string };
    expect([paused.state, paused.message]).toEqual(['running', expect.stringMatching(/^paused: The disk is full/)]);
    expect((await server.api().get('/api/health').expect(503)).body).toMatchObject({ ok: false, disk: { level: 'full' } });
    // Edits.
    for (let i = 0; i < 20; i++) expect((await server.save(id, addCue(`q${i}`, `cue ${i}`, 1003))).status).toBe(200);
    await rm(join(disk.root, 'filler'));
    await later(300);
    const going = (await server.api().get(`/api/jobs/${job.id}`)).body as { message: string };
    expect(going.message).not.toMatch(/^paused/);
    await server.api().delete(`/api/jobs/${job.id}`).expect(200);
    await server.over(job.id);
    expect(Object.keys((await server.opened(id)).document.cues)).toHaveLength(20);
    expect((await server.api().get('/api/health').expect(200)).body.ok).toBe(true);
    // Not a byte left: edits are refused in words, none half, and go on when there is room.
    const bytes = Buffer.alloc(MIB, 1),
      file = await open(join(disk.root, 'filler'), 'w');
    for (let at = 0; ; at += MIB)
      if (
        await file.write(bytes, 0, MIB, at).then(
          ({ bytesWritten }) => bytesWritten < MIB,
          () => true,
        )
      )
        break;
    await file.close();
    await later(300);
    const before = (await server.opened(id)).revision,
      large = addCue('full', 'x'.repeat(100), 1003),
      padding = [{ op: 'replace', path: ['title'], value: 'x'.repeat(50_000) }];
    let stored = 0,
      refused = 0;
    for (let i = 0; i < 40 && !refused; i++) {
      const now = await server.opened(id),
        answer = await server
          .api()
          .post(`/api/shots/${id}/edits`)
          .send({ base: now.revision, edits: Array.from({ length: 100 }, () => ({ ...changeOf(now.document, large), inverse: padding })) });
      if (answer.status === 200) stored += 100;
      else {
        expect([answer.status, answer.body.detail]).toEqual([
          expect.any(Number),
          expect.stringMatching(/disk is full|database is being started|database does not answer/),
        ]);
        refused++;
      }
    }
    console.info(`with a full disk: ${stored} edits stored, ${refused} requests refused`);
    await rm(join(disk.root, 'filler'));
    await later(500);
    await server.services.daemon.ready(15_000);
    expect((await server.opened(id)).revision).toBe(before + stored);
    expect((await server.save(id, addCue('room', 'room again', 1003))).status).toBe(200);
    // Read-only, and writable again.
    disk.remount('ro');
    await later(300);
    if (server.services.disk.state.level === 'read-only') {
      expect((await server.api().post('/api/jobs').send({ shot: id, format: 'png' })).body.detail).toMatch(
        /^The disk of the data folder is read-only/,
      );
    }
    disk.remount('rw');
    await later(500);
    expect((await server.save(id, addCue('again', 'again', 1003))).status).toBe(200);
  } finally {
    await server.app.close();
    await disk.end();
  }
}, 120_000);
