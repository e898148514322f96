import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';
import { goTo, press, settled, until } from '../browser';
import type { Stage } from '../stage';

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
interface Violation {
  id: string;
  impact: string;
  nodes: { html: string }[];
}

/** Every view, looked over by axe: nothing serious may be wrong with it. */
export function accessStories(stage: Stage): void {
  const look = async (view: string): Promise<string[]> => {
    await stage.page.evaluate(axe);
    const { violations } = (await stage.page.evaluate(
      () =>
        (window as unknown as { axe: { run(of: Document, how: object): Promise<{ violations: unknown[] }> } }).axe.run(document, {
          resultTypes: ['violations'],
        }) as never,
    )) as { violations: Violation[] };
    return violations
      .filter((v) => v.impact === 'serious' || v.impact === 'critical')
      .map(
        (v) =>
          `${view}: ${v.id} at ${v.nodes
            .slice(0, 3)
            .map((n) => n.html.slice(0, 120))
            .join(' | ')}`,
      );
  };
  stage.story(
    'axe finds nothing serious on any view',
    async () => {
      const { page } = stage,
        id = (await stage.named('TW_010')).id,
        found: string[] = [];
      await page.goto(stage.app.base);
      await page.waitForSelector('article');
      found.push(...(await look('shots')));
      await page.goto(`${stage.app.base}/room`);
      await page.waitForSelector('[aria-label=Bin]');
      found.push(...(await look('room')));
      for (const [step, select] of [
        ['plates', '.list-item'],
        ['motion', '.list-item'],
        ['mattes', '.list-item'],
        ['effects', '.row-item[aria-label="Dissolve"]'],
        ['render', null],
      ] as const) {
        await page.goto(`${stage.app.base}/shots/${id}/${step}`);
        if (select) {
          await page.waitForSelector('.film');
          await goTo(page, 1066);
          await press(page, select);
          await settled(page);
        } else await page.waitForSelector('.render-page');
        found.push(...(await look(step)));
      }
      await press(page, '[aria-label^="Help"]');
      await until('the help', () => page.$('.modal'));
      found.push(...(await look('help')));
      await page.keyboard.press('Escape');
      expect(found).toEqual([]);
    },
    180_000,
  );
}
