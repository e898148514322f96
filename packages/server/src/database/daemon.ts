import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { chmod, mkdir } from 'node:fs/promises';
import { connect } from 'node:net';
import { userInfo } from 'node:os';
import { join } from 'node:path';
import { confined } from '@wraithos/runtime';
import { copyBeforeMigration } from './copyBefore';
import { asRoot, endOthers, makeFiles } from './files';

const account = asRoot ? 'root' : userInfo().username;
/** Waits between attempts to start it again, milliseconds; the last one is repeated. */
const BACK_OFF = [100, 300, 1000, 2000, 5000, 10_000];
/** A database that says nothing for so long is taken for stuck. */
const SILENT_MS = 30_000;
const later = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

export type DaemonState = 'starting' | 'up' | 'down' | 'closed';

/**
 * A MariaDB of our own: Debian's program in a folder of its own. It listens on a socket in that folder and nowhere else; the password is made
 * anew for each run and kept in memory alone. It ends with this process, however that ends, and is started again when it ends by itself.
 */
export class Daemon {
  state: DaemonState = 'starting';
  /** When the state last changed. */
  since = new Date();
  /** How often it had to be started again. */
  restarts = 0;
  readonly socket: string;
  readonly user = 'wraithos';
  readonly database = 'wraithos';
  readonly password = randomBytes(24).toString('base64url');
  private child: ChildProcess | null = null;
  private readonly waiting = new Set<() => void>();
  private watch: ReturnType<typeof setInterval> | null = null;
  private heard = Date.now();

  private constructor(
    private readonly folder: string,
    private readonly log: (error: unknown) => void,
  ) {
    this.socket = join(folder, 's.sock');
  }

  /** Makes the files of a database where there are none yet, and starts it. @throws Error in one clear line. */
  static async start(
    folder: string,
    log: (error: unknown) => void = () => undefined,
    say: (line: string) => void = () => undefined,
  ): Promise<Daemon> {
    if (!existsSync('/usr/sbin/mariadbd') && spawnSync('mariadbd', ['--version']).error)
      throw new Error('MariaDB is not installed; run: apt-get install -y --no-install-recommends mariadb-server');
    const daemon = new Daemon(folder, log);
    if (daemon.socket.length > 100)
      throw new Error(
        `The database cannot start: the path of its socket is too long (${daemon.socket}); set WRAITHOS_DATA to a shorter folder.`,
      );
    await mkdir(folder, { recursive: true });
    await chmod(folder, 0o700);
    await endOthers(join(folder, 'data'));
    await makeFiles(folder);
    const copy = await copyBeforeMigration(folder);
    if (copy) say(`the database of the version before was copied to ${copy}`);
    try {
      await daemon.launch();
    } catch (error) {
      await daemon.stop();
      throw error;
    }
    daemon.watch = setInterval(() => void daemon.listenForLife(), 5000);
    daemon.watch.unref();
    return daemon;
  }

  private set(state: DaemonState): void {
    if (this.state === state || this.state === 'closed') return;
    this.state = state;
    this.since = new Date();
    if (state === 'up' || state === 'closed') for (const go of [...this.waiting]) go();
  }

  /** Starts the program and waits until it answers. */
  private async launch(): Promise<void> {
    const [command, args] = confined(
      'mariadbd',
      [
        '--no-defaults',
        ...(asRoot ? ['--user=root'] : []),
        `--datadir=${join(this.folder, 'data')}`,
        '--skip-networking',
        `--socket=${this.socket}`,
        `--pid-file=${join(this.folder, 'm.pid')}`,
        '--character-set-server=utf8mb4',
        '--collation-server=utf8mb4_unicode_ci',
        '--max-allowed-packet=64M',
        '--skip-log-bin',
        '--innodb-buffer-pool-size=64M',
        // Temporary files of large sorts stay where nobody else looks.
        `--tmpdir=${join(this.folder, 'tmp')}`,
      ],
      {},
      'TERM',
    );
    await mkdir(join(this.folder, 'tmp'), { recursive: true, mode: 0o700 });
    const child = spawn(command, args, {
      stdio: ['ignore', 'ignore', 'pipe'],
      // Ctrl-C in a terminal goes to a whole group; the database is stopped by us, after the jobs.
      detached: true,
      env: { ...process.env, UMASK: '0600', UMASK_DIR: '0700' },
    });
    this.child = child;
    let errors = '',
      gone = false;
    child.stderr.on('data', (chunk: Buffer) => {
      errors = (errors + chunk.toString()).slice(-4000);
    });
    child.on('error', () => (gone = true));
    child.on('exit', () => {
      gone = true;
      if (this.child === child) this.ended();
    });
    const sql = [
      `CREATE DATABASE IF NOT EXISTS ${this.database}`,
      `CREATE USER IF NOT EXISTS ${this.user}@localhost IDENTIFIED BY '${this.password}'`,
      `ALTER USER ${this.user}@localhost IDENTIFIED BY '${this.password}'`,
      `GRANT ALL ON ${this.database}.* TO ${this.user}@localhost`,
    ];
    for (const end = Date.now() + 60_000; ;) {
      if (gone || Date.now() > end) {
        if (this.state === 'up') this.set('down');
        throw new Error(`The database did not start: ${reasonOf(errors)}`);
      }
      if (this.state === 'closed') return;
      if (existsSync(this.socket) && (await this.administer(`${sql.join(';\n')};`))) break;
      await later(50);
    }
    this.heard = Date.now();
    this.set('up');
  }

  /** Runs SQL as the account that the system vouches for. The text goes by a pipe: arguments of a process can be read by everybody. */
  private administer(text: string): Promise<boolean> {
    return new Promise((resolve) => {
      const client = spawn('mariadb', ['--no-defaults', `--socket=${this.socket}`, `--user=${account}`], {
        stdio: ['pipe', 'ignore', 'ignore'],
      });
      client.once('error', () => resolve(false));
      client.once('exit', (code) => resolve(code === 0));
      client.stdin.on('error', () => undefined);
      client.stdin.end(text);
    });
  }

  /** It ended by itself: it is started again, the sooner the rarer that happens. */
  private ended(): void {
    this.child = null;
    if (this.state === 'closed' || this.state === 'starting') return;
    if (this.state === 'down') return;
    this.set('down');
    void (async () => {
      for (let attempt = 0; this.state === 'down'; attempt++) {
        await later(BACK_OFF[Math.min(attempt, BACK_OFF.length - 1)]!);
        if (this.state !== 'down') return;
        this.restarts++;
        try {
          await endOthers(join(this.folder, 'data'));
          await this.launch();
        } catch (error) {
          this.log(error);
        }
      }
    })();
  }

  /** A running database greets everybody who connects; one that does not for long is ended, and started again. */
  private async listenForLife(): Promise<void> {
    if (this.state !== 'up') return;
    const alive = await new Promise<boolean>((resolve) => {
      const line = connect(this.socket),
        done = (heard: boolean) => {
          line.destroy();
          resolve(heard);
        };
      line.setTimeout(4000, () => done(false));
      line.once('data', () => done(true));
      line.once('error', () => done(false));
    });
    if (alive) this.heard = Date.now();
    else if (Date.now() - this.heard > SILENT_MS) this.child?.kill('SIGKILL');
  }

  /** Waits until the database answers, for `ms` at most. @returns whether it does. */
  async ready(ms: number): Promise<boolean> {
    if (this.state === 'up') return true;
    if (this.state === 'closed') return false;
    await new Promise<void>((resolve) => {
      const go = () => {
        clearTimeout(timer);
        this.waiting.delete(go);
        resolve();
      };
      const timer = setTimeout(go, ms);
      this.waiting.add(go);
    });
    return (this.state as DaemonState) === 'up';
  }

  /** Asks it to end and waits; one that takes longer than `ms` is killed, which loses nothing that was acknowledged. */
  async stop(ms = 5000): Promise<void> {
    const { child } = this;
    this.set('closed');
    if (this.watch) clearInterval(this.watch);
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const over = new Promise<boolean>((resolve) => child.once('exit', () => resolve(true)));
    child.kill('SIGTERM');
    if (!(await Promise.race([over, later(ms).then(() => false)]))) {
      child.kill('SIGKILL');
      await over;
    }
  }
}

const reasonOf = (errors: string): string =>
  errors
    .split('\n')
    .filter((line) => /ERROR/.test(line))
    .pop()
    ?.replace(/^.*\[ERROR\]\s*/, '') ?? 'no reason given';
