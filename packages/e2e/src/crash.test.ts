import { spawn } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { until } from './browser';
import { processesOf } from './crash/processes';
import { crash, random } from './crash/crash';
import { cutStarts } from './crash/starts';

test('ten rounds of ending the server, its database, both, or its workers: nothing acknowledged is lost, and nothing is left by half', async () => {
  const report = await crash(10, 20261128);
  process.stderr.write(`${JSON.stringify({ ...report, wrong: report.wrong.length })}\n`);
  expect(report.wrong).toEqual([]);
  expect(report.rounds).toBe(10);
  expect(report.edits).toBeGreaterThan(50);
}, 300_000);

test('a first start that is cut off, at any moment and again and again, is followed by a good one', async () => {
  expect(await cutStarts(5, random(20261128))).toEqual([]);
}, 120_000);

test('a server that ends by itself is brought up again by npm start; Ctrl-C ends all of it', async () => {
  const data = await mkdtemp(join(tmpdir(), 'wraithos-start-')),
    port = await new Promise<number>((resolve) => {
      const probe = createServer().listen(0, '127.0.0.1', () => {
        const { port: free } = probe.address() as { port: number };
        probe.close(() => resolve(free));
      });
    }),
    start = spawn(process.execPath, ['scripts/start.mjs'], {
      env: { ...process.env, WRAITHOS_DATA: data, WRAITHOS_DEMO: 'none', PORT: String(port) },
      stdio: 'ignore',
    }),
    over = new Promise<number | null>((resolve) => start.once('exit', (code) => resolve(code))),
    health = async () =>
      (await fetch(`http://127.0.0.1:${port}/api/health`).then(
        (response) => response.json(),
        () => null,
      )) as { ok?: boolean; process: { pid: number } } | null;
  try {
    const first = await until('the server', async () => {
      const now = await health();
      return now?.ok ? now.process.pid : null;
    });
    process.kill(first, 'SIGKILL');
    const second = await until('the next one', async () => {
      const now = await health();
      return now?.ok && now.process.pid !== first ? now.process.pid : null;
    });
    expect(second).not.toBe(first);
    const begun = Date.now();
    start.kill('SIGINT');
    expect(await over).toBe(0);
    expect(Date.now() - begun).toBeLessThan(10_000);
    expect(await processesOf(data)).toEqual([]);
  } finally {
    start.kill('SIGKILL');
    for (const { pid } of await processesOf(data)) process.kill(pid, 'SIGKILL');
    await rm(data, { recursive: true, force: true });
  }
}, 90_000);
