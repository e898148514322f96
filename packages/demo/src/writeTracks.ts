/**
 * Tracks what the demo's documents hang on as a person would, from a click on its middle, and writes the samples beside the clip:
 * `node scripts/run.mjs packages/demo/src/writeTracks.ts [CODE …]`, before writeDocuments. The face of TW_025 is found in the page: see e2e/writeFace.
 */
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { lumaOfCodes, newPlane, type Codes } from '@wraithos/core/image';
import { followTrack, LikenessMeter, type KindOfTrack, type TrackSample } from '@wraithos/core/motion';
import { newTrack } from '@wraithos/core/shot';
import { FrameStore, hashMedium, probe } from '@wraithos/runtime';
import { HEIGHT, WIDTH } from './measures';

type Place = readonly [number, number];
interface Wanted {
  shot: string;
  clip: string;
  what: string;
  kind?: KindOfTrack;
  /** Frames at which a person would begin, and the last and first frames that each is followed to; both ways from each. */
  begins: readonly { at: number; until: number; since?: number }[];
  values: Readonly<Record<string, number>>;
  /** The colour that is clicked, as near as it is to the truth's place; the place itself where nothing is said. */
  on?: readonly [number, number, number];
  /** Where the truth has it at a frame; null where it is not to be seen. */
  truth(data: Record<string, unknown>, frame: number): Place | null;
}
const named =
  (name: string) =>
  (data: Record<string, unknown>, frame: number): Place | null =>
    (data[name] as Place[])[frame] ?? null;
const eye =
  (n: number) =>
  (data: Record<string, unknown>, frame: number): Place | null =>
    (data.eyes as Place[][])[frame]?.[n] ?? null;

/** The bollard stands still before the camera, which drifts. */
const bollard = (data: Record<string, unknown>, frame: number): Place | null => {
  const drift = (data.camera as Place[])[frame];
  return drift ? [644 + drift[0], 575 + drift[1]] : null;
};
/** The cuff of the arm that holds the lantern. */
const cuff = (data: Record<string, unknown>, frame: number): Place | null => {
  const hand = (data.rightHand as Place[])[frame];
  return hand ? [hand[0] - 14, hand[1] + 20] : null;
};
/** The middle of the picture, carried by the camera's drift. */
const camera = (data: Record<string, unknown>, frame: number): Place | null => {
  const drift = (data.camera as Place[])[frame],
    first = (data.camera as Place[])[88]!;
  return drift ? [WIDTH / 2 + drift[0] - first[0], HEIGHT / 2 + drift[1] - first[1]] : null;
};

/** The nearest place whose surroundings are of a colour (8-bit codes), at most 30 px away. */
function nearestOf({ data, channels, width }: Codes, [x, y]: Place, colour: readonly [number, number, number]): [number, number] {
  const isIt = (px: number, py: number) =>
    [-1, 0, 1].every((dy) =>
      [-1, 0, 1].every((dx) => colour.every((v, c) => Math.abs(data[((py + dy) * width + px + dx) * channels + c]! - v) < 12)),
    );
  let best: [number, number] = [x, y],
    least = 30;
  for (let py = Math.floor(y) - 30; py <= y + 30; py++)
    for (let px = Math.floor(x) - 30; px <= x + 30; px++) {
      const off = Math.hypot(px + 0.5 - x, py + 0.5 - y);
      if (off < least && isIt(px, py)) [best, least] = [[px + 0.5, py + 0.5], off];
    }
  return best;
}
/** The fox's irises. */
const IRIS = [0xd9, 0xf0, 0x6a] as const;
const film = 'performance.mp4',
  wanted: Wanted[] = [
    { shot: 'TW_010', clip: film, what: 'pin', begins: [{ at: 62, until: 999 }], values: { pattern: 19 }, truth: named('pin') },
    { shot: 'TW_010', clip: film, what: 'lantern', begins: [{ at: 0, until: 999 }], values: { pattern: 27 }, truth: named('lantern') },
    { shot: 'TW_020', clip: film, what: 'lantern', begins: [{ at: 88, until: 999 }], values: { pattern: 27 }, truth: named('lantern') },
    { shot: 'TW_020', clip: film, what: 'cuff', kind: 'area', begins: [{ at: 88, until: 999 }], values: { area: 61 }, truth: cuff },
    { shot: 'TW_020', clip: film, what: 'buoy', begins: [{ at: 88, until: 999 }], values: { pattern: 31 }, truth: named('buoy') },
    { shot: 'TW_020', clip: film, what: 'bollard', begins: [{ at: 88, until: 999 }], values: { pattern: 61 }, truth: bollard },
    { shot: 'TW_020', clip: film, what: 'camera', kind: 'camera', begins: [{ at: 88, until: 999 }], values: {}, truth: camera },
    {
      shot: 'TW_030',
      clip: 'performance',
      what: 'near-eye',
      kind: 'colour',
      begins: [
        { at: 0, until: 47 },
        { at: 50, until: 999 },
      ],
      values: { tolerance: 15, search: 161 },
      on: IRIS,
      truth: eye(0),
    },
    {
      shot: 'TW_030',
      clip: 'performance',
      what: 'far-eye',
      kind: 'colour',
      // It is turned away before.
      begins: [{ at: 50, since: 48, until: 999 }],
      values: { tolerance: 15, search: 61 },
      on: IRIS,
      truth: eye(1),
    },
  ];
/** Gates: the track whose place is compared, the frame of the look, and the side of the box, px. */
const gates = [{ shot: 'TW_030', clip: 'performance', what: 'near-eye-open', along: 'near-eye', at: 50, side: 15 }];

const asked = process.argv.slice(2),
  isAsked = ({ shot }: { shot: string }) => !asked.length || asked.includes(shot),
  folder = await mkdtemp(join(tmpdir(), 'wraithos-tracks-')),
  store = new FrameStore(folder),
  mediaOf = (shot: string) => join(process.cwd(), 'packages', 'demo', 'media', shot),
  open = async (shot: string, clip: string) => {
    const path = join(mediaOf(shot), clip),
      hash = await hashMedium(path);
    if (!(await store.has(hash))) await store.add(hash, path, await probe(path));
    return { frames: (await store.info(hash)).frames, codes: (frame: number) => store.codes(hash, frame) };
  },
  file = (shot: string, what: string) => join(mediaOf(shot), `track-${what}.json`);
for (const { shot, clip, what, kind = 'point', begins, values, on, truth } of wanted.filter(isAsked)) {
  const data = JSON.parse(await readFile(join(mediaOf(shot), 'truth.json'), 'utf8')) as Record<string, unknown>,
    { frames, codes } = await open(shot, clip),
    samples: TrackSample[] = [];
  for (const { at, until, since = samples.length } of begins) {
    const place = truth(data, at)!.map((v) => Math.round(v * 100) / 100) as [number, number],
      [x, y] = on ? nearestOf(await codes(at), place, on) : place,
      track = newTrack({ id: 't', name: what, clip: 'c', at: [x, y], frame: at, kind, values }),
      begin = async () => followTrack(track, await codes(at), at, { x, y })!,
      forwards = await begin(),
      back = await begin(),
      part: TrackSample[] = [forwards.start];
    for (let f = at + 1; f <= Math.min(until, frames - 1); f++) part.push(forwards.step(await codes(f), f));
    for (let f = at - 1; f >= since; f--) part.unshift(back.step(await codes(f), f));
    samples.push(...part);
  }
  // Where nobody follows it, it is not to be seen.
  const known = new Set(samples.map((s) => s.frame));
  for (let f = frames - 1; f >= 0; f--)
    if (!known.has(f)) samples.unshift({ frame: f, x: null, y: null, rotation: 0, scale: 1, confidence: 0, state: 'lost' });
  await writeFile(file(shot, what), JSON.stringify(samples));
  const errors = samples.flatMap((s) => {
    const t = truth(data, s.frame);
    return s.state === 'good' && t ? [Math.hypot(s.x! - t[0], s.y! - t[1])] : [];
  });
  console.error(
    `${shot} ${what}: ${errors.length} of ${frames} good, rms ${Math.sqrt(errors.reduce((n, e) => n + e * e, 0) / errors.length).toFixed(3)} px, worst ${Math.max(...errors).toFixed(2)} px`,
  );
}
for (const { shot, clip, what, along, at, side } of gates.filter(isAsked)) {
  const { frames, codes } = await open(shot, clip),
    luma = async (frame: number) => lumaOfCodes(await codes(frame), newPlane(WIDTH, HEIGHT)),
    meter = new LikenessMeter(JSON.parse(await readFile(file(shot, along), 'utf8')) as TrackSample[], await luma(at), at, side),
    samples: TrackSample[] = [];
  for (let f = 0; f < frames; f++) samples.push(meter.at(await luma(f), f));
  await writeFile(file(shot, what), JSON.stringify(samples));
  console.error(`${shot} ${what}: ${samples.map((s) => s.confidence.toFixed(1)).join(' ')}`);
}
await rm(folder, { recursive: true });
