import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { shapeAt } from '@wraithos/core/matte';
import { clickPicture, clickText, dragPicture, goTo, hands, press, saved, settled, until } from '../browser';
import { mediaOf, type Stage } from '../stage';
import { FRAMES, HIGH, walkers, WIDE } from '../walkers';

/** One click on a character, and outlines that follow one. */
export function isolateStories(stage: Stage): void {
  stage.story(
    'one walker out of a crowd is isolated with one click, without a clean plate, and comes apart, by hand',
    async () => {
      const { page } = stage,
        { film, truths } = await walkers(stage.folder, 'crowd', [
          { from: 0.05, to: 0.95, size: 1, below: 14 },
          { from: 1, to: 0, size: 0.62, below: 92, other: true },
          { from: 0.2, to: 0.75, size: 0.4, below: 150, other: true },
        ]);
      await page.goto(stage.app.base);
      await clickText(page, 'New shot');
      await page.waitForSelector('#new-code');
      await (await page.$('.modal input[type=file]'))!.uploadFile(film);
      hands.count.values++;
      await until('the clip', () => page.evaluate(() => document.querySelector('.modal')?.textContent?.includes('640 x 360, 40 frames')));
      await clickText(page, 'Make shot');
      await page.waitForSelector('.list-item');
      const { id } = await stage.named('crowd'),
        shotNow = async () => (await stage.opened(id)).document;
      await press(page, '.steps a[href$="mattes"]');
      await page.waitForSelector('canvas.picture');
      // On this frame the first walker stands apart from the others.
      await goTo(page, 1033, 1001, FRAMES);
      await settled(page);
      await clickText(page, 'Isolate a body');
      // The press goes to the middle of the walker's true matte.
      let [sum, n] = [0, 0];
      truths[32]!.forEach((v, p) => {
        if (v > 128) {
          sum += p % WIDE;
          n++;
        }
      });
      await clickPicture(page, sum / n, HIGH - 110);
      const subject = await until('the body', async () => Object.values((await shotNow()).subjects).find((s) => s.matte), 180_000);
      await saved(page);
      const shot = await shotNow(),
        matte = shot.mattes[subject.matte!]!;
      expect(Object.values(shot.clips).find((c) => c.role === 'clean')!.made).toBeTruthy();
      expect(matte.sources[0]!.source).toMatchObject({ kind: 'difference', looks: 'the whole body' });
      expect(matte.outlines[0]!.keys.length).toBeGreaterThan(3);
      expect(subject).toMatchObject({ traces: expect.any(String), mount: expect.any(String) });
      expect(Math.abs(subject.pixels - 210)).toBeLessThan(45);
      const samples = await stage.samples(id, 'Body, middle');
      expect(samples).toHaveLength(FRAMES);
      expect(samples.filter((s) => s.state === 'good' || s.state === 'keyed').length).toBeGreaterThan(20);
      const notice = await page.$eval('.notice', (el) => el.textContent);
      expect(notice).toMatch(/Isolated against a clean plate that was built for it, on \d+ of 40 frames/);
      await press(page, '.steps a[href$="effects"]');
      await page.waitForSelector('[aria-label="Add an effect to On"]');
      await clickText(page, 'Add an effect to On');
      await clickText(page, 'Dissolve', '.dropdown-menu.show');
      await page.waitForSelector('.row-item.selected[aria-label="Dissolve"]');
      await press(page, '.steps a[href$="render"]');
      await until('the button', () => page.$('.render-page .btn-primary:not([disabled])'));
      await press(page, '.render-page .btn-primary');
      const job = await until('the job', async () => (await stage.app.get<{ id: string }[]>(`/jobs?shot=${id}`))[0]);
      const used = Object.values(hands.count).reduce((all, v) => all + v, 0);
      await stage.over(job.id, 240_000);
      expect(used).toBeLessThanOrEqual(20);
      // Its matte against the truth, well before and after the others cross it.
      for (const frame of [4, 32]) {
        const asked = await stage.app.send<{ id: string }>('POST', '/jobs', {
          ...{ shot: id, format: 'png', only: `matte:${subject.matte}` },
          ...{ first: 1001 + frame, last: 1001 + frame },
        });
        await stage.over(asked.body.id, 60_000);
        const files = unzipSync(new Uint8Array(await (await fetch(`${stage.app.base}/api/jobs/${asked.body.id}/file`)).arrayBuffer())),
          found = await sharp(Object.values(files)[0]!).toColourspace('b-w').extractChannel(0).raw().toBuffer();
        let [body, missing, beside] = [0, 0, 0];
        for (let p = 0; p < WIDE * HIGH; p++) {
          if (truths[frame]![p]! > 250) {
            body++;
            if (found[p]! < 128) missing++;
          } else if (truths[frame]![p]! < 5 && found[p]! > 128) beside++;
        }
        console.info(
          `isolated, frame ${1001 + frame}: ${((100 * missing) / body).toFixed(2)} % missing, ${((100 * beside) / body).toFixed(2)} % beside`,
        );
        expect(missing / body).toBeLessThan(0.03);
        expect(beside / (WIDE * HIGH)).toBeLessThan(0.006);
      }
    },
    300_000,
    'A crowd: one walker comes apart, no clean plate',
  );

  stage.story(
    'a walking figure is masked with three keys; another outline is carried on, and a doubtful frame that is mended leaves the list',
    async () => {
      const { page } = stage,
        { film, truths } = await walkers(stage.folder, 'keys', [{ from: 0, to: 1, size: 1, below: 14 }]),
        /** The box around the figure on a frame, pixels: left, top, right, bottom. */
        box = (frame: number): [number, number, number, number] => {
          let [l, t, r, b] = [WIDE, HIGH, 0, 0];
          truths[frame]!.forEach((v, p) => {
            const [x, y] = [p % WIDE, Math.floor(p / WIDE)];
            if (v > 128) [l, t, r, b] = [Math.min(l, x), Math.min(t, y), Math.max(r, x + 1), Math.max(b, y + 1)];
          });
          return [l, t, r, b];
        };
      await page.goto(stage.app.base);
      await clickText(page, 'New shot');
      await page.waitForSelector('#new-code');
      await (await page.$('.modal input[type=file]'))!.uploadFile(film);
      await until('the clip', () => page.evaluate(() => document.querySelector('.modal')?.textContent?.includes('640 x 360, 40 frames')));
      await clickText(page, 'Make shot');
      await page.waitForSelector('.list-item');
      const { id } = await stage.named('keys'),
        outlines = async () => Object.values((await stage.opened(id)).document.mattes)[0]!.outlines;
      await press(page, '.steps a[href$="mattes"]');
      await page.waitForSelector('canvas.picture');
      await goTo(page, 1011, 1001, FRAMES);
      await settled(page);
      await clickText(page, 'New matte');
      await clickText(page, 'Outlines drawn by hand', '.dropdown-menu.show');
      await page.keyboard.press('Escape');
      await press(page, '[aria-label="Draw a rectangle"]');
      const [l, t, r, b] = box(10);
      await dragPicture(page, [l - 6, t - 6], [r + 6, Math.min(HIGH - 1, b + 6)]);
      await saved(page);
      // On two other frames the outline is dragged by its left side to where the figure is: that makes three keys.
      let left = l - 6;
      for (const frame of [20, 30]) {
        await goTo(page, 1001 + frame, 1001, FRAMES);
        await settled(page);
        const to = box(frame)[0] - 6;
        await dragPicture(page, [left, (t + b) / 2], [to, (t + b) / 2]);
        await saved(page);
        left = to;
      }
      const [first] = await outlines();
      expect(first!.keys.map((k) => k.frame)).toEqual([10, 20, 30]);
      expect(await page.$$eval('.key-mark', (all) => all.length)).toBe(3);
      // Between its keys the outline is around the figure too.
      for (const frame of [15, 26]) {
        const [bl, bt, br, bb] = box(frame),
          xs = shapeAt(first!.keys, frame).map((v) => v.x);
        expect(Math.min(...xs)).toBeLessThan(bl);
        expect(Math.max(...xs)).toBeGreaterThan(br);
        expect(Math.abs(Math.min(...xs) - (bl - 6))).toBeLessThan(5);
        expect(bb - bt).toBeGreaterThan(100);
      }
      // An outline on the coat is carried on until the figure leaves the picture.
      await goTo(page, 1016, 1001, FRAMES);
      await settled(page);
      const [, ht, hr, hb] = box(15);
      await press(page, '[aria-label="Draw an ellipse"]');
      await dragPicture(page, [hr - 62, ht + 4], [hr, (ht + hb) / 2]);
      await saved(page);
      await clickText(page, 'Carry on');
      const carried = await until('the keys', async () => {
        const all = (await outlines())[1]?.keys ?? [];
        return all.some((k) => k.sure) && all;
      });
      const middle = (frame: number): number => {
        const xs = shapeAt(carried, frame).map((v) => v.x);
        return (Math.min(...xs) + Math.max(...xs)) / 2;
      };
      // The carried outline goes as far as the figure does.
      for (const frame of [17, 20, 24]) expect(Math.abs(middle(frame) - middle(15) - (box(frame)[2] - hr))).toBeLessThan(4);
      const list = () => page.$$eval('[aria-label="Doubtful frames"] li button', (all) => all.map((el) => el.textContent!.trim())),
        doubts = await list();
      expect(doubts.length).toBeGreaterThan(0);
      await press(page, '[aria-label="Doubtful frames"] li button');
      await settled(page);
      const frame = Number(/^\d+/.exec(doubts[0]!)![0]) - 1001,
        shape = shapeAt(carried, frame),
        point = shape.find((v) => v.x > 4 && v.x < WIDE - 4 && v.y > 4)!;
      await dragPicture(page, [point.x, point.y], [point.x - 3, point.y + 3]);
      await saved(page);
      expect((await outlines())[1]!.keys.find((k) => k.frame === frame)!.sure).toBeNull();
      await until('the doubt to clear', async () => !(await list()).includes(doubts[0]!));
      // A few strokes on another frame find the figure's outline.
      await goTo(page, 1021, 1001, FRAMES);
      await settled(page);
      const [sl, st, sr, sb] = box(20),
        /** The middle of the figure in a row of the picture. */
        middleOf = (y: number): number => {
          const xs = [...truths[20]!.subarray(y * WIDE, (y + 1) * WIDE)].flatMap((v, x) => (v > 128 ? [x] : []));
          return xs.reduce((a, b) => a + b, 0) / xs.length;
        },
        [high, low] = [Math.round(st + 0.4 * (sb - st)), Math.round(st + 0.8 * (sb - st))];
      await press(page, '[aria-label="Draw by strokes inside and outside"]');
      await dragPicture(page, [middleOf(high), high], [middleOf(low), low]);
      await page.keyboard.press('r');
      await dragPicture(page, [Math.max(2, sl - 14), st], [Math.max(2, sl - 14), HIGH - 4]);
      await dragPicture(page, [Math.min(WIDE - 2, sr + 14), st], [Math.min(WIDE - 2, sr + 14), HIGH - 4]);
      await dragPicture(page, [Math.max(2, sl - 14), Math.max(2, st - 12)], [Math.min(WIDE - 2, sr + 14), Math.max(2, st - 12)]);
      await until('an outline by strokes', async () => {
        await page.keyboard.press('Enter');
        return (await outlines()).length >= 3;
      });
      const found = shapeAt((await outlines())[2]!.keys, 20).map((v) => [v.x, v.y]);
      expect(Math.min(...found.map(([x]) => x!))).toBeGreaterThan(sl - 8);
      expect(Math.max(...found.map(([x]) => x!))).toBeLessThan(sr + 8);
      // The whole matte is looked through.
      await clickText(page, 'Look through all frames');
      await until('all frames', () =>
        page.evaluate(() => {
          const part = document.querySelector('[aria-label="Doubtful frames of the matte"]');
          return (
            !!part &&
            !part.querySelector('.progress') &&
            (part.querySelector('li') !== null || /No frame is doubtful/.test(part.textContent ?? ''))
          );
        }),
      );
    },
    180_000,
  );

  stage.story(
    'a person is found with one press, without a clean plate: the matte lies on the body on every frame; beside everybody words say so',
    async () => {
      const { page } = stage,
        folder = mediaOf('TW_010'),
        first = 60,
        count = 6,
        cutOut = (film: string, name: string) =>
          promisify(execFile)('ffmpeg', [
            ...['-v', 'error', '-y', '-i', join(folder, film), '-vf', `select=between(n\\,${first}\\,${first + count - 1})`, '-vsync', '0'],
            ...['-start_number', '1', join(stage.folder, `${name}.%03d.png`)],
          ]),
        names = (name: string) =>
          Array.from({ length: count }, (_, i) => join(stage.folder, `${name}.${String(i + 1).padStart(3, '0')}.png`));
      await cutOut('performance.mp4', 'person');
      await cutOut('truth-matte.mp4', 'persontruth');
      await page.goto(stage.app.base);
      await clickText(page, 'New shot');
      await page.waitForSelector('#new-code');
      await (await page.$('.modal input[type=file]'))!.uploadFile(...names('person'));
      await until('the clip', () => page.evaluate(() => document.querySelector('.modal')?.textContent?.includes('1280 x 720, 6 frames')));
      await clickText(page, 'Make shot');
      await page.waitForSelector('.list-item');
      const { id } = await stage.named('person'),
        shotNow = async () => (await stage.opened(id)).document;
      await press(page, '.steps a[href$="mattes"]');
      await page.waitForSelector('canvas.picture');
      await settled(page);
      await clickText(page, 'Find a person');
      await clickPicture(page, 1180, 120);
      await until(
        'words',
        () => page.evaluate(() => document.querySelector('[role=alert]')?.textContent?.includes('Nobody was found here')),
        120_000,
      );
      await clickText(page, 'Find a person');
      await clickPicture(page, 590, 420);
      const subject = await until('the person', async () => Object.values((await shotNow()).subjects).find((s) => s.matte), 180_000);
      await saved(page);
      expect(Math.abs(subject.pixels - 430)).toBeLessThan(60);
      expect(Object.values((await shotNow()).clips)).toHaveLength(2);
      const asked = await stage.app.send<{ id: string }>('POST', '/jobs', {
        ...{ shot: id, format: 'png', only: `matte:${subject.matte}`, first: 1001, last: 1000 + count },
      });
      await stage.over(asked.body.id, 120_000);
      const files = unzipSync(new Uint8Array(await (await fetch(`${stage.app.base}/api/jobs/${asked.body.id}/file`)).arrayBuffer())),
        grey = (from: string | Uint8Array) => sharp(from).toColourspace('b-w').extractChannel(0).raw().toBuffer();
      for (const [i, name] of Object.keys(files).sort().entries()) {
        const found = await grey(files[name]!),
          truth = await grey(names('persontruth')[i]!);
        let [both, either, beside, all] = [0, 0, 0, 0];
        found.forEach((v, p) => {
          if (v > 128) all++;
          if (v > 128 && truth[p]! > 128) both++;
          if (v > 128 || truth[p]! > 128) either++;
          if (v > 128 && truth[p]! < 20) beside++;
        });
        console.info(
          `person, frame ${1001 + i}: ${(both / either).toFixed(3)} of what either has is in both, ${((100 * beside) / all).toFixed(1)} % beside`,
        );
        // What is carried at arm's length is no person to the finder.
        expect(both / either).toBeGreaterThan(0.72);
        expect(beside / all).toBeLessThan(0.08);
      }
    },
    300_000,
  );
}
