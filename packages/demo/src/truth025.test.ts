import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { faceParts, trackKinds, type FacePart, type TrackSample } from '@wraithos/core/motion';
import { readShot } from '@wraithos/core/shot';
import { faceFiles, finished025 } from './document025';
import { BLINKS } from './walk025';

const media = join(process.cwd(), 'packages', 'demo', 'media', 'TW_025'),
  json = async <T>(file: string) => JSON.parse(await readFile(join(media, file), 'utf8')) as T,
  trackOf = (name: string) => json<TrackSample[]>(`track-${name}.json`);
type Place = [number, number];
const named: Partial<Record<FacePart, string>> = {
  ...{ 'left eye': 'leftEye', 'right eye': 'rightEye', 'left pupil': 'leftPupil', 'right pupil': 'rightPupil' },
  ...{ 'left brow': 'leftBrow', 'right brow': 'rightBrow', mouth: 'mouth' },
};

/** A finder's middle of an eye or a brow is not quite that of the drawing: what counts is that it goes where the drawing goes. */
const constant = (list: readonly Place[]): Place => [0, 1].map((k) => list.reduce((n, p) => n + p[k]!, 0) / list.length) as Place;

test('the face of TW_025 was found on every frame, and its parts go where they truly go', async () => {
  const truth = await json<Record<string, Place[]>>('truth.json');
  for (const part of faceParts) {
    const samples = await trackOf(faceFiles.parts[part]),
      where = named[part] && truth[named[part]];
    expect([part, samples.length, samples.filter((s) => s.state === 'lost').length]).toEqual([part, 48, 0]);
    if (!where) continue;
    const good = samples.filter((s) => s.state === 'good'),
      off = good.map((s): Place => [s.x! - where[s.frame]![0], s.y! - where[s.frame]![1]]),
      mean = constant(off),
      rms = Math.sqrt(off.reduce((n, [x, y]) => n + (x - mean[0]) ** 2 + (y - mean[1]) ** 2, 0) / off.length);
    console.info(
      `${part}: ${good.length} of 48 good, ${mean.map((v) => v.toFixed(1)).join(', ')} px beside the drawing, ${rms.toFixed(2)} px RMS about that`,
    );
    // The eyes are 151 px apart; the head turns by 20 degrees.
    expect([part, rms < 4.5]).toEqual([part, true]);
    expect([part, Math.hypot(...mean) < 16]).toEqual([part, true]);
  }
});

test('the lids shut the gate in both blinks, and leave it open else', async () => {
  const { open } = await json<{ open: number[] }>('truth.json'),
    opens = trackKinds.lids.opens!,
    gate = { threshold: 55, softness: 30, opens: 'while the eye is open' } as never;
  for (const name of Object.values(faceFiles.lids)) {
    const samples = await trackOf(name);
    for (const s of samples) {
      if (open[s.frame]! < 0.1) expect([s.frame, opens(gate, s.confidence) < 0.15]).toEqual([s.frame, true]);
      if (open[s.frame]! > 0.95) expect([s.frame, opens(gate, s.confidence) > 0.85]).toEqual([s.frame, true]);
    }
    for (const blink of BLINKS) expect(samples[blink]!.confidence).toBeLessThan(0.5);
  }
});

test('the document beside the media is what the program writes', async () => {
  const file = (name: string) => `track-${name}.json`,
    of = <K extends string>(names: Record<K, string>) =>
      Object.fromEntries(Object.entries<string>(names).map(([k, name]) => [k, file(name)])) as Record<K, string>;
  expect(readShot(await json('finished.json'))).toEqual(
    finished025(
      { performance: { path: 'performance.mp4' }, clean: { path: 'clean.png' } },
      { face: file(faceFiles.face), parts: of(faceFiles.parts), lids: of(faceFiles.lids) },
    ),
  );
});
