import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import type { ElementHandle, HTTPRequest, Page } from 'puppeteer-core';
import { sendWhole } from '@wraithos/contract';
import { addRow, applyEdit, type Shot } from '@wraithos/core/shot';
import { Application } from './application';
import { clickText, openBrowser, openRequests, pageMemory, saved, setField, settled, sleep, until, watch } from './browser';
import { journey } from './journey';

let app: Application,
  browser: Awaited<ReturnType<typeof openBrowser>>,
  page: Page,
  errors: string[],
  waiting: () => string[] = () => [],
  shot = '',
  files = '';
const step = journey(
  () => page,
  () => waiting(),
);
interface Opened {
  revision: number;
  document: Shot;
}
const stored = () => app.get<Opened>(`/shots/${shot}`);
const reach = async () => (await stored()).document.rows.r1!.values.reach as number;
/** What stands in an element; empty where there is none. */
const textOf = (selector: string) => page.evaluate((wanted) => document.querySelector(wanted)?.textContent ?? '', selector);
const saveState = () => textOf('[aria-label=Saving]');

beforeAll(async () => {
  files = await mkdtemp(join(tmpdir(), 'wraithos-lost-'));
  app = await Application.start({ WRAITHOS_DEMO: 'none' });
  browser = await openBrowser();
  const production = (await app.send<{ id: string }>('POST', '/productions', { name: 'Harbour' })).body.id,
    pictures: [Uint8Array, string][] = [];
  for (let i = 0; i < 12; i++) {
    const picture = await sharp({ create: { width: 320, height: 180, channels: 3, background: { r: 20 + i * 4, g: 40, b: 90 } } })
      .png()
      .toBuffer();
    pictures.push([picture, `dusk${i}.png`]);
  }
  const job = (await (await sendWhole(app.base, pictures, '/media')).json()) as { id: string };
  const { result } = await until('the clip', async () => {
    const now = await app.get<{ result: { hash: string } | null }>(`/jobs/${job.id}`);
    return now.result ? { result: now.result } : null;
  });
  shot = (await app.send<{ id: string }>('POST', '/shots', { production, code: 'HT_090', medium: result.hash })).body.id;
  const { document } = await stored(),
    { change } = applyEdit(document, addRow({ id: 'r1', effect: 'glow', lane: 'whole', subject: null }));
  await app.send('POST', `/shots/${shot}/edits`, { base: 1, edits: [{ ...change, kind: 'do' }] });
  page = await browser.browser.newPage();
  errors = watch(page);
  waiting = openRequests(page);
}, 120_000);
afterAll(async () => {
  await browser?.close();
  await app?.close();
  await rm(files, { recursive: true, force: true });
}, 60_000);

async function open(): Promise<void> {
  await page.goto(`${app.base}/shots/${shot}/effects`);
  await page.waitForSelector('canvas.picture');
  await settled(page);
  await page.click('.row-item[aria-label="Glow"]');
  await page.waitForSelector('.settings');
}
/** Presses an arrow key on a value: every press is an edit. */
async function nudge(times: number, key: 'ArrowUp' | 'ArrowDown' = 'ArrowUp'): Promise<void> {
  await page.click('.row-item[aria-label="Glow"]');
  await page.waitForSelector('.settings label');
  const id = await page.evaluate(() =>
    [...document.querySelectorAll('.settings label')].find((l) => (l.textContent ?? '').trim() === 'Reach')!.getAttribute('for'),
  );
  await page.focus(`#${id}`);
  for (let i = 0; i < times; i++) await page.keyboard.press(key);
}

step(
  '521 changes made while the server is away are counted, kept over a reload, and all arrive',
  async () => {
    await open();
    const before = await stored();
    await app.end(true);
    await nudge(521);
    await until('the count', async () => /^offline: 521 changes since \d\d:\d\d kept here$/.test(await saveState()));
    await app.launch();
    await saved(page);
    expect((await stored()).revision).toBe(before.revision + 521);
    expect(await reach()).toBe((before.document.rows.r1!.values.reach as number) + 521);
    // Once more, and the page is closed before the server is back.
    await app.end(true);
    await nudge(30, 'ArrowDown');
    await until('the count', async () => /^offline: 30 changes since \d\d:\d\d kept here$/.test(await saveState()));
    await page.goto('about:blank');
    await app.launch();
    await open();
    await until('the notice', async () => (await textOf('.notice')).includes('30 changes that were kept here have been put back'));
    await saved(page);
    expect(await reach()).toBe((before.document.rows.r1!.values.reach as number) + 491);
  },
  180_000,
);

step(
  'a change that the server refuses is set aside with its reason; it can be saved to a file and laid on later, and the others arrive',
  async () => {
    const before = await reach();
    await page.setRequestInterception(true);
    let refusing = true;
    const intercept = (request: HTTPRequest) => {
      if (refusing && request.method() === 'POST' && request.url().endsWith('/edits') && (request.postData() ?? '').includes('"opacity"'))
        void request.respond({
          status: 422,
          contentType: 'application/problem+json',
          body: JSON.stringify({ type: '/problems/invalid-edit', detail: '"Change effect" does not give a valid shot.', edit: 0 }),
        });
      else void request.continue();
    };
    page.on('request', intercept);
    await setField(page, 'Opacity', '40');
    await until('the badge', async () => (await textOf('.aside-button')) === '1 set aside');
    await nudge(3);
    await saved(page);
    expect([await reach(), (await stored()).document.rows.r1!.opacity]).toEqual([before + 3, 100]);
    refusing = false;
    page.off('request', intercept);
    await page.setRequestInterception(false);
    // It is there after a reload, too.
    await open();
    await page.waitForSelector('.aside-button');
    await page.click('.aside-button');
    const text = await page.$eval('[aria-label="Changes set aside"]', (el) => el.textContent ?? '');
    expect(text).toContain('does not give a valid shot');
    const client = await page.createCDPSession();
    await client.send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: files });
    await clickText(page, 'Save to a file');
    // A file that is there is not yet one that is written.
    const kept = await until('the file', async () => {
      const name = (await readdir(files)).find((n) => n.endsWith('.json'));
      try {
        return name && (JSON.parse(await readFile(join(files, name), 'utf8')) as unknown);
      } catch {
        return null;
      }
    });
    expect(kept).toMatchObject({ kind: 'wraithos changes', edits: [{ kind: 'do' }] });
    await clickText(page, 'Lay on HT_090');
    await until('it is laid on', async () => (await stored()).document.rows.r1!.opacity === 40);
    await page.keyboard.press('Escape');
    await until('the badge is gone', async () => (await page.$('.aside-button')) === null);
    await page.keyboard.down('Control');
    await page.keyboard.press('z');
    await page.keyboard.up('Control');
    await until('undo', async () => (await stored()).document.rows.r1!.opacity === 100);
  },
  120_000,
);

step(
  'a bundle is saved from the page and brought in; Room shows what uses how much, asks before a clip that is used goes, and brings back',
  async () => {
    await page.goto(app.base);
    await clickText(page, 'Save as a bundle');
    const address = await until('the link', () =>
        page.$$eval(
          '.modal a',
          (links) => links.find((a) => (a as HTMLAnchorElement).href.includes('/bundle'))?.getAttribute('href') ?? null,
        ),
      ),
      archive = Buffer.from(await (await fetch(app.base + address)).arrayBuffer()),
      path = join(files, 'harbour.wraithos.zip');
    await writeFile(path, archive);
    await page.keyboard.press('Escape');
    await sleep(400);
    const { revision } = await stored();
    const field = (await page.$('input[aria-label="Bundle to bring in"]')) as ElementHandle<HTMLInputElement>;
    await field.uploadFile(path);
    await until('what came in', async () => (await textOf('.notice')).includes('One shot is here already'));
    expect((await stored()).revision).toBe(revision);
    await clickText(page, 'Room');
    await until('the clip', async () => (await textOf('[aria-label=Clips]')).includes('HT_090'));
    await clickText(page, 'Remove', '[aria-label=Clips]');
    await until('the question', async () => (await textOf('.modal')).includes('is used by HT_090'));
    await clickText(page, 'Keep it');
    await until('it is closed', async () => (await page.$('.modal')) === null);
    await clickText(page, 'Remove', '[aria-label=Clips]');
    await clickText(page, 'Remove it');
    await until('the bin', async () => (await textOf('[aria-label=Bin]')).includes('gone for good on'));
    await clickText(page, 'Undo');
    await until('it is back', async () => (await textOf('[aria-label=Clips]')).includes('HT_090'));
  },
  120_000,
);

step(
  'two thousand nudges keep the page within the memory that Preferences allow',
  async () => {
    await open();
    await clickText(page, 'Preferences');
    await page.select('#preferences-memory', '256');
    await page.keyboard.press('Escape');
    await until('it is closed', async () => (await page.$('.modal')) === null);
    const drawn = () => page.evaluate(() => (window as unknown as { wraithosDrawn(): number }).wraithosDrawn()),
      remembered = () =>
        page.evaluate(async () => {
          const { pictures, steps, sources } = await (
            window as unknown as { wraithosMemory(): Promise<Record<string, number>> }
          ).wraithosMemory();
          return (pictures! + steps! + sources!) / 2 ** 20;
        }),
      begun = await drawn(),
      sizes: number[] = [];
    await page.click('.row-item[aria-label="Glow"]');
    await setField(page, 'Reach', '0');
    for (let round = 0; round < 8; round++) {
      await nudge(250);
      if (round % 4 === 3) {
        // Some playing in between.
        await page.keyboard.press('Escape');
        await page.keyboard.press('Space');
        await sleep(700);
        await page.keyboard.press('Space');
        await page.click('.row-item[aria-label="Glow"]');
        await page.waitForSelector('.settings');
      }
      expect(await remembered()).toBeLessThan(256 + 8);
      sizes.push(Math.round(await pageMemory()));
    }
    const made = (await drawn()) - begun;
    process.stderr.write(
      `2000 nudges: ${made} pictures drawn, page processes ${sizes.join(', ')} MiB, remembered ${Math.round(await remembered())} MiB\n`,
    );
    expect(made).toBeGreaterThan(300);
    // The program itself, the working memory (64 MiB here), and what is remembered.
    expect(sizes.at(-1)!).toBeLessThan(256 + 64 + 500);
    expect(sizes.at(-1)! - sizes[3]!).toBeLessThan(120);
    await saved(page);
  },
  240_000,
);

step(
  'no page wrote an error',
  async () => {
    expect(errors.filter((text) => !/Failed to load resource|ERR_CONNECTION_REFUSED|net::ERR/.test(text))).toEqual([]);
  },
  5_000,
);
