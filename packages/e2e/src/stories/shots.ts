import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { clickText, press, until } from '../browser';
import { mediaOf, type Stage, type Summary } from '../stage';

/** The list of shots, and what comes into a shot. */
export function shotStories(stage: Stage): void {
  stage.story(
    'shots are cards that can be renamed, duplicated, removed and brought back',
    async () => {
      const { page } = stage;

      await page.goto(stage.app.base);
      await page.waitForSelector('article[aria-label="TW_010 start here"]');
      await until(
        'the thumbnails',
        () => page.$$eval('.shot-card img', (all) => all.length === 7 && all.every((i) => (i as HTMLImageElement).naturalWidth === 320)),
        120_000,
      );
      await press(page, '[aria-label="More for TW_010 start here"]');
      await clickText(page, 'Duplicate');
      await page.waitForSelector('article[aria-label="TW_010 start here copy"]');
      await press(page, '[aria-label="More for TW_010 start here copy"]');
      await clickText(page, 'Rename…');
      await page.waitForSelector('#name-dialog');
      await page.click('#name-dialog', { count: 3 });
      await page.keyboard.type('TW_011');
      await page.keyboard.press('Enter');
      await page.waitForSelector('article[aria-label="TW_011"]');
      await press(page, '[aria-label="More for TW_011"]');
      await clickText(page, 'Remove');
      await until('the card to go', async () => (await page.$('article[aria-label="TW_011"]')) === null);
      await clickText(page, 'Undo', '.notice');
      await page.waitForSelector('article[aria-label="TW_011"]');
      expect((await stage.app.get<Summary[]>('/shots')).map((s) => s.code).sort()).toEqual([
        'TW_010',
        'TW_010 start here',
        'TW_011',
        'TW_020',
        'TW_025',
        'TW_030',
        'TW_040',
        'TW_050',
      ]);
    },
    150000,
  );
  stage.story(
    'a new shot is made empty, with size, rate and range, or from a clip',
    async () => {
      const { page } = stage;

      await page.goto(stage.app.base);
      await clickText(page, 'New shot');
      await page.waitForSelector('#new-code');
      await page.type('#new-code', 'TW_090');
      await clickText(page, 'Empty');
      for (const [label, value] of [
        ['Width', '640'],
        ['Height', '360'],
        ['Rate', '23.976'],
        ['First frame', '900'],
        ['Length', '48'],
      ] as const) {
        const field = (await page.$(`[id="new-${label}"]`))!;
        await field.click({ count: 3 });
        await page.keyboard.type(value);
      }
      await clickText(page, 'Make shot');
      await until('the empty shot', () => page.evaluate(() => document.body.textContent!.includes('No clips yet')));
      const named = async (code: string) => (await stage.app.get<Summary[]>('/shots')).find((each) => each.code === code)!;
      expect(await stage.app.get(`/shots/${(await named('TW_090')).id}`)).toMatchObject({
        document: { width: 640, height: 360, rate: { num: 24000, den: 1001 }, first: 900, last: 947 },
      });
      await page.goto(stage.app.base);
      await clickText(page, 'New shot');
      await page.waitForSelector('#new-code');
      await (await page.$('.modal input[type=file]'))!.uploadFile(join(mediaOf('TW_010'), 'performance.mp4'));
      await until('the clip', () => page.evaluate(() => document.querySelector('.modal')?.textContent?.includes('1280 x 720, 96 frames')));
      await clickText(page, 'Make shot');
      await page.waitForSelector('.list-item');
      expect(await stage.app.get(`/shots/${(await named('performance')).id}`)).toMatchObject({
        document: { width: 1280, last: 1096, clips: { c1: { role: 'performance' } } },
      });
    },
    120000,
  );
  stage.story(
    'a clip is brought in with progress; a broken one ends in one sentence',
    async () => {
      const { page } = stage;
      const shotId = await stage.shotFrom('TW_010 start here', 'TW_012'),
        opened = () => stage.opened(shotId);
      await page.goto(`${stage.app.base}/shots/${shotId}/plates`);
      await page.waitForSelector('.list-item');
      expect(await page.$$eval('.list-item .grow', (all) => all.map((el) => el.textContent))).toEqual([
        'tw010_performancePerformance, base',
        'tw010_cleanClean plate',
        'tw010_occluderElement',
        'tw010_referenceReference',
        'Basetakes, background, grain, edges',
      ]);
      const input = (await page.$('input[type=file]'))!,
        names: string[] = [];
      for (let i = 1; i <= 5; i++) {
        const path = join(stage.folder, `ring.${String(i).padStart(3, '0')}.png`);
        await sharp({ create: { width: 64, height: 36, channels: 4, background: { r: i * 40, g: 90, b: 20, alpha: 0.5 } } })
          .png()
          .toFile(path);
        names.push(path);
      }
      await input.uploadFile(...names);
      await until('the sequence', async () => Object.values((await opened()).document.clips).find((c) => c.name === 'ring')?.frames === 5);
      // A file that is dropped anywhere on the page comes in as well.
      await page.evaluate(async () => {
        const canvas = document.createElement('canvas');
        canvas.width = 32;
        canvas.height = 18;
        canvas.getContext('2d')!.fillRect(0, 0, 9, 9);
        const blob = await new Promise<Blob>((resolve) => canvas.toBlob((b) => resolve(b!), 'image/png')),
          files = new DataTransfer();
        files.items.add(new File([blob], 'note.png', { type: 'image/png' }));
        document.body.dispatchEvent(new DragEvent('drop', { dataTransfer: files, bubbles: true, cancelable: true }));
      });
      await until(
        'the dropped still',
        async () => Object.values((await opened()).document.clips).find((c) => c.name === 'note')?.frames === 1,
      );
      await writeFile(join(stage.folder, 'broken.mp4'), 'this is no film');
      await input.uploadFile(join(stage.folder, 'broken.mp4'));
      const notice = await until('the notice', () => page.$eval('.notice', (el) => el.textContent).catch(() => null));
      expect(notice).toMatch(/^broken\.mp4 could not be brought in: .+ Nothing of it was kept\.$/);
      expect(Object.keys((await opened()).document.clips)).toHaveLength(6);
    },
    120000,
  );
}
