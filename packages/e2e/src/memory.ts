/**
 * The memory of a page over long work: `npm run bench:memory`. Two thousand nudges on TW_010 at its full size, with playing in between, at what
 * Preferences allow by default; prints the memory of the browser's page processes as it goes. docs/reliability.md has its figures.
 */
import { Application } from './application';
import { goTo, openBrowser, pageMemory, settled, sleep, until } from './browser';

const NUDGES = 2000,
  ROUNDS = 10;
const app = await Application.start();
try {
  const shots = await until('the demo', async () => {
      const list = await app.get<{ id: string; code: string }[]>('/shots');
      return list.length >= 4 ? list : null;
    }),
    id = shots.find((s) => s.code === 'TW_010')!.id,
    { browser, close } = await openBrowser();
  try {
    const page = await browser.newPage();
    await page.goto(`${app.base}/shots/${id}/effects`);
    await page.waitForSelector('canvas.picture');
    await goTo(page, 1070);
    await page.click('.row-item[aria-label="Glow"]');
    await settled(page);
    const remembered = () =>
        page.evaluate(async () => {
          const { pictures, steps, sources, working } = await (
            window as unknown as { wraithosMemory(): Promise<Record<string, number>> }
          ).wraithosMemory();
          return [pictures!, steps!, sources!, working!].map((bytes) => Math.round(bytes / 2 ** 20));
        }),
      drawn = () => page.evaluate(() => (window as unknown as { wraithosDrawn(): number }).wraithosDrawn()),
      begun = Date.now();
    console.log(`before: ${Math.round(await pageMemory())} MiB`);
    for (let round = 1; round <= ROUNDS; round++) {
      const field = await page.evaluate(() =>
        [...document.querySelectorAll('.settings label')].find((l) => (l.textContent ?? '').trim() === 'Reach')!.getAttribute('for')!,
      );
      await page.focus(`#${field}`);
      for (let i = 0; i < NUDGES / ROUNDS; i++) {
        await page.keyboard.press(round % 2 ? 'ArrowUp' : 'ArrowDown');
        // As quick as a hand that looks at what it does.
        if (i % 4 === 0) await sleep(60);
      }
      await settled(page);
      // The field keeps the keys of the picture away until it is left.
      await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
      await page.keyboard.press('Space');
      await sleep(6000);
      await page.keyboard.press('Space');
      const [pictures, steps, sources, working] = await remembered();
      console.log(
        `${(round * NUDGES) / ROUNDS} nudges, ${Math.round((Date.now() - begun) / 1000)} s, ${await drawn()} pictures: ${Math.round(await pageMemory())} MiB in page processes; remembered ${pictures} + ${steps} + ${sources} MiB, working memory ${working} MiB`,
      );
    }
  } finally {
    await close();
  }
} finally {
  await app.close();
}
