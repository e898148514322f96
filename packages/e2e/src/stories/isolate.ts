import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { clickPicture, clickText, goTo, hands, press, saved, settled, until } from '../browser';
import type { Stage } from '../stage';
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
      // She stands apart from the others here.
      await goTo(page, 1033, 1001, FRAMES);
      await settled(page);
      await clickText(page, 'Isolate a body');
      // Where her coat is: the middle of her true cover.
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
      expect(matte.source).toMatchObject({ kind: 'difference', looks: 'the whole body' });
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
}
