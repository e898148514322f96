import { TRACES_AREA } from '@wraithos/demo';
import type { Page } from 'puppeteer-core';
import { clickPicture, clickText, dragPicture, goTo, hands, key, press, saved, setField, settled, sleep, until } from '../browser';
import { truthOf, type Stage } from '../stage';

interface Truth {
  pin: [number, number][];
  lantern: [number, number][];
}
/** The loose area that a newcomer draws around the subject and the lantern, 21 clicks. */
const BODY_AREA: [number, number][] = [
  [404, 198],
  [442, 198],
  [546, 268],
  [554, 204],
  [590, 192],
  [626, 210],
  [640, 268],
  [676, 330],
  [680, 486],
  [656, 510],
  [678, 590],
  [644, 602],
  [642, 674],
  [520, 674],
  [532, 602],
  [500, 590],
  [526, 430],
  [526, 356],
  [466, 318],
  [452, 324],
  [404, 324],
];

async function addEffect(page: Page, lane: string, title: string): Promise<void> {
  await press(page, `[aria-label="Add an effect to ${lane}"]`);
  await until('the menu', () => page.$('.dropdown-menu.show'));
  await clickText(page, title, '.dropdown-menu.show');
  await page.waitForSelector(`.row-item.selected[aria-label="${title}"]`);
}

/** One film, from its clips to its effects, by hand. */
export function filmStories(stage: Stage): void {
  stage.story(
    'TW_010: the subject is tracked, isolated and comes apart, by hand',
    async () => {
      const { page } = stage,
        truth = await truthOf<Truth>('TW_010'),
        shotId = await stage.shotFrom('TW_010 start here', 'TW_013'),
        opened = () => stage.opened(shotId),
        samplesOf = (name: string) => stage.samples(shotId, name);
      const track = async (name: string, at: [number, number]): Promise<void> => {
        await clickText(page, 'Add track');
        await clickText(page, 'Point');
        await clickPicture(page, ...at);
        await setField(page, 'Name', name);
        // Close around the pin, so that the cloth's folds stay out of it.
        await setField(page, 'Pattern', name === 'Lantern' ? '31' : '21');
        // The click is as exact as a screen pixel; the number below is what a careful hand reaches at 100 %.
        await clickText(page, 'Track forwards');
        await until(
          `${name} to be tracked`,
          async () => {
            const { document } = await opened();
            return Object.values(document.tracks).find((t) => t.name === name)?.samples;
          },
          120_000,
        );
      };
      const drawOutline = async (mode: string, points: [number, number][]): Promise<void> => {
        await page.select('select[aria-label="A new outline"]', mode);
        await press(page, '[aria-label="Draw point by point"]');
        for (const p of points) await clickPicture(page, ...p);
        await page.keyboard.press('Enter');
        await saved(page);
      };

      const track_ = async () => {
        await page.goto(`${stage.app.base}/shots/${shotId}/motion`);
        await page.waitForSelector('canvas.picture');
        // She stands from here on; her lantern is all but up.
        await goTo(page, 1057);
        await settled(page);
        // Zoom in at the pin with the wheel, as one does to hit it.
        await track('Scarf pin', truth.pin[56]!);
        await goTo(page, 1057);
        await track('Lantern', truth.lantern[56]!);
        for (const [name, key] of [
          ['Scarf pin', 'pin'],
          ['Lantern', 'lantern'],
        ] as const) {
          const samples = await samplesOf(name),
            start = samples[0]!,
            dx = start.x! - truth[key][start.frame]![0],
            dy = start.y! - truth[key][start.frame]![1],
            errors = samples
              .filter((s) => s.state === 'good')
              .map((s) => Math.hypot(s.x! - dx - truth[key][s.frame]![0], s.y! - dy - truth[key][s.frame]![1]));
          const rms = Math.sqrt(errors.reduce((n, e) => n + e * e, 0) / errors.length);
          console.info(
            `${name}: ${errors.length} good frames, rms ${rms.toFixed(3)} px against the truth, begun ${Math.hypot(dx, dy).toFixed(2)} px off`,
          );
          expect(errors.length).toBeGreaterThanOrEqual(36);
          expect(rms).toBeLessThanOrEqual(0.3);
          expect(Math.max(...errors)).toBeLessThan(1);
        }
        await page.waitForSelector('svg[aria-label="Confidence of Lantern"] rect');
        // Correct one frame of the pin by dragging it, then take that back with undo.
        const rows = await page.$$('.list-item');
        await rows[0]!.click();
        await goTo(page, 1077);
        await settled(page);
        const at = (await samplesOf('Scarf pin')).find((s) => s.frame === 76)!;
        await dragPicture(page, [at.x!, at.y!], [at.x! + 30, at.y! + 12]);
        await saved(page);
        const corrected = Object.values(Object.values((await opened()).document.tracks).find((t) => t.name === 'Scarf pin')!.corrections);
        expect(corrected).toHaveLength(1);
        expect(Math.abs(corrected[0]!.at[0] - at.x! - 30)).toBeLessThan(2.5);
        await press(page, '[aria-label^="Undo"]');
        await until(
          'undo',
          async () =>
            Object.keys(Object.values((await opened()).document.tracks).find((t) => t.name === 'Scarf pin')!.corrections).length === 0,
        );
      };
      const isolate = async () => {
        await page.goto(`${stage.app.base}/shots/${shotId}/mattes`);
        await clickText(page, 'New matte');
        await clickText(page, 'Difference from the clean plate');
        await setField(page, 'Name', 'Ilse');
        await setField(page, 'Looks for', 'each pixel that differs');
        for (const [label, value] of [
          ['Threshold', '3.2'],
          ['Softness', '2.5'],
          ['Smooth', '4'],
          ['Fill holes', '6*1000'],
          ['Despeckle', '300'],
        ] as const)
          await setField(page, label, value);
        await setField(page, 'Shadow', 'kept');
        await goTo(page, 1066);
        await settled(page);
        await drawOutline('keep inside', BODY_AREA);
        await clickText(page, 'Make it the subject');
        await clickText(page, 'New matte');
        await clickText(page, 'Outlines drawn by hand');
        await setField(page, 'Name', 'Her light');
        await drawOutline('add', TRACES_AREA);
        await setField(page, 'Feather', '60');
        await clickText(page, 'Traces of Ilse');
        await clickText(page, 'New matte');
        await clickText(page, "A clip's own matte");
        await setField(page, 'Clip', 'tw010_occluder');
        await setField(page, 'Name', 'Post and rope');
        await clickText(page, 'Occluder');
        await saved(page);
        // The three views differ on the screen.
        await (await page.$$('.list-item'))[0]!.click();
        const seen = new Set<string>();
        for (const view of ['overlay', 'b & w', 'cut out']) {
          await clickText(page, view);
          await sleep(250);
          await settled(page);
          seen.add(await page.evaluate(() => (document.querySelector('canvas.picture') as HTMLCanvasElement).toDataURL()));
        }
        expect(seen.size).toBe(3);
        const now = (await opened()).document,
          subject = Object.values(now.subjects)[0]!;
        expect(now.mattes[subject.matte!]!.outlines[0]!.keys[0]!.vertices).toHaveLength(BODY_AREA.length);
        expect(now.mattes[subject.traces!]!.name).toBe('Her light');
        expect(Object.keys(now.occluders)).toHaveLength(1);
      };
      const dissolve = async () => {
        await page.goto(`${stage.app.base}/shots/${shotId}/effects`);
        await page.waitForSelector('.film');
        await goTo(page, 1060);
        await addEffect(page, 'On', 'Dissolve');
        await setField(page, 'Hangs on', 'Scarf pin');
        await settled(page);
        const pin = (await samplesOf('Scarf pin')).find((s) => s.frame === 59)!;
        // Drag the place where it begins from the pin to the lifted hand.
        await dragPicture(page, [pin.x!, pin.y!], [truth.lantern[59]![0], truth.lantern[59]![1]]);
        await saved(page);
        await setField(page, 'Extent', '460');
        const row = Object.values((await opened()).document.rows)[0]!,
          from = row.values.from as [number, number];
        expect(Math.abs(pin.x! + from[0] - truth.lantern[59]![0])).toBeLessThan(3);
        expect(row.curves.progress!.points.map((p) => p.value)).toEqual([0, 100]);

        await addEffect(page, 'Front', 'Glow');
        await setField(page, 'Hangs on', 'Lantern');
        await setField(page, 'Reach', '130');
        await setField(page, 'First frame', '1001');
        await setField(page, 'Length', '65');
        await addEffect(page, 'Front', 'Displace');
        await setField(page, 'Hangs on', 'Lantern');
        await setField(page, 'Strength', '3');
        await press(page, '[aria-label="Mute Displace"]');
        await saved(page);
        // Dragging a row into another lane moves it in depth; undo brings it back.
        const laneOf = async () => Object.values((await opened()).document.rows).find((each) => each.effect === 'displace')!.lane;
        const from0 = (await (await page.$('.row-item[aria-label="Displace"] .row-name'))!.boundingBox())!,
          to0 = (await (await page.$('section[aria-label="Behind"]'))!.boundingBox())!;
        hands.count.drags++;
        await page.mouse.move(from0.x + 10, from0.y + 6);
        await page.mouse.down();
        await page.mouse.move(from0.x + 14, from0.y + 40, { steps: 5 });
        await page.mouse.move(to0.x + 60, to0.y + to0.height / 2, { steps: 12 });
        await sleep(200);
        await page.mouse.up();
        await until('the new lane', async () => (await laneOf()) === 'behind');
        await key(page, 'z', true);
        await until('undo', async () => (await laneOf()) === 'front');
        await saved(page);
        // Drag the glow's range by its right end; it is one edit.
        const before = (await opened()).revision,
          end = (await page.$('[aria-label="Range of Glow"] .end.b'))!,
          box = (await end.boundingBox())!;
        hands.count.drags++;
        await page.mouse.move(box.x + 4, box.y + 6);
        await page.mouse.down();
        await page.mouse.move(box.x - 60, box.y + 6, { steps: 6 });
        await page.mouse.up();
        await until('the range', async () => (await opened()).revision === before + 1);
        await key(page, 'z', true);
        await until('undo', async () => Object.values((await opened()).document.rows).find((r) => r.name === 'Glow')!.length === 65);
        // A cue: put, named, and the dissolve starts with it.
        await goTo(page, 1058);
        await press(page, '[aria-label="Put a cue at this frame"]');
        await press(page, '.flag');
        await setField(page, 'Name', 'lantern is up');
        await press(page, '.row-item[aria-label="Dissolve"]');
        await setField(page, 'Starts with', 'lantern is up');
        await saved(page);
        const { document } = await opened(),
          dissolve = Object.values(document.rows).find((r) => r.effect === 'dissolve')!;
        expect([document.cues[dissolve.cue!]!.frame, dissolve.start]).toEqual([1058, 2]);
        expect(Object.values(document.rows).find((r) => r.effect === 'displace')!.muted).toBe(true);
      };
      await track_();
      await isolate();
      await dissolve();
    },
    420_000,
    'TW_010: a walker comes apart into flakes',
  );
}
