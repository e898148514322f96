import type { TrackSample } from './pointTracker';

/** A measured track and what a person set by hand. Corrections win over samples and are kept when tracking again. */
export type Corrections = Record<string, [number, number]>;

/** Samples with corrections laid over them, in order of frames. */
export function correctedSamples(samples: readonly TrackSample[], corrections: Corrections): TrackSample[] {
  const all = new Map(samples.map((sample) => [sample.frame, sample]));
  for (const [key, [x, y]] of Object.entries(corrections)) {
    const frame = Number(key),
      old = all.get(frame);
    all.set(frame, { frame, x, y, rotation: old?.rotation ?? 0, scale: old?.scale ?? 1, confidence: 1, state: 'keyed' });
  }
  return [...all.values()].sort((a, b) => a.frame - b.frame);
}

/** Place at a frame: measured where it is, straight between the neighbours where it is lost, held beyond the ends. Null without any. */
export function placeAt(
  samples: readonly TrackSample[],
  frame: number,
): { x: number; y: number; rotation: number; scale: number; state: TrackSample['state'] } | null {
  let before: TrackSample | undefined, after: TrackSample | undefined;
  for (const sample of samples) {
    if (sample.x === null || sample.y === null) continue;
    if (sample.frame <= frame) before = sample;
    else {
      after = sample;
      break;
    }
  }
  if (before?.frame === frame) return { x: before.x!, y: before.y!, rotation: before.rotation, scale: before.scale, state: before.state };
  if (!before && !after) return null;
  if (!before || !after) {
    const s = (before ?? after)!;
    return { x: s.x!, y: s.y!, rotation: s.rotation, scale: s.scale, state: 'lost' };
  }
  const t = (frame - before.frame) / (after.frame - before.frame),
    mid = (a: number, b: number) => a + (b - a) * t;
  return {
    x: mid(before.x!, after.x!),
    y: mid(before.y!, after.y!),
    rotation: mid(before.rotation, after.rotation),
    scale: mid(before.scale, after.scale),
    state: 'lost',
  };
}

/** Joins what was measured anew into what was there: new frames win, others stay. */
export function mergeSamples(old: readonly TrackSample[], fresh: readonly TrackSample[]): TrackSample[] {
  const all = new Map(old.map((sample) => [sample.frame, sample]));
  for (const sample of fresh) all.set(sample.frame, sample);
  return [...all.values()].sort((a, b) => a.frame - b.frame);
}
