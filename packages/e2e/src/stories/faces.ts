import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';
import sharp from 'sharp';
import type { ElementHandle } from 'puppeteer-core';
import { clickPicture, clickText, goTo, hands, onScreen, press, saved, setField, settled, until } from '../browser';
import { mediaOf, truthOf, type Stage } from '../stage';

const run = promisify(execFile),
  /** Frames of TW_025 about its first blink. */
  FIRST = 8,
  COUNT = 12;

/** The face of somebody who is filmed: found, hung on, and told where there is none. */
export function faceStories(stage: Stage): void {
  stage.story(
    'a face is found with one press: embers burn in both eyes and go out in the blink, by hand; beside a face words say so',
    async () => {
      const { page } = stage,
        film = join(stage.folder, 'face.mp4'),
        truth = await truthOf<{ open: number[]; leftEye: [number, number][]; rightEye: [number, number][] }>('TW_025');
      await run('ffmpeg', [
        ...['-v', 'error', '-y', '-i', join(mediaOf('TW_025'), 'performance.mp4')],
        ...['-vf', `trim=start_frame=${FIRST}:end_frame=${FIRST + COUNT},setpts=PTS-STARTPTS`, '-c:v', 'libx264', '-crf', '14', film],
      ]);
      await page.goto(stage.app.base);
      await clickText(page, 'New shot');
      await page.waitForSelector('#new-code');
      await setField(page, 'Code', 'TW_075');
      await clickText(page, 'Empty');
      await clickText(page, 'Make shot');
      const field = await page.waitForSelector('input[aria-label="Files to bring in"]'),
        { id } = await stage.named('TW_075'),
        document = async () => (await stage.opened(id)).document;
      await (field as ElementHandle<HTMLInputElement>).uploadFile(film);
      await until('the clip', async () => Object.keys((await document()).clips).length === 1);
      // Beside the face, in the sky, there is none.
      await press(page, '.steps a[href$="motion"]');
      await page.waitForSelector('canvas.picture');
      await settled(page);
      await clickText(page, 'Add track');
      await clickText(page, 'Face');
      await clickPicture(page, 120, 130);
      await saved(page);
      await clickText(page, 'Find the face on all frames');
      const words = await until('the words', () => page.$eval('[role=alert].bad', (el) => el.textContent).catch(() => null), 120_000);
      expect(words).toMatch(/No face was found here.*Point or Area/);
      await clickText(page, 'Remove track');
      await saved(page);
      // The film begins here: the press beside the face is no part of it.
      hands.begin();

      await clickText(page, 'Add track');
      await clickText(page, 'Face');
      await clickPicture(page, 680, 350);
      await clickText(page, 'Find the face on all frames');
      const tracks = await until('the face', async () => {
          const all = Object.values((await document()).tracks);
          return all.length > 5 && all;
        }),
        eye = await stage.samples(id, 'Left eye (screen right)'),
        lids = await stage.samples(id, 'Lids of the left eye');
      expect(tracks.map((t) => t.kind).sort()).toEqual(['face', ...Array<string>(8).fill('face part'), 'lids', 'lids']);
      expect(eye).toHaveLength(COUNT);
      expect(eye.filter((s) => s.state === 'good').length).toBeGreaterThanOrEqual(COUNT - 2);
      for (const s of eye)
        expect(Math.hypot(s.x! - truth.leftEye[FIRST + s.frame]![0], s.y! - truth.leftEye[FIRST + s.frame]![1])).toBeLessThan(8);
      const shut = lids.filter((s) => truth.open[FIRST + s.frame]! < 0.1),
        open = lids.filter((s) => truth.open[FIRST + s.frame]! > 0.9);
      expect(Math.max(...shut.map((s) => s.confidence))).toBeLessThan(0.5);
      expect(Math.min(...open.map((s) => s.confidence))).toBeGreaterThan(0.7);

      await press(page, '.steps a[href$="effects"]');
      await clickText(page, 'Add an effect to Foreground');
      await clickText(page, 'Ember', '.dropdown-menu.show');
      await setField(page, 'Hangs on', 'Left eye (screen right)');
      await clickText(page, 'Add a twin');
      await setField(page, 'Gate', 'Lids of the left eye');
      await saved(page);
      const [row] = Object.values((await document()).rows),
        { mounts } = await document();
      expect(mounts[row!.twins[0]!.mount!]!.track).toBe(tracks.find((t) => t.name === 'Right eye (screen left)')!.id);
      /** How bright the screen is about a place of the picture, 0..255. */
      const bright = async (x: number, y: number) => {
          const [sx, sy] = await onScreen(page, x, y),
            clip = { x: Math.round(sx) - 4, y: Math.round(sy) - 4, width: 9, height: 9 },
            { channels } = await sharp(Buffer.from(await page.screenshot({ clip }))).stats();
          return (channels[0]!.mean + channels[1]!.mean + channels[2]!.mean) / 3;
        },
        at = async (frame: number) => {
          await goTo(page, 1001 + frame, 1001, COUNT);
          await page.keyboard.press('Escape');
          await settled(page);
          return Promise.all([truth.leftEye, truth.rightEye].map((of) => bright(of[FIRST + frame]![0], of[FIRST + frame]![1])));
        },
        dark = lids.find((s) => truth.open[FIRST + s.frame]! < 0.1)!.frame,
        lit = await at(0),
        out = await at(dark);
      for (const side of [0, 1]) expect(lit[side]! - out[side]!).toBeGreaterThan(30);
    },
    240_000,
    'A face: embers in both eyes, out in the blink',
  );
}
