import { cpus } from 'node:os';
import type { Page } from 'puppeteer-core';
import { Application } from './application';
import { clickText, goTo, openBrowser, settled, sleep, until } from './browser';

/*
 * Times the real interface in Chromium, on TW_010 finished: npm run bench:interface. Prints one JSON object; docs/performance.md says how to read it.
 */
interface Shown {
  key: string;
  frame: number;
  width: number;
  at: number;
}
const shownSince = (page: Page, from: number): Promise<Shown[]> =>
  page.evaluate((at) => (window as unknown as { wraithosShown: Shown[] }).wraithosShown.filter((s) => s.at > at), from);
const now = (page: Page): Promise<number> => page.evaluate(() => performance.now());
const part = (values: number[], share: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * share))]!;
const summary = (values: number[]) => ({ median: Math.round(part(values, 0.5)), p95: Math.round(part(values, 0.95)) });

/** Nudges a value with the arrow keys and times the first picture that follows, and the sharp one. */
async function nudges(page: Page, row: string, field: string, count: number) {
  await clickText(page, row);
  const id = `#field-${field.replace(/\W+/g, '-').toLowerCase()}`;
  await page.waitForSelector(id);
  await page.focus(id);
  await page.evaluate(() => {
    const w = window as unknown as { pressedAt: number };
    addEventListener('keydown', () => (w.pressedAt = performance.now()), { capture: true });
  });
  const first: number[] = [],
    sharp: number[] = [];
  for (let i = 0; i < count; i++) {
    await settled(page);
    await sleep(250);
    await page.keyboard.press('ArrowUp');
    const pressed = await page.evaluate(() => (window as unknown as { pressedAt: number }).pressedAt),
      factor = await page.evaluate(() => 2 as number);
    const seen = await until('the sharp picture', async () => {
      const all = await shownSince(page, pressed);
      return all.some((s) => s.width >= 1280 / factor) ? all : null;
    });
    first.push(seen[0]!.at - pressed);
    sharp.push(seen.find((s) => s.width >= 1280 / factor)!.at - pressed);
  }
  return { first: summary(first), sharp: summary(sharp) };
}

/** Waits until every frame of the strip is drawn. */
async function computed(page: Page): Promise<void> {
  const hatched = () => page.evaluate(() => document.querySelectorAll('.film .hatch').length);
  await until('all frames', async () => (await hatched()) === 0, 300_000);
  // The strip shows only some of them.
  await until(
    'the last of them',
    async () => {
      const before = await page.evaluate(() => (window as unknown as { wraithosDrawn: () => number }).wraithosDrawn());
      await sleep(1500);
      return (await page.evaluate(() => (window as unknown as { wraithosDrawn: () => number }).wraithosDrawn())) === before;
    },
    300_000,
  );
}

/** Plays computed frames and counts those that were shown late or not at all. */
async function playback(page: Page, seconds: number) {
  const from = await now(page);
  await page.keyboard.press('Space');
  await sleep(seconds * 1000);
  await page.keyboard.press('Space');
  const seen = (await shownSince(page, from)).slice(2);
  let dropped = 0;
  for (let i = 1; i < seen.length; i++) dropped += Math.max(0, seen[i]!.frame - seen[i - 1]!.frame - 1);
  const gaps = seen.slice(1).map((s, i) => s.at - seen[i]!.at);
  return {
    frames: seen.length,
    perSecond: Number(((seen.length - 1) / ((seen[seen.length - 1]!.at - seen[0]!.at) / 1000)).toFixed(1)),
    skipped: dropped,
    longestGap: Math.round(Math.max(...gaps)),
  };
}

/** Frames a second of a server that renders on some threads. */
async function served(threads: number): Promise<number> {
  process.env.WRAITHOS_THREADS = String(threads);
  const server = await Application.start();
  try {
    const list = await until('the demo', async () => {
        const all = await server.get<{ id: string; rows: number }[]>('/shots');
        return all.length >= 2 ? all : null;
      }),
      shot = list.find((s) => s.rows > 0)!.id,
      render = async (first: number, last: number) => {
        const job = (await server.send<{ id: string }>('POST', '/jobs', { shot, format: 'png', first, last, factor: 1 })).body.id,
          begun = Date.now();
        await until('the render', async () => (await server.get<{ state: string }>(`/jobs/${job}`)).state === 'done', 300_000);
        return Date.now() - begun;
      };
    await render(1001, 1008);
    return Number((96000 / (await render(1001, 1096))).toFixed(2));
  } finally {
    await server.close();
    delete process.env.WRAITHOS_THREADS;
  }
}

const app = await Application.start();
const result: Record<string, unknown> = { machine: `${cpus().length} cores` };
try {
  const shots = await until('the demo', async () => {
      const list = await app.get<{ id: string; rows: number }[]>('/shots');
      return list.length >= 2 ? list : null;
    }),
    shot = shots.find((s) => s.rows > 0)!;
  const { browser, close } = await openBrowser();
  try {
    const page = await browser.newPage();
    const begun = Date.now();
    await page.goto(`${app.base}/shots/${shot.id}/effects`, { waitUntil: 'domcontentloaded' });
    await page.waitForSelector('canvas.picture');
    result.coldPage = Date.now() - begun;
    await until('a picture', async () => (await shownSince(page, 0)).length > 0);
    result.firstPicture = Date.now() - begun;
    await settled(page);
    await goTo(page, 1068);
    await settled(page);
    result.seek = await (async () => {
      const seen = await shownSince(page, 0);
      return seen[seen.length - 1];
    })();
    result.look = await nudges(page, 'Glow', 'Strength', 30);
    result.motion = await nudges(page, 'Dissolve', 'Wind', 30);
    // All frames computed at full size, then played at the shot's rate, and as a shot of 60 frames a second.
    await clickText(page, 'full');
    await goTo(page, 1001);
    await settled(page);
    await computed(page);
    result.play24 = await playback(page, 3);
    const { revision } = await app.get<{ revision: number }>(`/shots/${shot.id}`),
      rate = (num: number) => [{ op: 'replace', path: ['rate'], value: { num, den: 1 } }];
    await app.send('POST', `/shots/${shot.id}/edits`, {
      base: revision,
      edits: [{ name: 'Rate', kind: 'do', patches: rate(60), inverse: rate(24) }],
    });
    await page.reload();
    await page.waitForSelector('.film');
    await until('a picture', async () => (await shownSince(page, 0)).length > 0);
    await settled(page);
    await goTo(page, 1001);
    await computed(page);
    result.play60 = await playback(page, 1.4);
  } finally {
    await close();
  }
} finally {
  await app.close();
}
result.renderOneThread = await served(1);
result.renderTwoThreads = await served(2);
console.log(JSON.stringify(result, null, 1));
process.exit(0);
