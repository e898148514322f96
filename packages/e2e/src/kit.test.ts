import { writeFile, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Page } from 'puppeteer-core';
import { readRecipe } from '@wraithos/core/recipes';
import type { Shot } from '@wraithos/core/shot';
import { Application } from './application';
import { clickText, goTo, onScreen, openBrowser, openRequests, saved, setField, settled, until, watch } from './browser';
import { journey } from './journey';

interface Opened {
  document: Shot;
}
let app: Application,
  browser: Awaited<ReturnType<typeof openBrowser>>,
  page: Page,
  errors: string[],
  waiting: () => string[] = () => [],
  files = '';
const ids: Record<string, string> = {};
const step = journey(
  () => page,
  () => waiting(),
);
const documentOf = async (code: string) => (await app.get<Opened>(`/shots/${ids[code]}`)).document;
const rowNamed = async (code: string, name: string) => Object.values((await documentOf(code)).rows).find((r) => r.name === name);

beforeAll(async () => {
  files = await mkdtemp(join(tmpdir(), 'wraithos-kit-'));
  app = await Application.start();
  browser = await openBrowser();
  const shots = await until(
    'the demo',
    async () => {
      const list = await app.get<{ id: string; code: string }[]>('/shots');
      return list.length >= 4 ? list : null;
    },
    300_000,
  );
  for (const { code, id } of shots) ids[code] = id;
  page = await browser.browser.newPage();
  errors = watch(page);
  waiting = openRequests(page);
}, 400_000);
afterAll(async () => {
  await browser?.close();
  await app?.close();
  await rm(files, { recursive: true, force: true });
}, 60_000);

async function open(code: string, frame: number, count: number): Promise<void> {
  await page.goto(`${app.base}/shots/${ids[code]}/effects`);
  await page.waitForSelector('canvas.picture');
  await goTo(page, frame, 1001, count);
  await settled(page);
}
/** Mean of what the screen shows about a place of the picture, 0..255; handles are left out by looking beside them. */
async function bright(x: number, y: number, half = 3): Promise<number> {
  const [sx, sy] = await onScreen(page, x, y),
    clip = { x: Math.round(sx) - half, y: Math.round(sy) - half, width: 2 * half + 1, height: 2 * half + 1 },
    shot = await page.screenshot({ clip }),
    { channels } = await sharp(Buffer.from(shot)).stats();
  return (channels[0]!.mean + channels[1]!.mean + channels[2]!.mean) / 3;
}
const add = async (lane: string, what: string) => {
  await clickText(page, `Add an effect to ${lane}`);
  await until('the menu', () => page.$('.dropdown-menu.show').then(Boolean));
  await clickText(page, what, '.dropdown-menu.show');
};
/** Selects nothing, so that no handle lies on the picture. */
const leave = async () => {
  await page.keyboard.press('Escape');
  await settled(page);
};

step(
  'a beam between two mounts: added from the menu, it lies between them and strikes at the other',
  async () => {
    await open('TW_010', 1058, 96);
    const track = (await documentOf('TW_010')).tracks,
      middle = [490, 281] as const;
    expect(Object.values(track).map((t) => t.name)).toEqual(['Scarf pin', 'Lantern']);
    const before = await bright(...middle);
    await add('Foreground', 'Beam');
    await saved(page);
    const made = (await rowNamed('TW_010', 'Beam'))!,
      { mounts } = await documentOf('TW_010');
    expect([mounts[made.mount!]!.track, mounts[made.aim!]!.track]).toEqual(['t1', 't2']);
    expect(made.start).toBe(1058);
    // Its head has not come that far yet; later it has.
    for (let i = 0; i < 8; i++) await page.keyboard.press('ArrowRight');
    await leave();
    const reached = await bright(...middle);
    expect(reached).toBeGreaterThan(before + 40);
    await page.click('.row-item[aria-label="Beam"]');
    await setField(page, 'Aims at', 'nothing');
    await until('the reason', () => page.$eval('.settings', (el) => (el.textContent ?? '').includes('aims at nothing')));
    await leave();
    await until('the beam to go', async () => (await bright(...middle)) < before + 12, 20_000);
    await page.click('.row-item[aria-label="Beam"]');
    await page.keyboard.press('Delete');
    await saved(page);
    expect(await rowNamed('TW_010', 'Beam')).toBeUndefined();
  },
  120_000,
);

step(
  'twin embers: one effect on both tracks, a value of one is its own, parted it is an effect of its own',
  async () => {
    await open('TW_010', 1050, 96);
    await add('Front', 'Ember');
    await saved(page);
    const pin = () => bright(554, 298, 2),
      // In the middle of the ember: about it the picture is darker than before.
      count = async () => Object.values((await documentOf('TW_010')).rows).filter((r) => r.effect === 'ember').length;
    await setField(page, 'Hangs on', 'Lantern');
    await settled(page);
    await leave();
    const alone = await pin();
    await page.click('.row-item[aria-label="Ember"]');
    await clickText(page, 'Add a twin');
    await saved(page);
    const row = (await rowNamed('TW_010', 'Ember'))!,
      { mounts } = await documentOf('TW_010');
    expect(row.twins.map((t) => mounts[t.mount!]!.track)).toEqual(['t1']);
    await settled(page);
    await leave();
    const both = await pin();
    expect(both).toBeGreaterThan(alone + 15);
    await page.click('.row-item[aria-label="Ember"]');
    await page.evaluate(() => document.querySelectorAll('details').forEach((d) => (d.open = true)));
    const gate = (await page.$('#field-w1-openness'))!;
    await gate.click({ count: 3 });
    await page.keyboard.type('0');
    await page.keyboard.press('Enter');
    await saved(page);
    expect((await rowNamed('TW_010', 'Ember'))!.twins[0]!.values).toEqual({ gate: 0 });
    await settled(page);
    await leave();
    await until('the twin to go out', async () => (await pin()) < alone + 6, 20_000);
    await page.click('.row-item[aria-label="Ember"]');
    await clickText(page, 'Separate into its own effect');
    await saved(page);
    expect(await count()).toBe(2);
    expect((await rowNamed('TW_010', 'Ember'))!.twins).toEqual([]);
  },
  120_000,
);

step(
  "the fox's ember eyes burn on both mounts and go out in the blink",
  async () => {
    await open('TW_030', 1051, 60);
    const near = () => bright(983, 348, 2),
      far = () => bright(1037, 347, 2),
      open1 = [await near(), await far()];
    await goTo(page, 1054, 1001, 60);
    await settled(page);
    const shut = [await near(), await far()];
    expect(open1[0]).toBeGreaterThan(200);
    expect(open1[1]).toBeGreaterThan(200);
    expect(shut[0]).toBeLessThan(150);
    expect(shut[1]).toBeLessThan(150);
  },
  90_000,
);

step(
  'a row is saved as a recipe and used on another shot, at the size of its subject; a file brings one in, a wrong file does not',
  async () => {
    await open('TW_010', 1062, 96);
    await page.click('.row-item[aria-label="Glow"]');
    await setField(page, 'Reach', '122');
    await saved(page);
    await clickText(page, 'Save as a recipe');
    await until('it is kept', async () => (await app.get<unknown[]>('/recipes')).length === 1);
    await open('TW_020', 1040, 72);
    await add('Front', 'Recipes');
    await page.waitForSelector('.recipes');
    await page.select('[aria-label="Effect"]', 'glow');
    await until('the live pictures', () => page.$$eval('.recipe .hatch', (all) => all.length === 0), 90_000);
    const cards = await page.$$eval('.recipe-use', (all) => all.map((el) => el.textContent));
    expect(cards[0]).toMatch(/^Glow/);
    expect(cards.length).toBeGreaterThanOrEqual(4);
    // A live picture is a picture: it is not of one colour.
    const shown = await (await page.$('.recipe-use .live-picture'))!.screenshot(),
      { channels } = await sharp(Buffer.from(shown)).stats();
    expect(channels[2]!.stdev).toBeGreaterThan(8);
    await clickText(page, 'Use Glow');
    await saved(page);
    const used = Object.values((await documentOf('TW_020')).rows).find((r) => r.name === 'Glow 2')!;
    // 122 of 427 pixels there are as many of 420 here.
    expect(used.values.reach).toBeCloseTo((122 * 420) / 427, 1);
    expect(used.mount).not.toBeNull();

    await add('Front', 'Recipes');
    await page.waitForSelector('.recipes');
    const kept = (await app.get<{ recipe: unknown }[]>('/recipes'))[0]!.recipe,
      good = join(files, 'mine.json'),
      bad = join(files, 'bad.json');
    await writeFile(good, JSON.stringify({ ...readRecipe(kept), name: 'From a file' }));
    await writeFile(bad, '{"kind": "something else"}');
    const input = (await page.$('input[aria-label="Recipe file"]')) as import('puppeteer-core').ElementHandle<HTMLInputElement>;
    await input.uploadFile(good);
    await until('the second', async () => (await app.get<unknown[]>('/recipes')).length === 2);
    await input.uploadFile(bad);
    await until('the reason', () => page.$eval('body', (el) => (el.textContent ?? '').includes('not a recipe of Wraithos')));
    expect(await app.get<unknown[]>('/recipes')).toHaveLength(2);
  },
  150_000,
);

step(
  'effects are copied to another shot with what they hang on; what is missing there is asked for',
  async () => {
    const press = async (key: 'KeyC' | 'KeyV') => {
      await page.keyboard.down('Control');
      await page.keyboard.press(key);
      await page.keyboard.up('Control');
    };
    await open('TW_010', 1066, 96);
    await page.click('.row-item[aria-label="Sparks"]');
    await press('KeyC');
    await until('it is copied', () => page.$eval('.notice', (el) => (el.textContent ?? '').includes('Sparks copied')));
    await open('TW_020', 1048, 72);
    await press('KeyV');
    await saved(page);
    // Track and cue are there under the same names.
    const sparks = (await rowNamed('TW_020', 'Sparks'))!,
      other = await documentOf('TW_020');
    expect([other.mounts[sparks.mount!]!.track, other.cues[sparks.cue!]!.name, sparks.start]).toEqual(['t1', 'lantern is up', 3]);
    await open('TW_030', 1040, 60);
    await press('KeyV');
    await page.waitForSelector('.modal');
    const asked = await page.$$eval('.modal label', (all) => all.map((el) => (el.textContent ?? '').trim()));
    expect(asked.sort()).toEqual(['Cue lantern is up', 'Track Lantern']);
    await setField(page, 'Track Lantern', 'Near eye');
    await clickText(page, 'Paste', '.modal');
    await saved(page);
    const pasted = (await rowNamed('TW_030', 'Sparks'))!,
      fox = await documentOf('TW_030');
    expect([fox.mounts[pasted.mount!]!.track, pasted.cue]).toEqual(['t1', null]);
    // A fox of 330 pixels, a warden of 427.
    expect(pasted.values.reach).toBeCloseTo((16 * 330) / 427, 1);
  },
  90_000,
);

step(
  'a test strip shows one value in five steps and takes the one that is clicked; a treatment changes what a row gives',
  async () => {
    await open('TW_020', 1050, 72);
    await page.click('.row-item[aria-label="Beam"]');
    const before = (await rowNamed('TW_020', 'Beam'))!.values.strength as number;
    await clickText(page, 'Test strip: one value in five steps');
    await page.waitForSelector('.strip-step');
    await until('the strip', () => page.$$eval('.strip .hatch', (all) => all.length === 0), 90_000);
    expect((await page.$$('.strip-step')).length).toBe(5);
    await (await page.$$('.strip-step'))[4]!.click();
    await saved(page);
    expect((await rowNamed('TW_020', 'Beam'))!.values.strength).toBeCloseTo(before * 2.2, 1);
    await settled(page);
    await leave();
    const sharpEdge = await bright(750, 350, 2);
    await page.click('.row-item[aria-label="Beam"]');
    await clickText(page, 'Add a treatment');
    await until('the menu', () => page.$('.dropdown-menu.show').then(Boolean));
    await clickText(page, 'Blur', '.dropdown-menu.show');
    await saved(page);
    expect((await rowNamed('TW_020', 'Beam'))!.treatments.map((t) => t.effect)).toEqual(['blur']);
    await page.evaluate(() => document.querySelectorAll('details').forEach((d) => (d.open = true)));
    const radius = (await page.$('#field-t1-radius'))!;
    await radius.click({ count: 3 });
    await page.keyboard.type('90');
    await page.keyboard.press('Enter');
    await saved(page);
    await settled(page);
    await leave();
    expect(Math.abs((await bright(750, 350, 2)) - sharpEdge)).toBeGreaterThan(3);
    expect(errors).toEqual([]);
  },
  150_000,
);
