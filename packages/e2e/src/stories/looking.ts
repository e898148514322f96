import { drag, goTo, onScreen, press, settled, sleep, until } from '../browser';
import type { Stage } from '../stage';

/** Looking at a picture: values, channels, exposure. */
export function lookingStories(stage: Stage): void {
  stage.story(
    'values under the pointer and of a box are those of the film; one channel is shown, and nothing of it is rendered',
    async () => {
      const { page } = stage,
        id = await stage.shotFrom('TW_010', 'TW_071', (shot) => ({ ...shot, rows: {}, occluders: {} })),
        { document } = await stage.opened(id),
        performance = Object.values(document.clips).find((c) => c.role === 'performance')!,
        sent = Buffer.from(
          await (await fetch(`${stage.app.base}/api/media/${(performance.media as { hash: string }).hash}/frames/69`)).arrayBuffer(),
        ),
        code = (x: number, y: number, c: number) => sent[20 + (y * 1280 + x) * 3 + c]!;
      await page.goto(`${stage.app.base}/shots/${id}/plates`);
      await page.waitForSelector('canvas.picture');
      await goTo(page, 1070);
      await settled(page);
      await page.keyboard.press('m');
      await page.waitForSelector('[aria-label="Measure"]');
      const rows = (title: string) =>
        page.$$eval(
          '[aria-label="Measure"] tbody',
          (bodies, begins) => {
            const body = bodies.find((b) => b.getAttribute('aria-label')!.startsWith(begins));
            return body
              ? [...body.querySelectorAll('tr')]
                  .slice(1)
                  .map((tr) => [...tr.querySelectorAll('td')].slice(1).map((td) => Number(td.textContent)))
              : [];
          },
          title,
        );
      // The sky at the left, which is even.
      await page.mouse.move(...(await onScreen(page, 200, 60)));
      const [, codes, scene] = await until('the values', async () => {
        const found = await rows('At ');
        return found.length === 3 && found;
      });
      for (let c = 0; c < 3; c++) {
        let mean = 0;
        for (let dy = -2; dy <= 2; dy++) for (let dx = -2; dx <= 2; dx++) mean += code(200 + dx, 60 + dy, c) / 25;
        // A draft's pixel is the mean of four, and the film has grain.
        expect(Math.abs(codes![c]! - mean)).toBeLessThan(9);
        expect(scene![c]!).toBeLessThan(1);
      }
      await page.keyboard.down('Shift');
      await drag(page, await onScreen(page, 150, 40), await onScreen(page, 250, 100));
      await page.keyboard.up('Shift');
      const [, of] = await until('the mean', async () => {
        const found = await rows('Mean of ');
        return found.length === 3 && found;
      });
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let y = 40; y < 100; y++) for (let x = 150; x < 250; x++) sum += code(x, y, c);
        expect(Math.abs(of![c]! - sum / 6000)).toBeLessThan(2.5);
      }
      // Every plot has been drawn.
      const drawn = () =>
        page.$$eval('[aria-label="Measure"] canvas', (all) =>
          all.map((c) => {
            const canvas = c as HTMLCanvasElement,
              { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
            return data.some((v, i) => i % 4 === 3 && v > 0);
          }),
        );
      await until('the plots', async () => (await drawn()).every(Boolean));
      expect(await drawn()).toHaveLength(3);
      const shown = () =>
        page.evaluate(() => {
          const seen = window.document.createElement('canvas');
          seen.width = seen.height = 64;
          const c = seen.getContext('2d')!;
          c.drawImage(window.document.querySelector('canvas.picture') as HTMLCanvasElement, 0, 0, 64, 64);
          const { data } = c.getImageData(0, 0, 64, 64);
          let most = 0;
          for (let i = 0; i < data.length; i += 4) most = Math.max(most, Math.abs(data[i]! - data[i + 2]!));
          return most;
        });
      expect(await shown()).toBeGreaterThan(40);
      await press(page, '[aria-label^="Channels and exposure"]');
      await page.waitForSelector('#field-look-shows');
      await page.select('#field-look-shows', 'red');
      await until('one channel', async () => (await shown()) < 4);
      await until('its word', () => page.$eval('.viewer .status', (el) => el.textContent!.includes('looked at: red')));
      // The film itself is as it was: the same values are measured.
      await sleep(200);
      expect((await rows('Mean of '))[1]).toEqual(of);
      await page.evaluate(() =>
        ([...window.document.querySelectorAll('.rail-fields button')].find((b) => b.textContent === 'As it is') as HTMLElement).click(),
      );
      await until('colour again', async () => (await shown()) > 40);
      await page.keyboard.press('m');
      await until('the panel to go', async () => !(await page.$('[aria-label="Measure"]')));
    },
    120_000,
  );
  stage.story(
    'the playhead goes to a typed frame or timecode, and from cue to cue',
    async () => {
      const { page } = stage,
        id = await stage.shotFrom('TW_010', 'TW_072', (shot) => ({
          ...shot,
          rows: {},
          occluders: {},
          cues: { q1: { id: 'q1', name: 'one', frame: 1020, clip: null }, q2: { id: 'q2', name: 'two', frame: 1060, clip: null } },
        })),
        frame = () => page.$eval('[aria-label=Frame]', (el) => Number(el.textContent)),
        type = async (text: string) => {
          await page.keyboard.press('g');
          await page.waitForSelector('[aria-label="Frame or timecode to go to"]');
          await page.keyboard.type(text);
          await page.keyboard.press('Enter');
        },
        at = (wanted: number) => until(`frame ${wanted}`, async () => (await page.$('[aria-label=Frame]')) && (await frame()) === wanted);
      await page.goto(`${stage.app.base}/shots/${id}/plates`);
      await page.waitForSelector('canvas.picture');
      await type('1042');
      await at(1042);
      await type('+5');
      await at(1047);
      await type('1:12');
      await at(1037);
      await type('2000');
      await until('the words', () => page.$eval('.go-to [role=alert]', (el) => el.textContent!.includes('has frames 1001 to 1096')));
      await page.keyboard.press('Escape');
      await at(1037);
      for (const [key, wanted] of [
        ['ArrowRight', 1060],
        ['ArrowRight', 1060],
        ['ArrowLeft', 1020],
      ] as const) {
        await page.keyboard.down('Control');
        await page.keyboard.press(key);
        await page.keyboard.up('Control');
        await at(wanted);
      }
    },
    60_000,
  );
  stage.story(
    'a wipe shows the picture before its line and the base behind it; its handle is dragged, another frame is held beside',
    async () => {
      const { page } = stage,
        id = await stage.shotFrom('TW_010', 'TW_073', (shot) => ({
          ...shot,
          rows: Object.fromEntries(Object.entries(shot.rows).filter(([, row]) => row.effect === 'dissolve')),
        })),
        WIDE = 64,
        grab = () =>
          page.evaluate((wide) => {
            const small = window.document.createElement('canvas');
            small.width = wide;
            small.height = 36;
            const c = small.getContext('2d')!;
            c.drawImage(window.document.querySelector('canvas.picture') as HTMLCanvasElement, 0, 0, wide, 36);
            return [...c.getImageData(0, 0, wide, 36).data];
          }, WIDE),
        /** Mean difference of two pictures between two columns, of 255. */
        apart = (a: number[], b: number[], from: number, to: number) => {
          let [sum, n] = [0, 0];
          for (let y = 0; y < 36; y++)
            for (let x = from; x < to; x++)
              for (let k = 0; k < 3; k++, n++) sum += Math.abs(a[(y * WIDE + x) * 4 + k]! - b[(y * WIDE + x) * 4 + k]!);
          return sum / n;
        },
        choose = async (field: string, value: string) => {
          await page.select(`#field-compare-${field}`, value);
        },
        sharp = async () => {
          await sleep(400);
          await settled(page);
          await sleep(200);
          return grab();
        };
      await page.goto(`${stage.app.base}/shots/${id}/effects`);
      await page.waitForSelector('canvas.picture');
      // At this frame the warden has come apart: the picture differs from the base where the figure stood.
      await goTo(page, 1092);
      await settled(page);
      const own = await sharp();
      await press(page, '[aria-label^="Compare with another picture"]');
      await page.waitForSelector('#field-compare-compared-with');
      await choose('compared-with', 'base');
      await page.waitForSelector('#field-compare-by');
      await choose('by', 'the other alone');
      const base = await sharp();
      // The figure stood at 520 to 690 of 1280 pixels: columns 26 to 34.
      expect(apart(own, base, 26, 34)).toBeGreaterThan(3);
      await choose('by', 'wipe');
      const half = await sharp();
      expect(apart(half, own, 0, 31)).toBeLessThan(1);
      expect(apart(half, base, 33, WIDE)).toBeLessThan(1);
      await drag(page, await onScreen(page, 640, 360), await onScreen(page, 320, 360));
      const quarter = await sharp();
      expect(apart(quarter, base, 18, WIDE)).toBeLessThan(1);
      expect(apart(quarter, own, 26, 34)).toBeGreaterThan(3);
      // Held beside itself, nothing differs; a later frame differs from the held one.
      await choose('compared-with', 'frame');
      await choose('by', 'difference');
      const none = await sharp();
      expect(Math.max(...none.filter((_, i) => i % 4 !== 3))).toBeLessThan(3);
      await goTo(page, 1070);
      const some = await sharp();
      expect(Math.max(...some.filter((_, i) => i % 4 !== 3))).toBeGreaterThan(60);
      await page.keyboard.press('c');
      await goTo(page, 1092);
      expect(apart(await sharp(), own, 0, WIDE)).toBeLessThan(1);
    },
    120_000,
  );
}
