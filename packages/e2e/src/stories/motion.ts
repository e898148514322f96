import { clickPicture, clickText, goTo, saved, setField, settled, until } from '../browser';
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
}
