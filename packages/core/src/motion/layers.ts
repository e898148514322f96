import { cos, PI } from '../image/exactMath';
import { seenAt } from '../image/homography';
import { param, type StoredOf } from '../params/describe';
import { quadToQuad, type Quad } from './fitHomography';
import type { TrackSample } from './pointTracker';
import { isPlaced, type Correction, type Corrections, type Placed } from './samples';
import { smoothed } from './smooth';

/** What is laid over the measured samples of a track; nothing of them is lost. */
export const layerParams = {
  smoothing: param.share({
    default: 0,
    title: 'Smoothing',
    curve: false,
    help: 'Takes out small unrest. Fast moves stay, and frames set by hand stay as they are.',
  }),
  reach: param.number({
    default: 0,
    title: 'Set frames reach',
    unit: 'frames',
    range: [0, 48],
    step: 1,
    curve: false,
    help: 'Frames to either side that are pulled along by one set by hand. One that mends a jump pulls nothing.',
  }),
};
/** What says how a track's layers are laid. */
export type Layered = { corrections: Corrections } & Partial<StoredOf<typeof layerParams>>;

/** A sample with what a person set on its frame. */
function setBy(frame: number, c: Correction, old: TrackSample | undefined, first: TrackSample | undefined): TrackSample {
  let { corners } = c;
  // A plane that was moved as a whole keeps its shape.
  if (!corners && isPlaced(old) && old.corners)
    corners = old.corners.map(([x, y]): [number, number] => [x + c.at[0] - old.x, y + c.at[1] - old.y]);
  let at = c.at;
  if (c.corners && isPlaced(first) && first.corners) {
    const map = quadToQuad(first.corners as unknown as Quad, c.corners as unknown as Quad);
    if (map) at = seenAt(map, [first.x, first.y]).at;
  }
  return {
    ...{ frame, x: at[0], y: at[1], rotation: c.turn ?? old?.rotation ?? 0, scale: c.growth ?? old?.scale ?? 1 },
    ...(corners ? { corners } : {}),
    ...{ confidence: 1, state: 'keyed' },
  };
}

/** How far a place lies from the middle between its neighbours, squared. */
function bend(a: TrackSample | undefined, x: number, y: number, b: TrackSample | undefined): number {
  if (!isPlaced(a) || !isPlaced(b)) return 0;
  const u = x - (a.x + b.x) / 2,
    v = y - (a.y + b.y) / 2;
  return u * u + v * v;
}

/** Samples with corrections laid over them, in order of frames; a correction pulls its neighbours along where it reaches further. */
export function correctedSamples(samples: readonly TrackSample[], corrections: Corrections, reach = 0): TrackSample[] {
  const measured = new Map(samples.map((sample) => [sample.frame, sample])),
    all = new Map(measured),
    first = samples.find((s) => s.corners);
  for (const [key, correction] of Object.entries(corrections)) {
    const frame = Number(key);
    all.set(frame, setBy(frame, correction, measured.get(frame), first));
  }
  if (reach > 0)
    for (const key of Object.keys(corrections)) {
      const frame = Number(key),
        old = measured.get(frame),
        now = all.get(frame) as Placed,
        before = measured.get(frame - 1),
        after = measured.get(frame + 1);
      // A frame that jumped is put back between its neighbours, which are right.
      if (!isPlaced(old) || bend(before, now.x, now.y, after) < bend(before, old.x, old.y, after)) continue;
      for (const side of [-1, 1])
        for (let k = 1; k <= reach; k++) {
          const one = all.get(frame + side * k);
          // As far as the next frame that was set by hand, which says enough itself.
          if (!one || one.state === 'keyed') break;
          if (!isPlaced(one)) continue;
          const w = 0.5 + 0.5 * cos((PI * k) / (reach + 1)),
            dx = w * (now.x - old.x),
            dy = w * (now.y - old.y);
          all.set(one.frame, {
            ...{ ...one, x: one.x + dx, y: one.y + dy, rotation: one.rotation + w * (now.rotation - old.rotation) },
            ...(one.corners
              ? {
                  corners: one.corners.map(([x, y], i): [number, number] =>
                    now.corners && old.corners
                      ? [x + w * (now.corners[i]![0] - old.corners[i]![0]), y + w * (now.corners[i]![1] - old.corners[i]![1])]
                      : [x + dx, y + dy],
                  ),
                }
              : {}),
          });
        }
    }
  return [...all.values()].sort((a, b) => a.frame - b.frame);
}

/** A track as it counts: what was measured, with corrections and smoothing laid over it. */
export function knownSamples(samples: readonly TrackSample[], track: Layered): TrackSample[] {
  const corrected = correctedSamples(samples, track.corrections, track.reach);
  return track.smoothing ? smoothed(corrected, track.smoothing / 100) : corrected;
}

/** Where a track is at a frame. */
export interface Place {
  x: number;
  y: number;
  rotation: number;
  scale: number;
  corners?: Quad;
  state: TrackSample['state'];
}
const placeOf = (s: Placed, state = s.state): Place => ({
  ...{ x: s.x, y: s.y, rotation: s.rotation, scale: s.scale, state },
  ...(s.corners ? { corners: s.corners as unknown as Quad } : {}),
});
/** Place at a frame: measured where it is, straight between the neighbours where it is lost, held beyond the ends. Null without any. */
export function placeAt(samples: readonly TrackSample[], frame: number): Place | null {
  let before: Placed | undefined, after: Placed | undefined;
  for (const sample of samples) {
    if (!isPlaced(sample)) continue;
    if (sample.frame <= frame) before = sample;
    else {
      after = sample;
      break;
    }
  }
  if (before?.frame === frame) return placeOf(before);
  if (!before || !after) return before || after ? placeOf((before ?? after)!, 'lost') : null;
  const t = (frame - before.frame) / (after.frame - before.frame),
    mid = (a: number, b: number) => a + (b - a) * t;
  return {
    x: mid(before.x, after.x),
    y: mid(before.y, after.y),
    rotation: mid(before.rotation, after.rotation),
    scale: mid(before.scale, after.scale),
    ...(before.corners && after.corners
      ? { corners: before.corners.map(([x, y], i) => [mid(x, after.corners![i]![0]), mid(y, after.corners![i]![1])]) as unknown as Quad }
      : {}),
    state: 'lost',
  };
}

/** Joins what was measured anew into what was there: new frames win, others stay. */
export function mergeSamples(old: readonly TrackSample[], fresh: readonly TrackSample[]): TrackSample[] {
  const all = new Map(old.map((sample) => [sample.frame, sample]));
  for (const sample of fresh) all.set(sample.frame, sample);
  return [...all.values()].sort((a, b) => a.frame - b.frame);
}
