import { newPlane, normal, type Plane } from '../image';
import { trackKinds } from './kinds';
import { LikenessMeter } from './likeness';
import type { TrackSample } from './pointTracker';

/** An eye that goes to the right, under grain and changing light, and is shut from frame 8 to 11. */
const eye = (frame: number): Plane => {
  const plane = newPlane(120, 80),
    shut = frame >= 8 && frame <= 11,
    gain = 1 + 0.15 * Math.sin(frame);
  for (let y = 0, p = 0; y < 80; y++)
    for (let x = 0; x < 120; x++, p++) {
      const u = x - 40 - 2 * frame,
        v = y - 40,
        white = (u / 14) ** 2 + (v / 8) ** 2 < 1 && !shut,
        pupil = u * u + v * v < 20 && !shut,
        lid = shut && Math.abs(v - 3) < 1.5 && Math.abs(u) < 14;
      plane.data[p] = gain * (pupil ? 0.1 : white ? 0.8 : lid ? 0.2 : 0.5) + 0.01 * normal(p, frame, 4);
    }
  return plane;
};
const samples: TrackSample[] = Array.from({ length: 20 }, (_, f) => ({
    ...{ frame: f, x: f === 15 ? null : 40.5 + 2 * f + 0.4 * Math.sin(f), y: f === 15 ? null : 40.5, rotation: 0, scale: 1 },
    ...{ confidence: 1, state: f === 15 ? ('lost' as const) : ('good' as const) },
  })),
  meter = new LikenessMeter(samples, eye(2), 2, 31);

test('a place looks alike while it is as on the chosen frame, and not while the eye is shut or the track is lost', () => {
  const likeness = samples.map((s) => meter.at(eye(s.frame), s.frame).confidence);
  likeness.forEach((v, f) => {
    if ((f >= 8 && f <= 11) || f === 15) expect([f, v < 0.45]).toEqual([f, true]);
    else expect([f, v > 0.8]).toEqual([f, true]);
  });
  expect(meter.at(eye(15), 15)).toMatchObject({ state: 'lost', confidence: 0 });
  expect(new LikenessMeter(samples, eye(15), 15, 31).at(eye(3), 3)).toMatchObject({ confidence: 0, state: 'lost' });
});
test('a gate opens softly about its threshold, or shuts', () => {
  const openAt = (values: object, likeness: number) => trackKinds.gate.opens!(values as never, likeness),
    gate = { threshold: 60, softness: 20, opens: 'while alike' } as const;
  expect([0.4, 0.5, 0.6, 0.7, 0.9].map((v) => openAt(gate, v))).toEqual([0, 0, expect.closeTo(0.5, 9), 1, 1]);
  expect(openAt({ ...gate, opens: 'while different' }, 0.4)).toBe(1);
  expect([0.59, 0.6].map((v) => openAt({ ...gate, softness: 0 }, v))).toEqual([0, 1]);
});
