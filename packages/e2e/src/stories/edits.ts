import type { Shot } from '@wraithos/core/shot';
import { goTo, press, saved, setField, settled, until } from '../browser';
import type { Opened, Stage, Summary } from '../stage';

/** The shot with a glow whose values do not change over time. */
const steady = (shot: Shot): Shot => {
  for (const row of Object.values(shot.rows))
    if (row.name === 'Glow') Object.assign(row, { curves: {}, values: { ...row.values, strength: 70, reach: 150 } });
  return shot;
};

/** Undo, two windows, playing. */
export function editStories(stage: Stage): void {
  stage.story(
    'undo and redo work over a reload, at the same frame and selection',
    async () => {
      const { page } = stage;
      const shotId = await stage.shotFrom('TW_010', 'TW_014', steady),
        opened = () => stage.opened(shotId);
      await page.goto(`${stage.app.base}/shots/${shotId}/effects`);
      await page.waitForSelector('.film');
      await goTo(page, 1058);

      await press(page, '.row-item[aria-label="Glow"]');
      await setField(page, 'Strength', '90');
      await saved(page);
      await page.reload();
      await page.waitForSelector('.row-item.selected[aria-label="Glow"]');
      expect(await page.$eval('[aria-label=Frame]', (el) => el.textContent)).toBe('1058');
      const strength = async () => Object.values((await opened()).document.rows).find((r) => r.name === 'Glow')!.values.strength;
      await press(page, '[aria-label^="Undo"]');
      await until('undo', async () => (await strength()) === 70);
      await page.reload();
      await page.waitForSelector('.row-item.selected');
      await press(page, '[aria-label^="Redo"]');
      await until('redo', async () => (await strength()) === 90);
    },
    120000,
  );
  stage.story(
    'two windows on one shot: changes that touch different things join; the same thing keeps both versions',
    async () => {
      const { page } = stage;
      const shotId = await stage.shotFrom('TW_010', 'TW_015', steady),
        opened = () => stage.opened(shotId);
      await page.goto(`${stage.app.base}/shots/${shotId}/effects`);
      await page.waitForSelector('.row-item[aria-label="Glow"]');
      await press(page, '.row-item[aria-label="Glow"]');
      await settled(page);

      const other = await stage.browser.newPage();
      await other.goto(`${stage.app.base}/shots/${shotId}/effects`);
      await other.waitForSelector('.row-item');
      // This window loses the line while the other one saves.
      await page.setOfflineMode(true);
      await page.bringToFront();
      await setField(page, 'Reach', '131');
      await until('offline', () => page.$eval('[aria-label=Saving]', (el) => (el.textContent ?? '').startsWith('offline: 1 change')));
      await other.bringToFront();
      await other.click('.row-item[aria-label="Glow"]');
      await setField(other, 'Strength', '91');
      await saved(other);
      await page.bringToFront();
      await page.setOfflineMode(false);
      await saved(page);
      const glow = () => opened().then((o) => Object.values(o.document.rows).find((r) => r.name === 'Glow')!.values);
      expect(await glow()).toMatchObject({ reach: 131, strength: 91 });
      await page.setOfflineMode(true);
      await setField(page, 'Strength', '60');
      await other.bringToFront();
      await until('the other window', async () => (await other.$eval('#field-reach', (el) => (el as HTMLInputElement).value)) === '131');
      await setField(other, 'Strength', '70');
      await saved(other);
      await page.bringToFront();
      await page.setOfflineMode(false);
      await until('the notice', () =>
        page.$eval('.notice', (el) => (el.textContent ?? '').includes('Yours is kept as the shot')).catch(() => false),
      );
      expect(await glow()).toMatchObject({ strength: 70 });
      const kept = (await stage.app.get<Summary[]>('/shots')).find((s) => s.code.startsWith('TW_015 kept'))!;
      expect(
        Object.values((await stage.app.get<Opened>(`/shots/${kept.id}`)).document.rows).find((r) => r.name === 'Glow')!.values,
      ).toMatchObject({
        strength: 60,
      });
      await other.close();
    },
    150000,
  );
  stage.story(
    'the picture plays from frames drawn ahead',
    async () => {
      const { page } = stage;
      const shotId = await stage.shotFrom('TW_010', 'TW_016');

      await page.goto(`${stage.app.base}/shots/${shotId}/plates`);
      await page.waitForSelector('canvas.picture');
      await goTo(page, 1001);
      await until('frames ahead', () => page.$$eval('.tile', (all) => all.filter((t) => !t.querySelector('.hatch')).length >= 4), 90_000);
      // Which pictures were on the canvas while it played, in their order: how fast they came depends on the machine and is no promise here.
      await page.$eval('canvas.picture', (canvas) => {
        const seen: number[] = [];
        (window as unknown as { seen: number[] }).seen = seen;
        new MutationObserver(() => seen.push(Number((canvas as HTMLElement).dataset.frame))).observe(canvas, {
          attributes: true,
          attributeFilter: ['data-frame'],
        });
      });
      await page.keyboard.press('Space');
      await until('the film', async () => Number(await page.$eval('[aria-label=Frame]', (el) => el.textContent)) > 1010, 100_000);
      const seen = await page.evaluate(() => [...(window as unknown as { seen: number[] }).seen]);
      await page.keyboard.press('Space');
      expect(seen.length).toBeGreaterThan(4);
      seen.forEach((frame, i) => expect(frame).toBeGreaterThan(i ? seen[i - 1]! : 1000));
    },
    220000,
  );
}
