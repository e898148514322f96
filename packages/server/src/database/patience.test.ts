import { Patience } from './patience';
import { isConnectionTrouble, isDatabaseFull } from './trouble';

const broken = Object.assign(new Error('Connection lost: The server closed the connection.'), { code: 'PROTOCOL_CONNECTION_LOST' });

test('work is done again when the line broke, once the database is back; other errors are told at once', async () => {
  const daemon = { state: 'down' as 'down' | 'up', ready: () => Promise.resolve((daemon.state = 'up') === 'up') };
  let tries = 0;
  expect(await new Patience(daemon).through(() => (++tries < 3 ? Promise.reject(broken) : Promise.resolve('done')))).toBe('done');
  await expect(new Patience(daemon).through(() => Promise.reject(new Error('of another kind')))).rejects.toThrow('of another kind');
});

test('nobody waits for a database that does not come back once everything ends', async () => {
  const patience = new Patience({ state: 'down', ready: () => new Promise((resolve) => setTimeout(() => resolve(false), 30)) }),
    work = patience.through(() => Promise.reject(broken));
  setTimeout(() => patience.close(), 120);
  await expect(work).rejects.toBe(broken);
});

test('errors of the driver are told apart: a line that broke, a disk that is full, and everything else', () => {
  const wrapped = { driverError: { code: 'ECONNREFUSED' } },
    missing = { code: 'ENOENT', syscall: 'connect' },
    full = { driverError: { code: 'ER_RECORD_FILE_FULL' } },
    errno = { sqlMessage: 'Got error 28 "No space left on device" from storage engine InnoDB' };
  expect(
    [wrapped, missing, full, errno, { code: 'ENOENT', syscall: 'open' }].map((e) => [isConnectionTrouble(e), isDatabaseFull(e)]),
  ).toEqual([
    [true, false],
    [true, false],
    [false, true],
    [false, true],
    [false, false],
  ]);
});
