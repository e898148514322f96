import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { readdir, readFile, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { addCue } from '@wraithos/core/shot';
import { later, optionsFor, png, TestServer } from '../test/harness';
import { open } from './open';

/** The database's own process. */
const pidOf = async (root: string) => Number((await readFile(join(root, 'mariadb', 'm.pid'), 'utf8')).trim());

describe('the database', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await TestServer.start();
  }, 60_000);
  afterAll(() => server?.end(), 60_000);

  test('that dies is started again; who asks meanwhile waits for it, and edits go on', async () => {
    const id = await server.newShot('HT_010');
    process.kill(await pidOf(server.root), 'SIGKILL');
    const begun = Date.now();
    let state = '';
    for (let i = 0; i < 100 && state !== 'down'; i++) {
      const health = await server.api().get('/api/health');
      ({ state } = health.body.database as { state: string });
      if (state === 'down') expect([health.status, health.body.ok]).toEqual([503, false]);
      await later(5);
    }
    expect(state).toBe('down');
    expect((await server.save(id, addCue('q1', 'strike', 1003))).status).toBe(200);
    expect(Date.now() - begun).toBeLessThan(15_000);
    expect((await server.api().get('/api/health').expect(200)).body).toMatchObject({ ok: true, database: { state: 'up', restarts: 1 } });
  }, 60_000);

  test('that does not come back in time is told with 503, and words', async () => {
    const { daemon } = server.services;
    (daemon as unknown as { state: string }).state = 'down';
    const ready = daemon.ready.bind(daemon);
    daemon.ready = () => ready(50);
    try {
      const { body, headers } = await server.api().get('/api/shots').expect(503);
      expect([body.type, body.detail, headers['retry-after']]).toEqual([
        '/problems/database',
        expect.stringMatching(/^The database does not answer/),
        '1',
      ]);
    } finally {
      (daemon as unknown as { state: string }).state = 'up';
      daemon.ready = ready;
    }
  });

  test('listens on no port, takes no account without a password, and its files are for this account alone', async () => {
    const pid = await pidOf(server.root),
      sockets = new Set<string>();
    for (const name of await readdir(`/proc/${pid}/fd`)) {
      const link = execFileSync('readlink', [`/proc/${pid}/fd/${name}`]).toString();
      const inode = /socket:\[(\d+)\]/.exec(link)?.[1];
      if (inode) sockets.add(inode);
    }
    const tcp = (await readFile('/proc/net/tcp', 'utf8')) + (await readFile('/proc/net/tcp6', 'utf8').catch(() => ''));
    expect(tcp.split('\n').filter((line) => sockets.has(line.trim().split(/\s+/)[9] ?? ''))).toEqual([]);
    expect(() =>
      execFileSync(
        'mariadb',
        ['--no-defaults', `--socket=${join(server.root, 'mariadb', 's.sock')}`, '--user=wraithos', '-e', 'SELECT 1'],
        { stdio: 'pipe' },
      ),
    ).toThrow();
    const open: string[] = [];
    const look = async (path: string): Promise<void> => {
      const info = await stat(path);
      if (info.isSocket()) return;
      if (info.mode & 0o077) open.push(`${(info.mode & 0o777).toString(8)} ${path}`);
      if (info.isDirectory()) for (const name of await readdir(path)) await look(join(path, name));
    };
    await server.medium(await png(3), 'tide.png');
    await look(server.root);
    // MariaDB gives these a mode of its own, inside a folder that nobody else may enter.
    expect(open.filter((line) => !/\/mariadb\/data\//.test(line))).toEqual([]);
  }, 30_000);
});

describe('the folder', () => {
  test('is for one server: a second one ends in one line that names the first', async () => {
    const server = await TestServer.start();
    try {
      const error = await open(optionsFor(server.root)).then(
        () => null,
        (e: Error) => e,
      );
      expect(error!.message).toMatch(
        new RegExp(
          `^The data folder .+ is in use by the process ${process.pid} since .+, at http://127\\.0\\.0\\.1:${server.app.port}\\..+$`,
        ),
      );
      // The first one is not disturbed.
      await server.api().get('/api/shots').expect(200);
    } finally {
      await server.end();
    }
  }, 60_000);

  test('of the version before is copied before it is changed', async () => {
    const server = await TestServer.start();
    await server.newShot('HT_070');
    const data = join(server.root, 'mariadb', 'data');
    // As the version before left it.
    await server.services.database.query("DELETE FROM migrations WHERE name = 'Bounds1764600000000'");
    for (const column of ['attempts', 'interrupted', 'deleted'])
      await server.services.database.query(`ALTER TABLE jobs DROP COLUMN ${column}`);
    await server.services.database.query('ALTER TABLE shots DROP COLUMN facts');
    await server.services.database.query('ALTER TABLE media DROP COLUMN deleted, DROP COLUMN told');
    await server.app.close();
    for (const mark of ['whole', 'form']) await rm(join(data, mark), { force: true });
    await server.open();
    expect(existsSync(join(server.root, 'mariadb', 'before-Stock1764700000000', 'wraithos', 'shots.ibd'))).toBe(true);
    expect((await server.api().get('/api/shots').expect(200)).body).toMatchObject([{ code: 'HT_070', width: 64, last: 1006 }]);
    await server.end();
  }, 60_000);
});
