import { spawn } from 'node:child_process';
import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { existsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { endOthers, makeFiles } from './files';

/** A program that writes files into a data folder without end, as the set-up of a start that was cut off does; a stubborn one does not end when it is asked to. */
async function writer(data: string, stubborn: boolean) {
  const loop = `${stubborn ? 'trap "" TERM; ' : ''}i=0; while :; do i=$((i+1)); mkdir -p "${data}/sys/$((i%50))"; : > "${data}/sys/$((i%50))/$i"; done`,
    child = spawn('bash', ['-c', loop, 'writer', `--datadir=${data}`], { stdio: 'ignore' }),
    over = new Promise<string | null>((resolve) => child.once('exit', (_, signal) => resolve(signal)));
  while (!existsSync(join(data, 'sys'))) await new Promise((resolve) => setTimeout(resolve, 20));
  return { child, over };
}

test('a set-up that goes on after its start was cut off is ended, and the database is set up anew and whole', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'wraithos-files-')),
    left = await writer(join(folder, 'data.part'), false);
  try {
    await makeFiles(folder);
    expect(await left.over).toBe('SIGTERM');
    expect(await readdir(folder)).toEqual(['data']);
    expect(await readdir(join(folder, 'data'))).toEqual(expect.arrayContaining(['whole', 'mysql', 'ibdata1']));
    expect(await readdir(join(folder, 'data', 'sys'))).not.toContain('1');
  } finally {
    left.child.kill('SIGKILL');
    await rm(folder, { recursive: true, force: true });
  }
}, 60_000);

test('a program that does not end when it is asked to is killed', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'wraithos-files-')),
    data = join(folder, 'data'),
    left = await writer(data, true);
  try {
    await endOthers(data);
    expect(await left.over).toBe('SIGKILL');
    await rm(folder, { recursive: true });
  } finally {
    left.child.kill('SIGKILL');
    await rm(folder, { recursive: true, force: true });
  }
}, 60_000);
