import { join } from 'node:path';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import type { ElementHandle } from 'puppeteer-core';
import { clickPicture, clickText, drag, dragPicture, goTo, hands, key, onScreen, press, saved, setField, settled, until } from '../browser';
import { mediaOf, truthOf, type Stage, type Summary } from '../stage';

/** Films of many pictures, each from raw clips to the queued render. */
export function takeStories(stage: Stage): void {
  /** An empty shot, open on Plates. */
  const empty = async (code: string): Promise<string> => {
    const [production] = await stage.app.get<{ id: string }[]>('/productions'),
      made = await stage.app.send<Summary>('POST', '/shots', { production: production!.id, code });
    await stage.page.goto(`${stage.app.base}/shots/${made.body.id}/plates`);
    await stage.page.waitForSelector('[aria-label="Files to bring in"]');
    return made.body.id;
  };
  const shotOf = (id: string) => stage.opened(id).then((o) => o.document);
  const bring = async (id: string, ...files: string[]): Promise<void> => {
    const before = Object.keys((await shotOf(id)).clips).length,
      input = (await stage.page.$('[aria-label="Files to bring in"]')) as ElementHandle<HTMLInputElement>;
    hands.count.values++;
    await input.uploadFile(...files);
    await until('the clip', async () => Object.keys((await shotOf(id)).clips).length > before, 120_000);
    await saved(stage.page);
  };
  const step = async (name: string): Promise<void> => {
    await press(stage.page, `.steps a[href$="${name}"]`);
    await stage.page.waitForSelector({ render: '.render-page', effects: '[aria-label="Base"]' }[name] ?? '.film');
  };
  const add = async (lane: string, title: string): Promise<void> => {
    await clickText(stage.page, `Add an effect to ${lane}`);
    await clickText(stage.page, title, '.dropdown-menu.show');
    await stage.page.waitForSelector(`.row-item.selected[aria-label="${title}"]`);
  };
  const render = async (id: string, format: string): Promise<string> => {
    const { page } = stage;
    await step('render');
    await setField(page, 'Format', format);
    await until('the button', () => page.$('.render-page .btn-primary:not([disabled])'));
    await press(page, '.render-page .btn-primary');
    return (await until('the job', async () => (await stage.app.get<{ id: string }[]>(`/jobs?shot=${id}`))[0])).id;
  };
  /** The first picture of a finished job. */
  const picture = async (job: string, at = 0) => {
    await stage.over(job, 240_000);
    const files = unzipSync(new Uint8Array(await (await fetch(`${stage.app.base}/api/jobs/${job}/file`)).arrayBuffer())),
      { data, info } = await sharp(files[Object.keys(files).sort()[at]!]!).raw().toBuffer({ resolveWithObject: true });
    return (x: number, y: number) => [...data.subarray((y * info.width + x) * info.channels, (y * info.width + x) * info.channels + 3)];
  };
  const together = () => Object.values(hands.count).reduce((n, v) => n + v, 0);

  stage.story(
    'two takes are matched and joined by a ripple at a frame, by hand',
    async () => {
      const { page } = stage,
        id = await empty('TW_041'),
        truth = await truthOf<{ bellMouth: [number, number][] }>('TW_040');
      await bring(id, join(mediaOf('TW_040'), 'performance.mp4'));
      await bring(id, join(mediaOf('TW_040'), 'take-two.mp4'));
      await settled(page);
      await clickText(page, 'Match its place at this frame');
      await until('the place', async () => (((await shotOf(id)).clips.c2!.placed.values.place as number[])[0] ?? 0) !== 0);
      await clickText(page, 'Match its light at this frame');
      await until('the light', async () => (await shotOf(id)).clips.c2!.placed.values.red !== 100);
      await setField(page, 'Starts at frame', '1030');
      const { placed } = (await shotOf(id)).clips.c2!;
      // The second take was framed 6 px to the right and 4 px higher, and got more light.
      expect(Math.hypot((placed.values.place as number[])[0]! + 6, (placed.values.place as number[])[1]! - 4)).toBeLessThan(0.6);
      expect(placed.values.red as number).toBeLessThan(80);
      await step('effects');
      await goTo(page, 1040, 1001, 84);
      await add('Whole picture', 'Displace');
      await setField(page, 'Pattern', 'ripple');
      await setField(page, 'Length', '20');
      await setField(page, 'Radius', '20');
      await press(page, '[aria-label="Radius over time"]');
      await goTo(page, 1059, 1001, 84);
      await setField(page, 'Radius', '900');
      await press(page, '[aria-label="Base"]');
      await clickText(page, 'Add a take at this frame');
      await setField(page, 'Transition', 'led by an effect');
      await setField(page, 'Led by', 'Displace');
      await saved(page);
      const job = await render(id, 'PNG sequence, 8 bit');
      expect(together()).toBeLessThanOrEqual(22);
      const { base, rows } = await shotOf(id);
      expect(base.takes).toMatchObject([{ clip: 'c1' }, { clip: 'c2', row: 'r1' }]);
      expect(rows.r1!.curves.radius!.points.map((p) => p.value)).toEqual([20, 900]);
      expect(truth.bellMouth).toHaveLength(84);
      const at = await picture(job, 50),
        // Half way the middle is of the second take already, where the warden stands at the right; the left edge is still the first.
        before = await picture(job, 30);
      expect(at(640, 360)).not.toEqual(before(640, 360));
    },
    420_000,
    'TW_040: two takes are joined by a ripple',
  );

  stage.story(
    'a keyed figure is made small, slow and moved over another background, by hand',
    async () => {
      const { page } = stage,
        id = await empty('TW_051'),
        truth = await truthOf<{ pin: [number, number][] }>('TW_050');
      await bring(id, join(mediaOf('TW_050'), 'performance.mp4'));
      await bring(id, join(mediaOf('TW_050'), 'chart-room.png'));
      await step('mattes');
      await clickText(page, 'New matte');
      await clickText(page, 'Chroma key of a backing', '.dropdown-menu.show');
      await clickPicture(page, 420, 250);
      await until('the backing', async () => {
        const source = Object.values((await shotOf(id)).mattes)[0]?.sources[0]?.source;
        return source?.kind === 'chroma' && source.backing !== '#00b140';
      });
      await clickText(page, 'Make it the subject');
      await step('effects');
      await press(page, '.subject-card');
      await press(page, '#field-detached');
      await until('the feet', async () => Object.values((await shotOf(id)).subjects)[0]?.detached);
      await setField(page, 'Size', '60');
      await setField(page, 'Speed', '50');
      const pivot = async () => {
        const { placed } = Object.values((await shotOf(id)).subjects)[0]!,
          [px, py] = placed.values.pivot as [number, number],
          [sx, sy] = placed.values.shift as [number, number];
        return [640 + px + sx, 360 + py + sy] as [number, number];
      };
      const from = await pivot();
      await dragPicture(page, from, [from[0] - 260, from[1] + 120]);
      await until('the move', async () => Math.abs((await pivot())[0] - from[0] + 260) < 4);
      await press(page, '[aria-label="Base"]');
      await clickText(page, 'Remove take 1');
      await setField(page, 'Behind it', 'clip');
      await setField(page, 'Clip', 'chart-room');
      await saved(page);
      await settled(page);
      const job = await render(id, 'PNG sequence, 8 bit');
      expect(together()).toBeLessThanOrEqual(30);
      const frame = 40,
        at = await picture(job, frame),
        [fx, fy] = await pivot(),
        { placed } = Object.values((await shotOf(id)).subjects)[0]!,
        [px, py] = (placed.values.pivot as [number, number]).map((v, i) => v + (i ? 360 : 640)) as [number, number],
        // At half its speed it shows frame 20 of the clip, at 0.6 of its size about its feet.
        [tx, ty] = truth.pin[20]!,
        pin = [Math.round(fx + 0.6 * (tx - px)), Math.round(fy + 0.6 * (ty - py))] as const;
      // The pin is white enamel, and stands there.
      let light = 0;
      for (let y = -3; y <= 3; y++) for (let x = -3; x <= 3; x++) light = Math.max(light, Math.min(...at(pin[0] + x, pin[1] + y)));
      expect(light).toBeGreaterThan(150);
      // No green is left anywhere near, and the wall of the room is what it is.
      const room = await sharp(join(mediaOf('TW_050'), 'chart-room.png'))
        .raw()
        .toBuffer({ resolveWithObject: true });
      let greenest = 0;
      for (let y = Math.round(fy) - 220; y < Math.min(719, fy + 10); y++)
        for (let x = Math.round(fx) - 110; x < fx + 110; x++) {
          const [r, g, b] = at(x, y) as [number, number, number],
            i = (y * room.info.width + x) * room.info.channels;
          greenest = Math.max(greenest, g - Math.max(r, b) - Math.max(0, room.data[i + 1]! - Math.max(room.data[i]!, room.data[i + 2]!)));
        }
      expect(greenest).toBeLessThan(22);
      expect(at(60, 60)).toEqual([...room.data.subarray((60 * 1280 + 60) * room.info.channels, (60 * 1280 + 60) * room.info.channels + 3)]);
    },
    420_000,
    'TW_050: a keyed figure is shrunk, slowed and moved',
  );

  stage.story(
    'a ring lies on the ground, smoke stands behind and before the subject, and a flash lights it, by hand',
    async () => {
      const { page } = stage,
        id = await empty('TW_012'),
        truth = await truthOf<{ leftFoot: [number, number][]; pin: [number, number][] }>('TW_010');
      await bring(id, join(mediaOf('TW_010'), 'performance.mp4'));
      await bring(id, join(mediaOf('TW_010'), 'clean.png'));
      await step('mattes');
      await clickText(page, 'New matte');
      await clickText(page, 'Difference from the clean plate', '.dropdown-menu.show');
      await clickText(page, 'Make it the subject');
      await step('effects');
      await goTo(page, 1060);
      await settled(page);
      await add('Behind', 'Ring');
      await saved(page);
      const feet = truth.leftFoot[59]!,
        row = (await shotOf(id)).rows.r1!,
        [x, y] = (row.values.place as [number, number]).map((v, i) => v + (i ? 360 : 640)) as [number, number];
      await dragPicture(page, [x, y], feet);
      await until('the ring on the ground', async () => {
        const place = (await shotOf(id)).rows.r1!.values.place as [number, number];
        return Math.hypot(640 + place[0] - feet[0], 360 + place[1] - feet[1]) < 4;
      });
      await clickText(page, 'Stockroom');
      await page.waitForSelector('.stock-tile');
      const drop = async (px: number, py: number) => {
        const tile = (await until('the smoke in the stockroom', async () =>
            (
              await page.evaluateHandle(
                () => [...document.querySelectorAll('.stock-tile')].find((t) => t.textContent === 'Smoke burst') ?? null,
              )
            ).asElement(),
          )) as ElementHandle,
          box = (await tile.boundingBox())!,
          before = Object.keys((await stage.opened(id)).document.rows).length;
        await drag(page, [box.x + box.width / 2, box.y + box.height / 2], await onScreen(page, px, py));
        await until('the smoke', async () => Object.keys((await stage.opened(id)).document.rows).length === before + 1);
      };
      await drop(feet[0] + 330, 400);
      await drop(truth.pin[59]![0], truth.pin[59]![1] + 16);
      await press(page, '[aria-label="Back to the stack"]');
      await add('Front', 'Flash');
      await saved(page);
      await settled(page);
      const job = await render(id, 'MP4 video (H.264)');
      expect(together()).toBeLessThanOrEqual(30);
      const lanes = Object.values((await shotOf(id)).rows).map((r) => [r.effect, r.lane]);
      expect(lanes).toEqual([
        ['ring', 'behind'],
        ['element', 'behind'],
        ['element', 'front'],
        ['flash', 'front'],
      ]);
      await fetch(`${stage.app.base}/api/jobs/${job}`, { method: 'DELETE' });
    },
    300_000,
    'TW_010: a ring, smoke behind and before, a flash',
  );

  stage.story(
    'a drawn figure stands before a painting, with a beam that goes behind one of its legs, by hand',
    async () => {
      const { page } = stage,
        id = await empty('TW_032'),
        folder = join(mediaOf('TW_030'), 'performance'),
        leg = [
          [938, 470],
          [1004, 470],
          [1004, 604],
          [938, 604],
        ] as const;
      await bring(id, ...Array.from({ length: 60 }, (_, i) => join(folder, `${1001 + i}.png`)));
      await bring(id, join(mediaOf('TW_030'), 'ground', 'still.png'));
      await step('mattes');
      await clickText(page, 'New matte');
      await clickText(page, 'Outlines drawn by hand', '.dropdown-menu.show');
      await goTo(page, 1046, 1001, 60);
      await settled(page);
      for (const [x, y] of leg) await clickPicture(page, x, y);
      await key(page, 'Enter');
      await until('the outline', async () => Object.values((await shotOf(id)).mattes).some((m) => m.outlines.length));
      await step('effects');
      await press(page, '[aria-label="Base"]');
      await setField(page, 'Behind it', 'clip');
      await add('Front', 'Beam');
      const at = async (name: 'start' | 'place') => {
        const [x, y] = Object.values((await shotOf(id)).rows)[0]!.values[name] as [number, number];
        return [640 + x, 360 + y] as [number, number];
      };
      await settled(page);
      // Where the beam begins and ends is read from what was saved.
      await saved(page);
      await dragPicture(page, await at('place'), [700, 640]);
      await until('its end', async () => Math.hypot((await at('place'))[0] - 700, (await at('place'))[1] - 640) < 4);
      await dragPicture(page, await at('start'), [1100, 372]);
      await until('its beginning', async () => Math.hypot((await at('start'))[0] - 1100, (await at('start'))[1] - 372) < 4);
      const outlined = Object.values((await shotOf(id)).mattes).find((m) => m.outlines.length)!;
      await setField(page, 'Under', outlined.name);
      await saved(page);
      await settled(page);
      const job = await render(id, 'PNG sequence, 8 bit');
      expect(together()).toBeLessThanOrEqual(22);
      const { base, clips, rows } = await shotOf(id);
      expect([base.ground.values.ground, clips[base.ground.clip!]!.name, Object.values(rows)[0]!.under]).toEqual([
        'clip',
        'still',
        outlined.id,
      ]);
      const seen = await picture(job, 48),
        ground = await sharp(join(mediaOf('TW_030'), 'ground', 'still.png'))
          .raw()
          .toBuffer({ resolveWithObject: true });
      // The painting stands around the figure.
      expect(seen(40, 40)).toEqual([
        ...ground.data.subarray((40 * 1280 + 40) * ground.info.channels, (40 * 1280 + 40) * ground.info.channels + 3),
      ]);
    },
    420_000,
    'TW_030: a drawn figure before a painting, a beam behind its leg',
  );

  stage.story(
    'an aura stands behind a drawn figure that brings alpha, by hand',
    async () => {
      const { page } = stage,
        id = await empty('TW_033'),
        folder = join(mediaOf('TW_030'), 'performance');
      await bring(id, ...Array.from({ length: 60 }, (_, i) => join(folder, `${1001 + i}.png`)));
      await step('effects');
      await add('Behind', 'Aura');
      await saved(page);
      await settled(page);
      const job = await render(id, 'PNG sequence, 8 bit');
      expect(together()).toBeLessThanOrEqual(8);
      const seen = await picture(job, 20),
        { data, info } = await sharp(join(folder, '1021.png')).raw().toBuffer({ resolveWithObject: true });
      let darker = 0,
        lit = 0,
        inside = 0,
        around = 0;
      for (let y = 0; y < info.height; y += 4)
        for (let x = 0; x < info.width; x += 4) {
          const at = (y * info.width + x) * 4,
            [r, g, b] = seen(x, y) as [number, number, number];
          if (data[at + 3] === 255) {
            inside++;
            darker = Math.max(darker, data[at]! - r, data[at + 1]! - g, data[at + 2]! - b);
            lit += (r + g + b - data[at]! - data[at + 1]! - data[at + 2]!) / 3;
          } else if (data[at + 3] === 0 && Math.max(r, g, b) > 60) around++;
        }
      // The figure stands before it, lit a little at its edges, and there is light around it.
      expect(darker).toBeLessThanOrEqual(1);
      expect(lit / inside).toBeLessThan(12);
      expect(around).toBeGreaterThan(300);
    },
    300_000,
    'TW_030: an aura behind a drawn figure',
  );
}
