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
