/**
 * Finds the face of TW_025 in the page, as a person would, and writes its tracks beside the clip: `node scripts/run.mjs packages/e2e/src/writeFace.ts`
 * after `npm run build`, before writeDocuments. Chromium's own graphics in software give the same places from run to run to about 0.1 px.
 */
import { existsSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { faceFiles, PRESSED } from '@wraithos/demo';
import type { TrackSample } from '@wraithos/core/motion';
import type { Shot, Track } from '@wraithos/core/shot';
import { Application } from './application';
import { clickPicture, clickText, openBrowser, saved, setField, settled, until } from './browser';

const media = join(process.cwd(), 'packages', 'demo', 'media', 'TW_025'),
  names = [faceFiles.face, ...Object.values(faceFiles.parts), ...Object.values(faceFiles.lids)];
// The application reads the whole demo when it starts, these too.
for (const name of names) if (!existsSync(join(media, `track-${name}.json`))) await writeFile(join(media, `track-${name}.json`), '[]');
const app = await Application.start(),
  { browser, close } = await openBrowser();
try {
  const page = await browser.newPage();
  await page.goto(app.base);
  await clickText(page, 'New shot');
  await page.waitForSelector('#new-code');
  await setField(page, 'Code', 'FACE');
  await clickText(page, 'Empty');
  await clickText(page, 'Make shot');
  const field = await page.waitForSelector('input[aria-label="Files to bring in"]'),
    shots = await app.get<{ id: string; code: string }[]>('/shots'),
    { id } = shots.find((s) => s.code === 'FACE')!,
    document = async () => (await app.get<{ document: Shot }>(`/shots/${id}`)).document;
  await (field as import('puppeteer-core').ElementHandle<HTMLInputElement>).uploadFile(join(media, 'performance.mp4'));
  await until('the clip', async () => Object.keys((await document()).clips).length === 1);
  await page.goto(`${app.base}/shots/${id}/motion`);
  await page.waitForSelector('canvas.picture');
  await settled(page);
  await clickText(page, 'Add track');
  await clickText(page, 'Face');
  await clickPicture(page, ...PRESSED);
  await saved(page);
  await clickText(page, 'Find the face on all frames');
  const tracks = await until(
      'the face',
      async () => {
        const all = Object.values((await document()).tracks);
        return all.length > 5 && all;
      },
      600_000,
    ),
    keep = async (name: string, is: (track: Track) => boolean) => {
      const found = tracks.find(is)!,
        samples = await app.get<TrackSample[]>(`/samples/${found.samples}`),
        good = samples.filter((s) => s.state === 'good').length,
        // A hundredth of a pixel is more than is known.
        short = samples.map(
          (s) => JSON.parse(JSON.stringify(s, (_, v) => (typeof v === 'number' ? Math.round(v * 1000) / 1000 : v))) as TrackSample,
        );
      await writeFile(join(media, `track-${name}.json`), JSON.stringify(short));
      console.error(`${name}: ${good} of ${samples.length} good`);
    };
  await keep(faceFiles.face, (t) => t.kind === 'face');
  for (const [part, name] of Object.entries(faceFiles.parts)) await keep(name, (t) => t.kind === 'face part' && t.part === part);
  for (const [eye, name] of Object.entries(faceFiles.lids)) await keep(name, (t) => t.kind === 'lids' && t.name.endsWith(eye));
} finally {
  await close();
  await app.close();
}
