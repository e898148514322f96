import { clickPicture, clickText, goTo, press, saved, setField, settled, until } from '../browser';
import type { Stage } from '../stage';

/** A drawn figure: a glow on one of its colours, and images of its leap. */
export function foxStories(stage: Stage): void {
  stage.story(
    'TW_030: the eyes of a drawing glow, and its leap leaves images, by hand',
    async () => {
      const { page } = stage,
        id = await stage.shotFrom('TW_030', 'TW_031', (shot) => ({
          ...shot,
          rows: {},
          subjects: Object.fromEntries(Object.entries(shot.subjects).map(([key, s]) => [key, { ...s, mount: null }])),
          mattes: { k1: shot.mattes.k1! },
        })),
        truth = (await stage.opened(id)).document.tracks.t1!;
      await page.goto(`${stage.app.base}/shots/${id}/mattes`);
      await page.waitForSelector('.film');
      await goTo(page, truth.frame + 1001, 1001, 60);
      await settled(page);
      await clickText(page, 'New matte');
      await clickText(page, 'A flat colour of a drawing');
      await clickPicture(page, truth.at[0], truth.at[1]);
      await until('the colour', async () => {
        const source = Object.values((await stage.opened(id)).document.mattes).find((m) => m.sources[0]?.source.kind === 'colour area')
          ?.sources[0]?.source;
        return source?.kind === 'colour area' && source.colour !== '#ffffff';
      });
      await press(page, '.steps a[href$="effects"]');
      await page.waitForSelector('[aria-label="Add an effect to Foreground"]');
      await clickText(page, 'Add an effect to Foreground');
      await clickText(page, 'Glow', '.dropdown-menu.show');
      await setField(page, 'Source', 'matte');
      await setField(page, 'Matte', 'Colour');
      await clickText(page, 'Add an effect to Behind');
      await clickText(page, 'After-images', '.dropdown-menu.show');
      await saved(page);
      await settled(page);
      const { rows, mattes } = (await stage.opened(id)).document,
        glow = Object.values(rows).find((r) => r.effect === 'glow')!;
      expect(glow.values.from).toBe('matte');
      expect(mattes[glow.source!]!.sources[0]!.source.kind).toBe('colour area');
      expect(
        Object.values(rows)
          .map((r) => r.effect)
          .sort(),
      ).toEqual(['after-images', 'glow']);
    },
    120_000,
    'TW_030: eyes glow and a leap leaves images',
  );
}
