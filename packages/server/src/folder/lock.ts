import { spawn } from 'node:child_process';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/** Who works on a data folder. */
interface Holder {
  pid: number;
  port: number;
  since: string;
}

/** How long a start waits for a server that is just ending. */
const PATIENCE_MS = 3000;

/**
 * Takes the folder for this process alone. The lock is the kernel's (flock), held by a small child that lives as long as its pipe to us, so
 * that it is let go at whatever moment and in whatever way this process ends; the file's text only says who holds it.
 * @returns how to let it go. @throws Error in one line that names who holds the folder.
 */
export async function lockFolder(folder: string, port: number): Promise<() => Promise<void>> {
  const file = join(folder, 'lock');
  for (const end = Date.now() + PATIENCE_MS; ;) {
    const child = spawn('flock', ['--nonblock', '--conflict-exit-code', '75', file, 'sh', '-c', 'echo held; exec cat'], {
      stdio: ['pipe', 'pipe', 'ignore'],
    });
    const over = new Promise<number | null>((resolve) => {
      child.once('exit', (code) => resolve(code));
      child.once('error', () => resolve(127));
    });
    const code = await Promise.race([over, new Promise<'held'>((resolve) => child.stdout.once('data', () => resolve('held')))]);
    if (code === 'held') {
      await writeFile(file, JSON.stringify({ pid: process.pid, port, since: new Date().toISOString() } satisfies Holder));
      // It must not keep this process alive.
      child.unref();
      (child.stdin as unknown as { unref(): void }).unref();
      (child.stdout as unknown as { unref(): void }).unref();
      return async () => {
        child.stdin.end();
        await over;
      };
    }
    if (code !== 75)
      throw new Error(`The data folder ${folder} cannot be locked; is it writable, and is the Debian package util-linux installed?`);
    if (Date.now() > end) throw new Error(await heldBy(folder, file));
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}

async function heldBy(folder: string, file: string): Promise<string> {
  const holder = await readFile(file, 'utf8')
    .then((text) => JSON.parse(text) as Holder)
    .catch(() => null);
  const who = holder
    ? `the process ${holder.pid} since ${new Date(holder.since).toLocaleString('en-GB')}, at http://127.0.0.1:${holder.port}`
    : 'another process';
  return `The data folder ${folder} is in use by ${who}. Stop that one first, or choose another folder with WRAITHOS_DATA.`;
}
