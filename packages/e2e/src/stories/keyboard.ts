import type { Page } from 'puppeteer-core';
import { key, saved, settled, until } from '../browser';
import type { Stage } from '../stage';

const focused = (page: Page) =>
  page.evaluate(() => {
    const el = document.activeElement as HTMLElement | null,
      label = el?.id ? document.querySelector(`label[for="${el.id}"]`)?.textContent : null;
    return (el?.getAttribute('aria-label') ?? label ?? el?.textContent ?? '').trim();
  });
/** Tab, until what has the focus is called this; Shift and Tab where it lies behind. */
async function reach(page: Page, name: string | RegExp, backwards = false): Promise<void> {
  const is = (text: string) => (typeof name === 'string' ? text === name : name.test(text));
  for (let i = 0; i < 150; i++) {
    if (is(await focused(page))) return;
    if (backwards) await page.keyboard.down('Shift');
    await page.keyboard.press('Tab');
    if (backwards) await page.keyboard.up('Shift');
  }
  throw new Error(`Tab never came to ${String(name)}`);
}

/** The whole way with the keyboard alone: no pointer is moved. */
export function keyboardStories(stage: Stage): void {
  stage.story(
    'from the list to a render by keyboard alone: an effect is added, shaped, moved in time, undone and rendered',
    async () => {
      const { page } = stage,
        code = 'TW_020',
        id = await stage.shotFrom(code, 'TW_021', (shot) => ({ ...shot, rows: {}, groups: {} }));
      await page.goto(stage.app.base);
      await page.waitForSelector('article[aria-label="TW_021"]');
      await reach(page, 'TW_021');
      await key(page, 'Enter');
      await page.waitForSelector('.steps');
      await reach(page, 'Effects');
      await key(page, 'Enter');
      await page.waitForSelector('[aria-label="Add an effect to Front"]');
      await reach(page, 'Add an effect to Front');
      await key(page, 'Enter');
      await until('the menu', () => page.$('.dropdown-menu.show'));
      for (let i = 0; i < 30 && !/^Ember/.test(await focused(page)); i++) await key(page, 'ArrowDown');
      await key(page, 'Enter');
      await page.waitForSelector('.row-item.selected[aria-label="Ember"]');
      await reach(page, 'Strength');
      await page.keyboard.down('Control');
      await page.keyboard.press('a');
      await page.keyboard.up('Control');
      await page.keyboard.type('240');
      await key(page, 'Enter');
      await saved(page);
      const ember = async () => Object.values((await stage.opened(id)).document.rows)[0]!;
      expect((await ember()).values.strength).toBe(240);
      await reach(page, 'Playhead');
      for (let i = 0; i < 5; i++) await key(page, 'ArrowRight');
      await until('the frame', () => page.$eval('[aria-label=Frame]', (el) => el.textContent === '1006'));
      await key(page, 'q');
      await until('the cue', async () => Object.values((await stage.opened(id)).document.cues).some((c) => c.frame === 1006));
      await key(page, 'z', true);
      await key(page, 'z', true);
      await until('undo', async () => (await ember()).values.strength !== 240);
      await settled(page);
      await reach(page, 'Render', true);
      await key(page, 'Enter');
      await page.waitForSelector('.render-page');
      await reach(page, 'To frame');
      await page.keyboard.down('Control');
      await page.keyboard.press('a');
      await page.keyboard.up('Control');
      await page.keyboard.type('1001');
      await key(page, 'Enter');
      await reach(page, /^Render 1 frame$/);
      await key(page, 'Enter');
      const job = await until('the job', async () => (await stage.app.get<{ id: string }[]>(`/jobs?shot=${id}`))[0]);
      await stage.over(job.id, 120_000);
    },
    240_000,
  );
}
