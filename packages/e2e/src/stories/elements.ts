import { unzipSync } from 'fflate';
import sharp from 'sharp';
import type { ElementHandle } from 'puppeteer-core';
import { clickText, drag, goTo, onScreen, press, saved, setField, settled, until } from '../browser';
import type { Stage } from '../stage';

/** Elements on the picture, and a character that is moved off its plate. */
export function elementStories(stage: Stage): void {
  stage.story(
    'smoke dropped beside the subject lies behind the subject; dropped on the subject, it lies in front; a handle sets its size',
    async () => {
      const { page } = stage,
        id = await stage.shotFrom('TW_010', 'TW_016', (shot) => ({ ...shot, rows: {} }));
      await page.goto(`${stage.app.base}/shots/${id}/effects`);
      await page.waitForSelector('canvas.picture');
      await goTo(page, 1058);
      await settled(page);
      await clickText(page, 'Stockroom');
      await page.waitForSelector('.stock-tile');
      /** Drags a tile onto the picture, as a hand does. */
      const drop = async (name: string, x: number, y: number) => {
        const tile = await until(`the tile ${name}`, async () =>
            (
              await page.evaluateHandle(
                (title) => [...document.querySelectorAll('.stock-tile')].find((t) => t.textContent === title) ?? null,
                name,
              )
            ).asElement(),
          ),
          box = (await (tile as ElementHandle).boundingBox())!;
        await drag(page, [box.x + box.width / 2, box.y + box.height / 2], await onScreen(page, x, y));
      };
      const rows = async () => Object.values((await stage.opened(id)).document.rows);
      await drop('Smoke burst', 1000, 420);
      await until('the smoke behind', async () => (await rows()).length === 1);
      await drop('Low fog', 590, 380);
      await until('the fog before', async () => (await rows()).length === 2);
      const [smoke, fog] = (await rows()).sort((a, b) => (a.order < b.order ? -1 : 1)) as [
        Awaited<ReturnType<typeof rows>>[number],
        Awaited<ReturnType<typeof rows>>[number],
      ];
      expect([smoke.name, smoke.lane, smoke.start, smoke.length]).toEqual(['Smoke burst', 'behind', 1058, 39]);
      expect([fog.name, fog.lane, fog.values.playback]).toEqual(['Low fog', 'front', 'loops']);
      // The place is that of the drop, from the middle of the picture.
      expect(Math.hypot((smoke.values.place as number[])[0]! - 360, (smoke.values.place as number[])[1]! - 60)).toBeLessThan(3);
      // A corner of the fog, 960 x 270 about its place, is dragged to half of the distance.
      const [px, py] = (fog.values.place as [number, number]).map((v, i) => v + (i ? 360 : 640)) as [number, number],
        from = await onScreen(page, px + 480, py + 135),
        to = await onScreen(page, px + 240, py + 67.5);
      await page.mouse.move(...from);
      await page.mouse.down();
      await page.mouse.move(...to, { steps: 6 });
      await page.mouse.up();
      await until('the size', async () => {
        const size = (await rows()).find((r) => r.name === 'Low fog')!.values.size as number;
        return Math.abs(size - 50) < 3;
      });
    },
    120_000,
  );
  stage.story(
    'the subject is detached from the plate, made smaller and slower over another background, and rendered with alpha',
    async () => {
      const { page } = stage,
        id = await stage.shotFrom('TW_010', 'TW_018', (shot) => ({ ...shot, rows: {}, occluders: {} })),
        document = () => stage.opened(id).then((o) => o.document);
      await page.goto(`${stage.app.base}/shots/${id}/effects`);
      await page.waitForSelector('canvas.picture');
      await goTo(page, 1070);
      await settled(page);
      await press(page, '.subject-card');
      await press(page, '#field-detached');
      await until('the feet of the subject', async () => {
        const { detached, placed } = Object.values((await document()).subjects)[0]!;
        return detached && (placed.values.pivot as number[])[1]! > 200;
      });
      await setField(page, 'Size', '50');
      await setField(page, 'Speed', '40');
      await press(page, '[aria-label="Base"]');
      await clickText(page, 'Remove take 1');
      await saved(page);
      expect((await document()).base.takes).toEqual([]);
      await settled(page);
      await page.goto(`${stage.app.base}/shots/${id}/render`);
      await setField(page, 'Format', 'PNG sequence, 8 bit');
      await setField(page, 'Alpha', 'straight');
      await setField(page, 'From frame', '1070');
      await setField(page, 'To frame', '1070');
      await clickText(page, 'Render 1 frame');
      const job = await until('the job', async () => (await stage.app.get<{ id: string }[]>(`/jobs?shot=${id}`))[0]);
      await stage.over(job.id, 60_000);
      const files = unzipSync(new Uint8Array(await (await fetch(`${stage.app.base}/api/jobs/${job.id}/file`)).arrayBuffer())),
        { data, info } = await sharp(Object.values(files)[0]!).raw().toBuffer({ resolveWithObject: true }),
        alpha = (x: number, y: number) => data[(y * info.width + x) * 4 + 3]!;
      expect([info.width, info.channels]).toEqual([1280, 4]);
      // The subject is half as tall (it was 427 px) and stands on the same point: the plate shows where the head was, and the head shows at its new place.
      const { placed } = Object.values((await document()).subjects)[0]!,
        [fx, fy] = (placed.values.pivot as [number, number]).map((v, i) => v + (i ? 360 : 640)) as [number, number];
      let [top, bottom] = [720, 0];
      for (let y = 0; y < 720; y++)
        for (let x = 0; x < 1280; x++)
          if (alpha(x, y) > 200) {
            top = Math.min(top, y);
            bottom = Math.max(bottom, y);
          }
      expect(Math.abs(bottom - fy)).toBeLessThan(12);
      expect(bottom - top).toBeGreaterThan(170);
      expect(bottom - top).toBeLessThan(250);
      expect(alpha(Math.round(fx), Math.round(fy - 110))).toBeGreaterThan(240);
      expect(alpha(100, 100)).toBe(0);
    },
    200_000,
  );
}
