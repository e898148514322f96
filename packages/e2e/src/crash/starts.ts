import { spawn } from 'node:child_process';
import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const main = join(process.cwd(), 'dist', 'server', 'main.mjs');
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

/** Starts the built server, with the demo, on a folder. Ends it hard after `cut` milliseconds, or gives the codes of its shots once it is up. */
async function start(root: string, port: number, cut: number | null): Promise<string[]> {
  const child = spawn(process.execPath, ['--no-warnings', main], {
      env: { ...process.env, WRAITHOS_DATA: root, PORT: String(port) },
      stdio: ['ignore', 'pipe', 'pipe'],
    }),
    over = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  let said = '';
  const up = new Promise<void>((resolve, reject) => {
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (chunk: Buffer) => {
        said += chunk.toString();
        if (said.includes('Wraithos is at')) resolve();
      });
    void over.then(() => reject(new Error(said.trim())));
  });
  up.catch(() => undefined);
  if (cut !== null) {
    await Promise.race([pause(cut), up.catch(() => undefined)]);
    child.kill('SIGKILL');
    await over;
    return [];
  }
  await up;
  const shots = (await (await fetch(`http://127.0.0.1:${port}/api/shots`)).json()) as { code: string }[];
  child.kill('SIGTERM');
  await over;
  return shots.map((s) => s.code).sort();
}

/**
 * Cuts first starts off at random moments, five in a row on each folder, and then lets one go through.
 * @returns what was wrong after the good start; empty where a cut-off start never harms.
 */
export async function cutStarts(cuts: number, random: () => number, say: (line: string) => void = () => undefined): Promise<string[]> {
  const wrong: string[] = [];
  for (let done = 0; done < cuts;) {
    const root = await mkdtemp(join(tmpdir(), 'wraithos-cut-')),
      port = await freePort(),
      times: number[] = [];
    try {
      for (let i = 0; i < 5 && done < cuts; i++, done++) {
        times.push(Math.round(150 + random() * 2600));
        await start(root, port, times.at(-1)!);
      }
      const codes = await start(root, port, null).catch((error: Error) => [error.message]);
      if (codes.join() !== 'TW_010,TW_010 start here,TW_020,TW_025,TW_030,TW_040,TW_050')
        wrong.push(`after cuts at ${times.join(', ')} ms: ${codes.join(', ')}`);
      for (const folder of ['mariadb', 'frames'])
        for (const name of await readdir(join(root, folder)))
          if (name.includes('part')) wrong.push(`after cuts at ${times.join(', ')} ms: ${folder}/${name} was left`);
      say(`${done} of ${cuts} starts cut off, ${wrong.length} wrong`);
    } finally {
      await rm(root, { recursive: true, force: true });
    }
  }
  return wrong;
}
