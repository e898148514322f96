import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/** MariaDB runs as root only where it is told so. */
export const asRoot = process.getuid?.() === 0;

const later = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));
/** A database that is asked to end has this long before it is killed, milliseconds. */
const PATIENCE_MS = 5000;

/** Programs that work on a data folder, by process id, but not this one. */
async function workingOn(data: string): Promise<number[]> {
  const ours = await Promise.all(
    (await readdir('/proc'))
      .filter((name) => /^\d+$/.test(name) && Number(name) !== process.pid)
      .map(async (name) => {
        const words = (await readFile(`/proc/${name}/cmdline`, 'utf8').catch(() => '')).split('\0');
        return words.includes(`--datadir=${data}`) ? [Number(name)] : [];
      }),
  );
  return ours.flat();
}

/**
 * Ends every program that an earlier run left at work on a data folder: it is asked to, and killed where it does not.
 * @throws Error in one clear line where one cannot be ended.
 */
export async function endOthers(data: string): Promise<void> {
  const begun = Date.now(),
    send = (pid: number, signal: NodeJS.Signals) => {
      try {
        process.kill(pid, signal);
      } catch {
        /* it ended meanwhile, or belongs to somebody else, which is told below */
      }
    };
  for (const pid of await workingOn(data)) send(pid, 'SIGTERM');
  for (let left = await workingOn(data); left.length; left = await workingOn(data)) {
    const waited = Date.now() - begun;
    if (waited > 2 * PATIENCE_MS)
      throw new Error(`Another program works on the database in ${data} (process ${left.join(', ')}); end it first.`);
    if (waited > PATIENCE_MS) for (const pid of left) send(pid, 'SIGKILL');
    await later(20);
  }
}

/** Makes the files of a new database beside their place, and moves them there when they are whole. */
export async function makeFiles(folder: string): Promise<void> {
  const part = join(folder, 'data.part');
  // What set up a database for a start that was cut off goes on by itself, and would write between the files of this one.
  await endOthers(part);
  await rm(part, { recursive: true, force: true });
  const data = join(folder, 'data'),
    whole = join(data, 'whole');
  if (existsSync(whole)) return;
  // A folder of an earlier version has no such mark; it is whole where its system tables and logs are there.
  if (existsSync(join(data, 'mysql')) && existsSync(join(data, 'ibdata1')) && existsSync(join(data, 'wraithos'))) {
    await writeFile(whole, '');
    return;
  }
  if (existsSync(join(data, 'wraithos')))
    throw new Error(`The database in ${data} is not whole, and was left as it is. Restore a backup into another folder (WRAITHOS_DATA).`);
  await rm(data, { recursive: true, force: true });
  const made = spawnSync(
    'mariadb-install-db',
    [
      '--no-defaults',
      ...(asRoot ? ['--user=root'] : []),
      `--datadir=${part}`,
      '--auth-root-authentication-method=socket',
      '--skip-test-db',
      '--innodb-log-file-size=8M',
    ],
    { encoding: 'utf8' },
  );
  if (made.status !== 0)
    throw new Error(
      `The database could not be set up in ${data}: ${(made.stderr || made.stdout || 'no reason given').trim().split('\n').pop()}`,
    );
  await writeFile(join(part, 'whole'), '');
  await rename(part, data);
}
