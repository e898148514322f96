import { execFile } from 'node:child_process';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import type { HTTPRequest } from 'puppeteer-core';
import { newPicture } from '@wraithos/core/image';
import { decode, exrBytes, probe } from '@wraithos/runtime';
import { clickText, goTo, press, saved, setField, settled, until } from '../browser';
import type { Stage } from '../stage';

const run = promisify(execFile),
  WIDE = 160,
  HIGH = 90;

/** A plate of floats: grey, with a lamp that is seven and a half times white in its middle. */
async function lamp(path: string, level: number): Promise<void> {
  const picture = newPicture(WIDE, HIGH);
  for (let y = 0, i = 0; y < HIGH; y++)
    for (let x = 0; x < WIDE; x++, i += 4) {
      const near = Math.abs(x - 80) < 10 && Math.abs(y - 45) < 10;
      picture.data.set(near ? [7.5, 3, 0.5, 1] : [level, level, level, 1], i);
    }
  await writeFile(path, await exrBytes(picture, false));
}

/** Material that is not a film of eight bits: brought in by hand, told what it is, and out again. */
export function materialStories(stage: Stage): void {
  const shotOf = async (code: string) => {
    const { page } = stage;
    await page.goto(stage.app.base);
    await clickText(page, 'New shot');
    await page.waitForSelector('#new-code');
    await setField(page, 'Code', code);
    await clickText(page, 'Empty');
    await clickText(page, 'Make shot');
    await page.waitForSelector('input[aria-label="Files to bring in"]');
    return (await stage.named(code)).id;
  };
  const bring = async (label: string, ...paths: string[]) => {
    const field = await stage.page.$(`input[aria-label="${label}"]`);
    await (field as import('puppeteer-core').ElementHandle<HTMLInputElement>).uploadFile(...paths);
  };
  const canvasAt = (x: number, y: number) =>
    stage.page.evaluate(
      (at) => {
        const canvas = document.querySelector<HTMLCanvasElement>('canvas.picture')!,
          copy = new OffscreenCanvas(canvas.width, canvas.height).getContext('2d')!;
        copy.drawImage(canvas, 0, 0);
        return [...copy.getImageData(Math.round(at[0]! * canvas.width), Math.round(at[1]! * canvas.height), 1, 1).data.slice(0, 3)];
      },
      [x, y],
    );

  stage.story(
    'pictures of floats with a gap in their numbers, a film beside them, a table for their colours: in, judged, and out with values above white',
    async () => {
      const { page } = stage,
        folder = join(stage.folder, 'lamp');
      await mkdir(folder, { recursive: true });
      for (const n of [1001, 1002, 1003, 1006]) await lamp(join(folder, `lamp.${n}.exr`), 0.2);
      await run('ffmpeg', [
        ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc2=s=160x90:r=24'],
        ...['-frames:v', '6', join(folder, 'other.mp4')],
      ]);
      await writeFile(
        join(folder, 'swap.cube'),
        'LUT_3D_SIZE 2\n' + [0, 1, 2, 3, 4, 5, 6, 7].map((i) => `${i >> 2} ${(i >> 1) & 1} ${i & 1}`).join('\n'),
      );
      const id = await shotOf('TW_091'),
        clips = async () => Object.values((await stage.opened(id)).document.clips);
      // Six files, two media: the numbered pictures are one of them.
      await bring('Files to bring in', ...[1001, 1002, 1003, 1006].map((n) => join(folder, `lamp.${n}.exr`)), join(folder, 'other.mp4'));
      await until('both clips', async () => (await clips()).length === 2);
      const plate = (await clips()).find((c) => c.bits === 32)!;
      expect(plate).toMatchObject({
        name: 'lamp',
        frames: 6,
        missing: [[3, 4]],
        gaps: 'the picture before',
        transfer: 'linear',
        primaries: 'rec709',
      });
      await press(page, '.clips [title=lamp]');
      await settled(page);
      await goTo(page, 1004, 1001, 6);
      expect(await canvasAt(0.5, 0.5)).toEqual([255, 255, 188]);
      await page.select('#field-2-missing-frames', 'black');
      await until('black', async () => (await canvasAt(0.1, 0.1)).every((v) => v === 0));
      await goTo(page, 1001, 1001, 6);
      // A table that swaps red and blue comes before everything else. It ends at white, as its sides say.
      await bring('Camera table', join(folder, 'swap.cube'));
      await until('the other colour', async () => (await canvasAt(0.5, 0.5))[0]! < 200);
      expect(await canvasAt(0.5, 0.5)).toEqual([188, 255, 255]);
      await press(page, '[aria-label="Take the camera table away"]');
      await page.select('#field-primaries', 'acescg');
      await until('wider primaries', async () => (await clips()).find((c) => c.bits === 32)!.primaries === 'acescg');
      await page.select('#field-primaries', 'rec709');
      await saved(page);
      // A table is no clip.
      await bring('Files to bring in', join(folder, 'swap.cube'));
      await until('the words', () => page.evaluate(() => document.body.textContent?.includes('swap.cube is a table for colours.')));
      expect(await clips()).toHaveLength(2);
      const started = await stage.app.send<{ id: string }>('POST', '/jobs', { shot: id, format: 'exr', first: 1001, last: 1001 }),
        { result } = await stage.over(started.body.id, 60_000),
        bytes = Buffer.from(await (await fetch(`${stage.app.base}/api/jobs/${started.body.id}/file`)).arrayBuffer()),
        zip = join(stage.folder, 'out.zip');
      expect(result!.file).toMatch(/zip$/);
      await writeFile(zip, bytes);
      const { unzipSync } = await import('fflate'),
        [out] = Object.entries(unzipSync(await readFile(zip))).filter(([name]) => name.endsWith('.exr')),
        path = join(stage.folder, 'out.exr');
      await writeFile(path, out![1]);
      for await (const { data, channels, width } of decode(path, await probe(path)))
        expect([...data.slice((45 * width + 80) * channels, (45 * width + 80) * channels + 3)]).toEqual([7.5, 3, 0.5]);
    },
    120_000,
  );

  stage.story(
    'a long clip: its first picture is there while the rest comes in, and a line that is cut goes on where it stopped',
    async () => {
      const { page } = stage,
        film = join(stage.folder, 'long.mkv'),
        // Its frames take several times as long to read as its first picture to draw, on a busy machine too.
        FRAMES = 480;
      await run('ffmpeg', [
        ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc2=s=1280x720:r=24'],
        ...['-frames:v', String(FRAMES), '-vf', 'noise=alls=12:allf=t'],
        ...['-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '24', '-pix_fmt', 'yuv420p', film],
      ]);
      const id = await shotOf('TW_092'),
        offsets: number[] = [];
      let cut = false;
      const hear = (request: HTTPRequest) => {
        const at = Number(request.headers()['upload-offset'] ?? 0);
        if (request.method() === 'PATCH') offsets.push(at);
        // The line breaks once, in the middle of the file.
        if (at > 0 && !cut) {
          cut = true;
          request.abort('connectionreset').catch(() => undefined);
          return;
        }
        void request.continue().catch(() => undefined);
      };
      await page.setRequestInterception(true);
      page.on('request', hear);
      const begun = Date.now();
      await bring('Files to bring in', film);
      await page.waitForSelector('.first-picture canvas', { timeout: 60_000 });
      await until('the first picture', () =>
        page.evaluate(() => {
          const canvas = document.querySelector<HTMLCanvasElement>('.first-picture canvas');
          if (!canvas?.width) return false;
          const copy = new OffscreenCanvas(canvas.width, canvas.height).getContext('2d')!;
          copy.drawImage(canvas, 0, 0);
          return copy.getImageData(0, 0, canvas.width, canvas.height).data.some((v, i) => i % 4 < 3 && v > 100);
        }),
      );
      const seen = Date.now() - begun,
        clips = async () => Object.values((await stage.opened(id)).document.clips);
      expect(await clips()).toHaveLength(0);
      await until('the clip', async () => (await clips()).length === 1);
      console.info(`first picture after ${seen} ms, with a cut of the line; the clip after ${Date.now() - begun} ms`);
      await page.setRequestInterception(false);
      page.off('request', hear);
      // It went on where it was: one piece was sent twice, and none of those before it.
      expect(cut).toBe(true);
      const twice = offsets.filter((at, i) => offsets.indexOf(at) !== i);
      expect(twice).toHaveLength(1);
      expect((await clips())[0]).toMatchObject({ frames: FRAMES, width: 1280 });
    },
    120_000,
  );

  stage.story(
    'a clip of another shot of the production is found and used here, then replaced by a newer version of its take',
    async () => {
      const { page } = stage,
        made = async (name: string, frames: number, size: string, from: string) => {
          const path = join(stage.folder, name);
          await run('ffmpeg', [
            ...['-v', 'error', '-y', '-f', 'lavfi', '-i', `${from}=s=${size}:r=24`, '-frames:v', String(frames)],
            ...['-c:v', 'libx264', '-pix_fmt', 'yuv420p', path],
          ]);
          return path;
        },
        newer = await made('quay v2.mp4', 14, '160x90', 'testsrc'),
        larger = await made('quay v3.mp4', 14, '320x180', 'testsrc');
      const first = await shotOf('TW_095');
      await bring('Files to bring in', await made('quay v1.mp4', 12, '160x90', 'testsrc2'));
      await until('the clip', async () => Object.keys((await stage.opened(first)).document.clips).length === 1);
      await saved(page);
      const id = await shotOf('TW_096'),
        clip = async () => Object.values((await stage.opened(id)).document.clips)[0];
      await press(page, '[aria-label="Clips of the production"]');
      await page.waitForSelector('.modal [aria-label="Look for"]');
      await page.type('.modal [aria-label="Look for"]', '160x90 tw_095');
      await until('only that one', () => page.evaluate(() => document.querySelectorAll('.production-clips .list-item').length === 1));
      await press(page, '.production-clips .list-item');
      const before = await until('the clip here', clip);
      expect(before).toMatchObject({ name: 'quay v1', frames: 12, role: 'performance' });
      await saved(page);
      await bring('Newer version', larger);
      await until('the refusal', () =>
        page.evaluate(() => document.body.textContent?.includes('quay v3.mp4 was not taken. It is 320 x 180')),
      );
      await bring('Newer version', newer);
      await until('the newer one', async () => (await clip())!.frames === 14);
      expect(await clip()).toMatchObject({ name: 'quay v1', id: before.id, width: 160, placed: before.placed });
      await until('the words', () => page.evaluate(() => document.body.textContent?.includes('It is 2 frames longer.')));
      await clickText(page, 'Undo');
      await until('the first one again', async () => (await clip())!.frames === 12);
    },
    120_000,
  );
}
