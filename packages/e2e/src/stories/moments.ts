import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { clipStart, cueFrame, drawnRows } from '@wraithos/core/shot';
import { clickText, goTo, press, saved, setField, settled, until } from '../browser';
import { mediaOf, type Stage } from '../stage';

const run = promisify(execFile);

/** Moments of a shot: found, pinned, played between, and a picture against an earlier render of it. */
export function momentStories(stage: Stage): void {
  stage.story(
    'a cut is suggested, becomes a cue that moves with its clip, and the part behind it is played alone',
    async () => {
      const { page } = stage,
        film = join(stage.folder, 'two.mp4'),
        half = (code: string) => ['-ss', '1', '-t', '1', '-i', join(mediaOf(code), 'performance.mp4')];
      await run('ffmpeg', [
        ...['-v', 'error', '-y', ...half('TW_010'), ...half('TW_020')],
        ...['-filter_complex', '[0]scale=320:180,fps=24,setsar=1[a];[1]scale=320:180,fps=24,setsar=1[b];[a][b]concat=n=2:v=1'],
        ...['-c:v', 'libx264', '-crf', '18', '-pix_fmt', 'yuv420p', film],
      ]);
      await page.goto(stage.app.base);
      await clickText(page, 'New shot');
      await page.waitForSelector('#new-code');
      await setField(page, 'Code', 'TW_093');
      const field = await page.$('input[aria-label=Clip]');
      await (field as import('puppeteer-core').ElementHandle<HTMLInputElement>).uploadFile(film);
      await until('the clip', () => page.evaluate(() => document.querySelector('.modal')?.textContent?.includes('320 x 180, 48 frames')));
      await clickText(page, 'Make shot');
      await page.waitForSelector('.list-item');
      const { id } = await stage.named('TW_093'),
        shotNow = async () => (await stage.opened(id)).document,
        cues = async () => Object.values((await shotNow()).cues);
      await clickText(page, 'Suggest cues');
      const flag = '[aria-label="Suggested cue: cut at 1025"]';
      await page.waitForSelector(flag, { timeout: 60_000 });
      await press(page, flag);
      await until('the reason', () =>
        page.evaluate(() =>
          document.querySelector('[role=group][aria-label="Suggested cue"]')?.textContent?.includes('changes in one frame'),
        ),
      );
      await press(page, '[aria-label="Make it a cue"]');
      const cue = await until('the cue', async () => (await cues())[0]);
      expect(cue).toMatchObject({ name: 'cut', frame: 24, clip: expect.any(String) });
      // The clip is moved by five frames, and the cue with it.
      await press(page, '.clips .list-item');
      await setField(page, 'Starts at frame', '1006');
      await until('the cue to move', async () => cueFrame(await shotNow(), cue.id) === 1030);
      await saved(page);
      // Only from the cue on is played.
      await goTo(page, 1030, 1001, 48);
      await page.keyboard.press('i');
      await page.waitForSelector('[aria-label="Played: 1030 to 1048. Play all again"]');
      await page.keyboard.press('n');
      await page.waitForSelector('[aria-label="Mark at 1030"]');
      await page.evaluate(() => ((window as unknown as { wraithosShown: unknown[] }).wraithosShown.length = 0));
      await page.keyboard.press('Space');
      await until('a whole round', () =>
        page.evaluate(
          () => (window as unknown as { wraithosShown: { frame: number }[] }).wraithosShown.filter((s) => s.frame === 1030).length > 1,
        ),
      );
      await page.keyboard.press('Space');
      const played = await page.evaluate(() =>
        (window as unknown as { wraithosShown: { frame: number }[] }).wraithosShown.map((s) => s.frame),
      );
      expect(Math.min(...played)).toBe(1030);
      await press(page, '[aria-label="Played: 1030 to 1048. Play all again"]');
      // A press on the mark goes there.
      await press(page, '[aria-label="Mark at 1030"]');
      await page.keyboard.press('n');
      await until('the mark to go', async () => !(await page.$('[aria-label="Mark at 1030"]')));
    },
    120_000,
  );

  stage.story(
    'a clip begins with a cue and a point of a curve moves with it: where the cue goes, both go',
    async () => {
      const { page } = stage,
        id = await stage.shotFrom('TW_010', 'TW_098', (shot) => shot),
        now = async () => (await stage.opened(id)).document;
      await page.goto(`${stage.app.base}/shots/${id}/plates`);
      await page.waitForSelector('.clips .list-item');
      await press(page, '.clips [title=tw010_reference]');
      await setField(page, 'Starts with', 'lantern is up');
      await until('the clip to hang', async () => (await now()).clips.c4!.cue === 'q1');
      expect((await now()).clips.c4!.start).toBe(-57);
      await press(page, '.steps a[href$="effects"]');
      await page.waitForSelector('canvas.picture');
      await page.waitForSelector('.row-item[aria-label="Dissolve"]');
      await press(page, '.row-item[aria-label="Dissolve"]');
      const point = (frame: number) => `.curve-area [aria-label="Point at ${frame}"]`;
      await page.waitForSelector(point(1071));
      await press(page, point(1071));
      await page.select('select[aria-label="Moves with"]', 'q1');
      await saved(page);
      expect((await now()).rows.r1!.curves.progress!.points[1]).toMatchObject({ frame: 13, cue: 'q1', value: 20 });
      // Its effect no longer begins with the cue; the cue goes four frames later, and the point with it.
      await setField(page, 'Starts with', 'a frame');
      await press(page, '.flags .flag');
      await setField(page, 'Frame', '1062');
      await saved(page);
      const shot = await now(),
        [row] = drawnRows(shot).of('r1');
      expect([clipStart(shot, shot.clips.c4!), row!.first, row!.first + row!.curves.progress!.points[1]!.frame]).toEqual([
        1005, 1060, 1075,
      ]);
      await press(page, '.row-item[aria-label="Dissolve"]');
      await page.waitForSelector(point(1075));
    },
    120_000,
  );

  stage.story(
    'a finished render is brought in as a reference, and the picture is compared with it',
    async () => {
      const { page } = stage,
        id = await stage.shotFrom('TW_010', 'TW_094', (shot) => ({ ...shot, rows: {}, occluders: {} })),
        started = await stage.app.send<{ id: string }>('POST', '/jobs', { shot: id, format: 'png16', first: 1040, last: 1042 });
      await stage.over(started.body.id, 90_000);
      await page.goto(`${stage.app.base}/shots/${id}/render`);
      await clickText(page, 'As a reference');
      const reference = await until('the reference', async () =>
        Object.values((await stage.opened(id)).document.clips).find((c) => c.role === 'reference' && c.frames === 3),
      );
      expect(reference).toMatchObject({ start: 1040, bits: 16, width: 1280 });
      await press(page, '.steps a[href$="effects"]');
      await page.waitForSelector('canvas.picture');
      await goTo(page, 1041);
      await press(page, '[aria-label="Compare with another picture"]');
      await page.select('#field-compare-compared-with', reference.id);
      await page.select('#field-compare-by', 'difference');
      await settled(page);
      // Nothing was changed since: the difference is black.
      const most = await until('the difference', () =>
        page.evaluate(() => {
          const canvas = document.querySelector<HTMLCanvasElement>('canvas.picture')!,
            copy = new OffscreenCanvas(canvas.width, canvas.height).getContext('2d')!;
          copy.drawImage(canvas, 0, 0);
          const values = copy.getImageData(0, 0, canvas.width, canvas.height).data.filter((_, i) => i % 4 < 3),
            largest = values.reduce((a, b) => Math.max(a, b), 0);
          return largest < 12 ? { largest } : false;
        }),
      );
      expect(most.largest).toBeLessThan(12);
      await page.select('#field-compare-compared-with', 'off');
    },
    180_000,
  );
}
