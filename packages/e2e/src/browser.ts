import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Browser, type KeyInput, type Page } from 'puppeteer-core';

/** A fresh Chromium with a profile of its own. */
export async function openBrowser(): Promise<{ browser: Browser; close(): Promise<void> }> {
  const profile = await mkdtemp(join(tmpdir(), 'wraithos-profile-'));
  const browser = await puppeteer.launch({
    executablePath: '/usr/bin/chromium',
    userDataDir: profile,
    protocolTimeout: 60_000,
    defaultViewport: { width: 1280, height: 800 },
    args: [
      ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
      '--disable-gpu',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      // Stories leave one page for the next: kept for "back", each would hold on to what it still asks for, and a browser asks a server six things at a time.
      '--disable-back-forward-cache',
    ],
  });
  return {
    browser,
    async close() {
      await browser.close();
      await rm(profile, { recursive: true, force: true });
    },
  };
}

/** Requests of a page that have no answer yet: what a step that hangs may be waiting for. */
export function openRequests(page: Page): () => string[] {
  const open = new Map<object, string>();
  page.on('request', (request) => open.set(request, `${request.method()} ${request.url()}`));
  for (const over of ['requestfinished', 'requestfailed'] as const) page.on(over, (request) => open.delete(request));
  return () => [...open.values()];
}

/** Messages that no page should have written. */
export function watch(page: Page): string[] {
  const troubles: string[] = [];
  page.on('pageerror', (error) => troubles.push(String((error as Error).message)));
  page.on('console', (message) => {
    if (message.type() === 'error' && !/status of (4\d\d|503)/.test(message.text())) troubles.push(message.text());
  });
  return troubles;
}

/** Hand actions of a story: clicks and presses of a key, drags, values that are typed or chosen, jumps to a frame. */
export interface HandCount {
  clicks: number;
  drags: number;
  values: number;
  jumps: number;
  keys: number;
}
const none = (): HandCount => ({ clicks: 0, drags: 0, values: 0, jumps: 0, keys: 0 });
export const hands = {
  count: none(),
  begin(): void {
    hands.count = none();
  },
};
const begun = Date.now();
/** What stories did and waited for last, with the seconds at which each began: a story that hangs says where. */
export const doings: string[] = [];
function doing(what: string): void {
  doings.push(`${((Date.now() - begun) / 1000).toFixed(1)} s ${what}`);
  if (doings.length > 12) doings.shift();
}
/** Clicks what a selector finds, once it is there. */
export async function press(page: Page, selector: string): Promise<void> {
  doing(`press ${selector}`);
  hands.count.clicks++;
  await page.waitForSelector(selector);
  await page.click(selector);
}
/** Presses a key, with Control where it is said. */
export async function key(page: Page, name: KeyInput, control = false): Promise<void> {
  hands.count.keys++;
  if (control) await page.keyboard.down('Control');
  await page.keyboard.press(name);
  if (control) await page.keyboard.up('Control');
}
/** Drags from one place of the screen to another. */
export async function drag(page: Page, from: readonly [number, number], to: readonly [number, number], steps = 8): Promise<void> {
  hands.count.drags++;
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move((from[0] + to[0]) / 2, (from[1] + to[1]) / 2, { steps: Math.ceil(steps / 2) });
  await page.mouse.move(...to, { steps: Math.ceil(steps / 2) });
  await page.mouse.up();
}

export const sleep = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
export async function until<T>(what: string, look: () => Promise<T | null | undefined | false>, ms = 60_000): Promise<T> {
  const end = Date.now() + ms;
  doing(`wait for ${what}`);
  for (;;) {
    const found = await look();
    if (found) return found;
    if (Date.now() > end) throw new Error(`waited ${ms / 1000} s for ${what}`);
    await sleep(120);
  }
}

/** Clicks a button, link or menu entry by what it says. */
export async function clickText(page: Page, text: string, within = 'body'): Promise<void> {
  const handle = await until(`"${text}" to click`, async () => {
    const found = await page.evaluateHandle(
      (wanted, scope) =>
        [...document.querySelectorAll(`${scope} button, ${scope} a, ${scope} [role=button]`)].find((el) => {
          const box = el.getBoundingClientRect(),
            label = el.getAttribute('aria-label') ?? '';
          return (
            box.width > 0 &&
            !(el as HTMLButtonElement).disabled &&
            ((el.textContent ?? '').trim() === wanted ||
              label === wanted ||
              ((el.firstElementChild as HTMLElement | null)?.textContent ?? '').trim() === wanted)
          );
        }) ?? null,
      text,
      within,
    );
    return found.asElement();
  });
  doing(`click "${text}"`);
  hands.count.clicks++;
  await (handle as import('puppeteer-core').ElementHandle<Element>).click();
}

/** Types a value into the field with this label and takes it over. */
export async function setField(page: Page, label: string, value: string): Promise<void> {
  const id = await until(`the field ${label}`, () =>
    page.evaluate(
      (wanted) =>
        [...document.querySelectorAll('.settings label, .render-page label, .modal label')]
          .find((l) => (l.textContent ?? '').trim() === wanted)
          ?.getAttribute('for') ?? null,
      label,
    ),
  );
  doing(`set ${label}`);
  hands.count.values++;
  const field = (await page.$(`#${id}`))!,
    tag = await field.evaluate((el) => el.tagName);
  if (tag === 'SELECT') {
    const option = await field.evaluate(
      (el, wanted) => [...(el as HTMLSelectElement).options].find((o) => o.text === wanted)?.value ?? null,
      value,
    );
    if (option === null) throw new Error(`${label} has no choice "${value}"`);
    await page.select(`#${id}`, option);
    return;
  }
  await field.click({ count: 3 });
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
}

/** Screen place of a place on the picture, from the canvas's own transform. */
export async function onScreen(page: Page, x: number, y: number): Promise<[number, number]> {
  return page.evaluate(
    (px, py) => {
      const canvas = document.querySelector('canvas.picture') as HTMLCanvasElement,
        box = canvas.getBoundingClientRect(),
        width = parseFloat(canvas.style.width);
      return [box.left + (px / width) * box.width, box.top + (py / width) * box.width] as [number, number];
    },
    x,
    y,
  );
}
export async function clickPicture(page: Page, x: number, y: number): Promise<void> {
  const [sx, sy] = await onScreen(page, x, y);
  hands.count.clicks++;
  await page.mouse.click(sx, sy);
}
export async function dragPicture(page: Page, from: [number, number], to: [number, number]): Promise<void> {
  await drag(page, await onScreen(page, ...from), await onScreen(page, ...to));
}
/** Goes to a frame by pressing on the filmstrip, then by arrow keys. */
export async function goTo(page: Page, frame: number, first = 1001, count = 96): Promise<void> {
  doing(`go to ${frame}`);
  hands.count.jumps++;
  const box = (await (await page.$('.film'))!.boundingBox())!;
  await page.mouse.click(box.x + (box.width * (frame - first + 0.5)) / count, box.y + box.height / 2);
  await until(`frame ${frame}`, async () => {
    const now = Number(await page.$eval('[aria-label=Frame]', (el) => el.textContent));
    if (now === frame) return true;
    await page.keyboard.press(now < frame ? 'ArrowRight' : 'ArrowLeft');
    return false;
  });
}
/**
 * Waits until the picture on the screen is the one at the playhead, drawn and settled. The display puts pictures on the canvas in a thread of its own, so
 * the page may have heard that one is drawn before it is seen; two more frames of the screen bring it from the canvas to where a screenshot is taken.
 */
export async function settled(page: Page): Promise<void> {
  await until(
    'the picture',
    () =>
      page.evaluate(() => {
        const frame = document.querySelector('[aria-label=Frame]')?.textContent,
          canvas = document.querySelector('canvas.picture') as HTMLCanvasElement | null,
          status = document.querySelector('.viewer .status')?.textContent ?? '';
        return canvas?.dataset.frame === frame && canvas?.dataset.key === canvas?.dataset.drawn && !status.includes('drawing');
      }),
    60_000,
  );
  await page.evaluate(() => new Promise((seen) => requestAnimationFrame(() => requestAnimationFrame(seen))));
}
export async function saved(page: Page): Promise<void> {
  await until('the shot to be saved', () => page.$eval('[aria-label=Saving]', (el) => el.textContent === 'saved'));
}

/** MiB of the browser's processes that draw pages, what they share with others counted by their share. */
export async function pageMemory(): Promise<number> {
  let sum = 0;
  for (const name of await readdir('/proc')) {
    if (!/^\d+$/.test(name)) continue;
    const command = await readFile(`/proc/${name}/cmdline`, 'utf8').catch(() => '');
    if (!command.includes('--type=renderer')) continue;
    sum += Number(/^Pss:\s+(\d+)/m.exec(await readFile(`/proc/${name}/smaps_rollup`, 'utf8').catch(() => ''))?.[1] ?? 0);
  }
  return sum / 1024;
}
