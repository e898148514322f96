import sharp from 'sharp';
import { clickPicture, clickText, dragPicture, goTo, press, saved, setField, settled, until } from '../browser';
import { truthOf, type Stage } from '../stage';

/** Tracks of more than one place. */
export function motionStories(stage: Stage): void {
  stage.story(
    'an area on the coat is tracked while she stands: every frame is good, and it stays with the cloth',
    async () => {
      const { page } = stage,
        truth = await truthOf<{ pin: [number, number][] }>('TW_010'),
        shotId = await stage.shotFrom('TW_010 start here', 'TW_099');
      await page.goto(`${stage.app.base}/shots/${shotId}/motion`);
      await page.waitForSelector('canvas.picture');
      await goTo(page, 1063);
      await settled(page);
      const [x, y] = truth.pin[62]!;
      await clickText(page, 'Add track');
      await clickText(page, 'Point');
      await clickPicture(page, x, y + 40);
      await setField(page, 'Name', 'Chest');
      await setField(page, 'Kind', 'Area');
      await setField(page, 'Area', '81');
      await saved(page);
      await clickText(page, 'Track forwards');
      await until(
        'the area to be tracked',
        async () => Object.values((await stage.opened(shotId)).document.tracks).find((t) => t.name === 'Chest')?.samples,
        120_000,
      );
      const samples = await stage.samples(shotId, 'Chest'),
        [first] = samples,
        moved = samples.map((s) =>
          Math.hypot(s.x! - first!.x! - truth.pin[s.frame]![0] + x, s.y! - first!.y! - truth.pin[s.frame]![1] + y),
        );
      expect(samples).toHaveLength(34);
      expect(samples.filter((s) => s.state === 'good').length).toBeGreaterThanOrEqual(32);
      // The pin rides on cloth that breathes beside it.
      expect(Math.max(...moved)).toBeLessThan(3);
      await goTo(page, 1090);
      await settled(page);
    },
    180_000,
  );

  stage.story(
    'the planks of the mole are tracked as a ground while the camera drifts, a jump is mended, and a ring lies on it in perspective',
    async () => {
      const { page } = stage,
        { camera } = await truthOf<{ camera: [number, number][] }>('TW_020'),
        shotId = await stage.shotFrom('TW_020', 'TW_074', (shot) => ({ ...shot, rows: {} }));
      await page.goto(`${stage.app.base}/shots/${shotId}/motion`);
      await page.waitForSelector('canvas.picture');
      await goTo(page, 1041, 1001, 72);
      await settled(page);
      await clickText(page, 'Add track');
      await clickText(page, 'Ground');
      await clickPicture(page, 400, 610);
      await setField(page, 'Name', 'Mole');
      await saved(page);
      const track = async () =>
        Object.values((await stage.opened(shotId)).document.tracks).find((t) => t.name === 'Mole')! as unknown as Record<string, never>;
      // Its corners are drawn on the planks.
      for (const [from, to] of [
        [
          [290, 570],
          [250, 520],
        ],
        [
          [510, 570],
          [560, 520],
        ],
        [
          [580, 660],
          [760, 700],
        ],
        [
          [220, 660],
          [60, 700],
        ],
      ] as const)
        await dragPicture(page, [...from], [...to]);
      await saved(page);
      const drawn = await track(),
        at = drawn.at as [number, number];
      expect(Math.hypot((drawn.bottomLeft as [number, number])[0] + 340, (drawn.bottomLeft as [number, number])[1] - 90)).toBeLessThan(6);
      await clickText(page, 'Track forwards');
      await until('the ground to be tracked', async () => (await track()).samples, 120_000);
      const samples = await stage.samples(shotId, 'Mole'),
        [first] = samples,
        off = samples
          .slice(1)
          .filter((s) => s.state === 'good')
          .map((s) =>
            Math.max(
              ...s.corners!.map((c, i) =>
                Math.hypot(...([0, 1] as const).map((k) => c[k] - first!.corners![i]![k] - camera[s.frame]![k] + camera[first!.frame]![k])),
              ),
            ),
          )
          .sort((a, b) => a - b);
      console.info(
        `ground: ${off.length} of ${samples.length - 1} good, corners off by ${off[off.length >> 1]!.toFixed(2)} px on the median, ${off.at(-1)!.toFixed(2)} px at the most, from ${at.map(Math.round).join()}`,
      );
      expect(off.length).toBeGreaterThan(8);
      // Planks in the dark, through compression: the far corners are held by little.
      expect(off[off.length >> 1]!).toBeLessThan(0.7);
      // A doubtful frame is mended from its neighbours, corners and all.
      await page.waitForSelector('[aria-label="Doubtful frames"] [aria-label^="Fill in"]');
      await press(page, '[aria-label="Doubtful frames"] [aria-label^="Fill in"]');
      await saved(page);
      const mended = Object.values((await track()).corrections as unknown as Record<string, { corners?: unknown[] }>);
      expect(mended.length).toBeGreaterThan(0);
      expect(mended[0]!.corners).toHaveLength(4);
      // A ring hangs on the ground and lies flat: what it draws is far wider than high.
      await clickText(page, 'Effects');
      await goTo(page, 1042, 1001, 72);
      await press(page, '[aria-label="Add an effect to Front"]');
      await clickText(page, 'Ring', '.dropdown-menu.show');
      await page.waitForSelector('.row-item.selected[aria-label="Ring"]');
      await setField(page, 'Hangs on', 'Mole');
      await setField(page, 'Tilt', '0');
      await setField(page, 'Radius', '150');
      await saved(page);
      await settled(page);
      const [box, look] = [
          await page.$eval('canvas.picture', (c) => {
            const { x, y, width, height } = c.getBoundingClientRect();
            return { x, y, width, height };
          }),
          async () =>
            sharp(await page.screenshot({ clip: box }))
              .raw()
              .toBuffer({ resolveWithObject: true }),
        ],
        withRing = await look();
      await press(page, '.row-item[aria-label="Ring"] [aria-label^="Mute"]');
      await settled(page);
      const { data, info } = await look();
      let [left, right, top, bottom] = [info.width, 0, info.height, 0];
      for (let y = 0; y < info.height; y++)
        for (let x = 0; x < info.width; x++) {
          const p = (y * info.width + x) * info.channels;
          if (Math.abs(data[p + 1]! - withRing.data[p + 1]!) < 40) continue;
          [left, right, top, bottom] = [Math.min(left, x), Math.max(right, x), Math.min(top, y), Math.max(bottom, y)];
        }
      console.info(`ring: ${right - left} by ${bottom - top} screen pixels`);
      expect(right - left).toBeGreaterThan(60);
      expect(right - left).toBeGreaterThan(1.8 * (bottom - top));
    },
    240_000,
  );
}
