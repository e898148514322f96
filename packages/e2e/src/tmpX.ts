import { Application } from './application';
import { clickText, dragPicture, goTo, openBrowser, press, saved, settled, sleep, until, clickPicture } from './browser';
const app = await Application.start();
try {
  const shots = await until(
    'the demo',
    async () => {
      const l = await app.get<{ id: string; code: string }[]>('/shots');
      return l.length >= 7 ? l : null;
    },
    300_000,
  );
  const shot = shots.find((s) => s.code === 'TW_020')!;
  const { browser, close } = await openBrowser();
  try {
    const page = await browser.newPage();
    page.on('pageerror', (e) => console.log('ERR', (e as Error).message));
    await page.setViewport({ width: 1280, height: 800 });
    await page.goto(`${app.base}/shots/${shot.id}/mattes`);
    await page.waitForSelector('canvas.picture');
    await goTo(page, 1010, 1001, 72);
    await settled(page);
    await clickText(page, 'New matte');
    await clickText(page, 'Outlines drawn by hand', '.dropdown-menu.show');
    await page.keyboard.press('Escape');
    await press(page, '[aria-label="Draw an ellipse"]');
    await dragPicture(page, [500, 200], [700, 560]);
    await saved(page);
    await goTo(page, 1030, 1001, 72);
    await settled(page);
    await dragPicture(page, [700, 380], [760, 360]);
    await clickPicture(page, 760, 360);
    await saved(page);
    await settled(page);
    await sleep(500);
    await page.screenshot({ path: '/tmp/x1.png' });
    const doc = (await app.get<any>(`/shots/${shot.id}`)).document;
    const m = Object.values(doc.mattes).at(-1) as any;
    console.log(JSON.stringify(m.outlines));
    await goTo(page, 1020, 1001, 72);
    await settled(page);
    await page.screenshot({ path: '/tmp/x2.png' });
  } finally {
    await close();
  }
} finally {
  await app.close();
}
