/** Takes docs/screenshots again from the demo, in the real interface: `npm run docs:screenshots` (after `npm run build`). Look at each before it is committed. */
import { join } from 'node:path';
import { Application } from './application';
import { clickText, goTo, openBrowser, saved, settled, sleep, until } from './browser';

const out = join(process.cwd(), 'docs', 'screenshots'),
  app = await Application.start();
try {
  const shots = await until(
      'the demo',
      async () => {
        const list = await app.get<{ id: string; code: string; rows: number }[]>('/shots');
        return list.length >= 4 ? list : null;
      },
      300_000,
    ),
    shot = shots.find((s) => s.code === 'TW_010')!,
    { browser, close } = await openBrowser();
  try {
    const page = await browser.newPage(),
      shoot = (name: string) => page.screenshot({ path: join(out, `${name}.png`) as `${string}.png` });
    const open = async (view: string, frame: number, select?: string, of = shot, count = 96) => {
      await page.goto(`${app.base}/shots/${of.id}/${view}`);
      await page.waitForSelector('canvas.picture');
      await goTo(page, frame, 1001, count);
      if (select) await page.click(select);
      await settled(page);
      // Plates of the strip come when nothing else is wanted.
      await until('the strip', () => page.evaluate(() => !document.querySelector('.film .hatch')), 60_000);
      await settled(page);
    };
    await open('plates', 1068);
    await shoot('plates');
    await open('motion', 1068, '.list-item');
    await shoot('motion');
    await open('mattes', 1072, '.list-item');
    await shoot('mattes');
    await open('effects', 1078, '.row-item[aria-label="Dissolve"]');
    await shoot('effects');
    const buoy = shots.find((s) => s.code === 'TW_020')!;
    await open('effects', 1050, '.row-item[aria-label="Beam"]', buoy, 72);
    await shoot('beam');
    const chart = shots.find((s) => s.code === 'TW_050')!;
    await open('effects', 1052, '.subject-card', chart, 84);
    await shoot('base');
    await open('effects', 1050);
    await clickText(page, 'Add an effect to Behind');
    await clickText(page, 'Recipes', '.dropdown-menu.show');
    await page.waitForSelector('.recipes');
    await page.select('[aria-label="Effect"]', 'aura');
    await until('live pictures', () => page.$$eval('.recipe .hatch', (all) => all.length === 0), 120_000);
    await sleep(300);
    await shoot('recipes');
    await saved(page);
    const job = await app.send<{ id: string }>('POST', '/jobs', { shot: shot.id, format: 'webm', first: 1056, last: 1096 });
    await until('the film', async () => (await app.get<{ state: string }>(`/jobs/${job.body.id}`)).state === 'done', 300_000);
    await app.send('POST', '/jobs', { shot: shot.id, format: 'png', first: 1001, last: 1096 });
    await page.goto(`${app.base}/shots/${shot.id}/render`);
    await sleep(5000);
    await shoot('render');
    await page.goto(`${app.base}/room`);
    await page.waitForSelector('[aria-label=Bin]');
    await shoot('room');
    await page.goto(`${app.base}/`);
    await until('thumbnails', () => page.evaluate(() => document.querySelectorAll('article').length >= 4));
    await sleep(20_000); // moving thumbnails are drawn in the background
    await shoot('shots');
  } finally {
    await close();
  }
} finally {
  await app.close();
}
