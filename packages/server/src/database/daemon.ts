import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdir, readFile, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { join } from 'node:path';

/** A MariaDB of our own: Debian's program, loopback only, in a data folder of its own, stopped with us. */
export interface Database {
  port: number;
  user: string;
  database: string;
  socket: string;
  stop(): Promise<void>;
}

const asRoot = process.getuid?.() === 0;
const freePort = (): Promise<number> =>
  new Promise((resolve, reject) => {
    const probe = createServer()
      .once('error', reject)
      .listen(0, '127.0.0.1', () => {
        const { port } = probe.address() as { port: number };
        probe.close(() => resolve(port));
      });
  });

/** Ends a server that an earlier run left behind in this folder (its process id file says which). */
async function endStale(folder: string): Promise<void> {
  const text = await readFile(join(folder, 'm.pid'), 'utf8').catch(() => ''),
    pid = Number(text.trim());
  if (!pid) return;
  const command = await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '');
  if (!command.includes(folder)) return;
  process.kill(pid, 'SIGTERM');
  for (let i = 0; i < 100 && existsSync(`/proc/${pid}`); i++) await new Promise((r) => setTimeout(r, 100));
}

/** Starts MariaDB in `folder`, making its files on the first run. @throws Error in one clear line where it cannot start. */
export async function startDatabase(folder: string): Promise<Database> {
  if (!existsSync('/usr/sbin/mariadbd') && spawnSync('mariadbd', ['--version']).error)
    throw new Error('MariaDB is not installed; run: apt-get install -y --no-install-recommends mariadb-server');
  await mkdir(folder, { recursive: true });
  await endStale(folder);
  const data = join(folder, 'data'),
    socket = join(folder, 's.sock'),
    user = asRoot ? ['--user=root'] : [];
  if (socket.length > 100)
    throw new Error(`The database cannot start: the path of its socket is too long (${socket}); set WRAITHOS_DATA to a shorter folder.`);
  if (!existsSync(join(data, 'mysql'))) {
    await rm(data, { recursive: true, force: true });
    const made = spawnSync(
      'mariadb-install-db',
      [
        '--no-defaults',
        ...user,
        `--datadir=${data}`,
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
  }
  const port = await freePort();
  const child = spawn(
    'mariadbd',
    [
      '--no-defaults',
      ...user,
      `--datadir=${data}`,
      '--bind-address=127.0.0.1',
      `--port=${port}`,
      `--socket=${socket}`,
      `--pid-file=${join(folder, 'm.pid')}`,
      '--character-set-server=utf8mb4',
      '--collation-server=utf8mb4_unicode_ci',
      '--max-allowed-packet=64M',
      '--skip-log-bin',
      '--innodb-buffer-pool-size=64M',
    ],
    { stdio: ['ignore', 'ignore', 'pipe'], detached: true },
  );
  let errors = '',
    gone = false;
  child.stderr.on('data', (chunk: Buffer) => {
    errors = (errors + chunk.toString()).slice(-4000);
  });
  child.on('exit', () => {
    gone = true;
  });
  const name = process.env.USER ?? 'root',
    sql = (text: string) =>
      spawnSync('mariadb', ['--no-defaults', `--socket=${socket}`, `--user=${asRoot ? 'root' : name}`, '-e', text], { encoding: 'utf8' });
  for (let i = 0; ; i++) {
    if (gone || i > 300) {
      await stop(child);
      throw new Error(
        `The database did not start: ${
          errors
            .split('\n')
            .filter((l) => /ERROR/.test(l))
            .pop()
            ?.replace(/^.*\[ERROR\]\s*/, '') ?? 'no reason given'
        }`,
      );
    }
    const made = sql(
      "CREATE DATABASE IF NOT EXISTS wraithos; CREATE USER IF NOT EXISTS wraithos@localhost IDENTIFIED BY ''; GRANT ALL ON wraithos.* TO wraithos@localhost;",
    );
    if (made.status === 0) break;
    await new Promise((r) => setTimeout(r, 100));
  }
  return { port, user: 'wraithos', database: 'wraithos', socket, stop: () => stop(child) };
}

/** Asks the server to end and waits until it has. */
async function stop(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const over = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGTERM');
  await over;
}
