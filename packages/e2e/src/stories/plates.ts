import { join } from 'node:path';
import sharp from 'sharp';
import { clickText, dragPicture, goTo, press, saved, setField, settled, until } from '../browser';
import type { Stage } from '../stage';
import { FRAMES, HIGH, walkers, WIDE } from '../walkers';

/** From a film alone to a clean plate and what needs one. */
export function plateStories(stage: Stage): void {
  stage.story(
    'a walk without a clean plate: the plate is built where it is missing, and the walker comes apart before it, by hand',
    async () => {
      const { page } = stage,
        { film, clean } = await walkers(stage.folder, 'walker', [{ from: 0, to: 1, size: 1, below: 14 }]);
      await page.goto(stage.app.base);
      await clickText(page, 'New shot');
      await page.waitForSelector('#new-code');
      await (await page.$('.modal input[type=file]'))!.uploadFile(film);
      await until('the clip', () => page.evaluate(() => document.querySelector('.modal')?.textContent?.includes('640 x 360, 40 frames')));
      await clickText(page, 'Make shot');
      await page.waitForSelector('.list-item');
      const { id } = await stage.named('walker'),
        shotNow = () => stage.opened(id).then((o) => o.document),
        clips = async () => Object.values((await shotNow()).clips);
      await press(page, '.steps a[href$="mattes"]');
      await page.waitForSelector('canvas.picture');
      await goTo(page, 1021, 1001, FRAMES);
      await clickText(page, 'New matte');
      await clickText(page, 'Difference from the clean plate');
      await until('the words', () =>
        page.evaluate(() => document.querySelector('.why')?.textContent?.includes('There is no clean plate.')),
      );
      await clickText(page, 'Build the clean plate');
      const plate = await until('the clean plate', async () => (await clips()).find((c) => c.made), 120_000);
      expect(plate).toMatchObject({
        role: 'clean',
        width: WIDE,
        frames: 1,
        made: { clip: 'c1', camera: 'measured', frames: FRAMES, drift: 0, flickered: 0 },
      });
      expect(plate.made!.unsure).toBeLessThan(0.01);
      // Its pixels are those of the place without anybody.
      const hash = (plate.media as { hash: string }).hash,
        sent = Buffer.from(await (await fetch(`${stage.app.base}/api/media/${hash}/frames/0`)).arrayBuffer()),
        deep = sent.readUInt32LE(16) === 16,
        code = (i: number) => (deep ? sent.readUInt16LE(20 + 2 * i) / 257 : sent[20 + i]!);
      let [sum, worst] = [0, 0];
      for (let i = 0; i < clean.length; i++) {
        const d = Math.abs(code(i) - clean[i]!);
        sum += d;
        worst = Math.max(worst, d);
      }
      console.info(`built plate: mean ${(sum / clean.length).toFixed(2)}, worst ${worst.toFixed(0)} of 255`);
      expect(sum / clean.length).toBeLessThan(2);
      expect(worst).toBeLessThan(40);
      await clickText(page, 'Make it the subject');
      await press(page, '.steps a[href$="effects"]');
      await page.waitForSelector('[aria-label="Add an effect to On"]');
      await clickText(page, 'Add an effect to On');
      await clickText(page, 'Dissolve', '.dropdown-menu.show');
      await page.waitForSelector('.row-item.selected[aria-label="Dissolve"]');
      await saved(page);
      const { rows } = await shotNow();
      expect(Object.values(rows)).toHaveLength(1);
      // Nothing flags it: there is a plate to show behind.
      expect(await page.evaluate(() => document.querySelector('.settings')!.textContent!.includes('no clean plate'))).toBe(false);
      // The plate can be built again, with what was chosen, and stays the same clip.
      await press(page, '.steps a[href$="plates"]');
      await page.waitForSelector('.clips .list-item');
      await (await page.$$('.clips .list-item'))[1]!.click();
      await page.waitForSelector('[aria-label="How it was built"]');
      await press(page, '#field-grain-of-one-frame');
      await clickText(page, 'Build it again');
      await until('the other plate', async () => (await clips()).find((c) => c.made?.grain), 120_000);
      expect((await clips()).filter((c) => c.role === 'clean')).toHaveLength(1);
      await press(page, '[aria-label^="Undo"]');
      await until('undo', async () => (await clips()).find((c) => c.made && !c.made.grain));
      await settled(page);
    },
    240_000,
  );

  stage.story(
    'a clean plate with a stain, filmed in other light: the stain is painted over from the film, and the light follows the film',
    async () => {
      const { page } = stage,
        { film, clean } = await walkers(stage.folder, 'lit', [{ from: 0, to: 1, size: 1, below: 14 }]),
        stained = join(stage.folder, 'stained clean.png'),
        [x, y] = [300, 150],
        at = (3 * (y * WIDE + x)) as number;
      // Darker by a tenth of its codes, with a black spot.
      await sharp(clean, { raw: { width: WIDE, height: HIGH, channels: 3 } })
        .linear(0.9, 0)
        .composite([{ input: { create: { width: 30, height: 30, channels: 3, background: '#000' } }, left: x - 15, top: y - 15 }])
        .png()
        .toFile(stained);
      await page.goto(stage.app.base);
      await clickText(page, 'New shot');
      await page.waitForSelector('#new-code');
      await setField(page, 'Code', 'TW_097');
      await (await page.$('.modal input[type=file]'))!.uploadFile(film);
      await until('the clip', () => page.evaluate(() => document.querySelector('.modal')?.textContent?.includes('640 x 360, 40 frames')));
      await clickText(page, 'Make shot');
      await page.waitForSelector('.list-item');
      const { id } = await stage.named('TW_097'),
        cleanNow = async () => Object.values((await stage.opened(id)).document.clips).find((c) => c.role === 'clean');
      const field = await page.$('input[aria-label="Files to bring in"]');
      await (field as import('puppeteer-core').ElementHandle<HTMLInputElement>).uploadFile(stained);
      expect(await until('the clean plate', cleanNow)).toMatchObject({ matchLight: true });
      await page.waitForSelector('section[aria-label="Repair"]');
      await clickText(page, 'full');
      const shown = async () => {
        const [cx, cy] = [(x + 0.5) / WIDE, (y + 0.5) / HIGH];
        return page.evaluate(
          (u, v) => {
            const canvas = document.querySelector<HTMLCanvasElement>('canvas.picture')!,
              copy = new OffscreenCanvas(canvas.width, canvas.height).getContext('2d')!;
            copy.drawImage(canvas, 0, 0);
            return [...copy.getImageData(Math.floor(u * canvas.width), Math.floor(v * canvas.height), 1, 1).data.slice(0, 3)];
          },
          cx,
          cy,
        );
      };
      await until('the stain', async () => (await shown()).every((v) => v < 8));
      await clickText(page, 'Paint', 'section[aria-label="Repair"]');
      await dragPicture(page, [x - 12, y - 8], [x + 12, y + 8]);
      const { repairs } = (await until('the stroke', async () => ((await cleanNow())!.repairs.length ? cleanNow() : null))) as NonNullable<
        Awaited<ReturnType<typeof cleanNow>>
      >;
      expect(repairs[0]).toMatchObject({ radius: 24, clip: 'c1', matched: true });
      expect(repairs[0]!.points.length).toBeGreaterThan(2);
      // There it is now as it is in the place without anybody, and as bright as the film.
      const mended = await until('the wall', async () => {
        const now = await shown();
        return now.some((v) => v > 12) ? now : null;
      });
      mended.forEach((v, c) => expect(Math.abs(v - clean[at + c]!)).toBeLessThan(14));
      await page.keyboard.press('Escape');
      await press(page, '[aria-label="Remove stroke 1"]');
      await until('the stain again', async () => (await shown()).every((v) => v < 8));
      await saved(page);
    },
    120_000,
  );
}
