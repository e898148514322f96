import { spawn } from 'node:child_process';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { addCue } from '@wraithos/core/shot';
import { png, TestServer } from '../test/harness';

/** The command line as a person calls it. */
function wraith(...args: string[]): Promise<{ code: number | null; out: string; said: string }> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, ['--no-warnings', join(process.cwd(), 'dist', 'cli', 'main.mjs'), ...args], {
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let out = '',
      said = '';
    child.stdout.on('data', (chunk: Buffer) => (out += chunk.toString()));
    child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
    child.on('close', (code) => resolve({ code, out, said }));
  });
}

test('backup and restore from the command line, while the servers run', async () => {
  const server = await TestServer.start(),
    other = await TestServer.start(),
    folder = await mkdtemp(join(tmpdir(), 'wraithos-backup-')),
    file = join(folder, 'all.zip');
  try {
    const shot = await server.newShot('HT_080', { medium: await server.medium(await png(80), 'rope.png') });
    await server.save(shot, addCue('q1', 'strike', 1003));
    const saved = await wraith('backup', '--out', file, '--data', server.root);
    expect(saved).toMatchObject({ code: 0, said: '' });
    expect(JSON.parse(saved.out)).toMatchObject({ entries: 7 });
    expect(await readdir(folder)).toEqual(['all.zip']);
    const back = await wraith('restore', file, '--data', other.root);
    expect([back.code, JSON.parse(back.out)]).toEqual([0, { shots: ['HT_080'], same: 0, media: 1, recipes: 0, renders: 0 }]);
    expect((await other.opened(shot)).document).toEqual((await server.opened(shot)).document);
    expect(await wraith('backup', '--out', join(folder, 'one.zip'), '--shot', 'HT_080', '--data', server.root)).toMatchObject({ code: 0 });
    expect(await wraith('backup', '--out', join(folder, 'no.zip'), '--shot', 'HT_099', '--data', server.root)).toMatchObject({
      code: 2,
      said: 'wraith: There is no shot "HT_099".\n',
    });
    const bytes = await readFile(file);
    bytes.fill(7, bytes.length >> 1, (bytes.length >> 1) + 60);
    await writeFile(join(folder, 'torn.zip'), bytes);
    expect(await wraith('restore', join(folder, 'torn.zip'), '--data', other.root)).toMatchObject({
      code: 1,
      said: expect.stringMatching(/^wraith: .*damaged/),
    });
    expect(await wraith('backup', '--out', file, '--data', folder)).toMatchObject({
      code: 1,
      said: expect.stringMatching(/^wraith: No server runs on the data folder/),
    });
  } finally {
    await server.end();
    await other.end();
    await rm(folder, { recursive: true, force: true });
  }
}, 90_000);
