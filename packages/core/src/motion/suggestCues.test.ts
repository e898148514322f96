import { newPlane } from '../image/picture';
import { uniform } from '../image/random';
import { findMoments, lookAtFrame, patchAt, type FrameLook, type SeenTrack } from './suggestCues';
import type { TrackSample } from './pointTracker';

/** A grainy picture of stripes: `kind` changes what is in it, `gain` how bright it is. */
function frame(kind: number, gain: number, seed: number): FrameLook {
  const plane = newPlane(160, 90);
  for (let y = 0, i = 0; y < 90; y++)
    for (let x = 0; x < 160; x++, i++)
      plane.data[i] = gain * (0.3 + 0.2 * Math.sin((kind ? y : x) / (5 + kind))) + 0.03 * (uniform(i, seed, 3) - 0.5);
  return lookAtFrame(plane);
}
const film = (count: number, of: (f: number) => [number, number]) => Array.from({ length: count }, (_, f) => frame(...of(f), f));
const found = (looks: FrameLook[], tracks: SeenTrack[] = []) => findMoments(looks, tracks).map((m) => `${m.kind} ${m.frame}`);
const track = (name: string, at: (f: number) => [number, number] | null, count = 40): SeenTrack => ({
  name,
  patches: [],
  samples: Array.from({ length: count }, (_, f): TrackSample => {
    const p = at(f);
    return { frame: f, x: p?.[0] ?? null, y: p?.[1] ?? null, rotation: 0, scale: 1, confidence: 1, state: p ? 'good' : 'lost' };
  }),
});
const still = film(40, () => [0, 1]);

test('a film in which nothing happens has no moments, with grain and flicker too', () => {
  expect(found(still)).toEqual([]);
  expect(found(film(60, (f) => [0, 1 + 0.03 * (uniform(f, 9, 1) - 0.5)]))).toEqual([]);
});
test('a cut is found at its first frame; a flash is none', () => {
  expect(found(film(40, (f) => [f < 17 ? 0 : 3, 1]))).toEqual(['cut 17']);
  expect(found(film(40, (f) => [0, f >= 12 && f < 15 ? 1.6 : 1]))).toEqual(['flash 12']);
});
test('light that rises or falls and stays is told where it begins', () => {
  const [rises, ...no] = findMoments(film(60, (f) => [0, f < 20 ? 1 : Math.min(1.4, 1 + (f - 19) * 0.04)]));
  expect(no).toEqual([]);
  expect(rises).toMatchObject({ kind: 'light changes', reason: expect.stringMatching(/40 % brighter|39 % brighter/) });
  expect(Math.abs(rises!.frame - 20)).toBeLessThanOrEqual(1);
  expect(found(film(60, (f) => [0, f < 30 ? 1 : 0.8]))).toEqual(['light changes 30']);
});
test('a fall that ends is a landing, another motion that ends a stop; a slow or lost one is neither', () => {
  expect(found(still, [track('foot', (f) => [50, f < 18 ? 4 * f : 72])])).toEqual(['landing 18']);
  expect(found(still, [track('hand', (f) => [f < 22 ? 5 * f : 110, 40])])).toEqual(['stop 22']);
  expect(found(still, [track('slow', (f) => [Math.min(20, f), 40])])).toEqual([]);
  expect(found(still, [track('gone', (f) => (f < 22 ? [5 * f, 40] : null))])).toEqual([]);
  expect(found(still, [track('goes on', (f) => [5 * f, 40 + 10 * Math.sin(f)])])).toEqual([]);
});
test('an eye that shuts for some frames blinks; one that stays shut, or is covered for long, does not', () => {
  const eye = (shut: (f: number) => boolean): SeenTrack => ({
    ...track('left eye', () => [20, 20]),
    patches: Array.from({ length: 40 }, (_, f) => {
      const plane = newPlane(40, 40);
      for (let y = 0, i = 0; y < 40; y++)
        for (let x = 0; x < 40; x++, i++) {
          const r = Math.hypot(x - 20, y - 20);
          plane.data[i] = (shut(f) ? (Math.abs(y - 22) < 1.5 ? 0.2 : 0.6) : r < 4 ? 0.1 : r < 8 ? 0.9 : 0.6) + 0.02 * uniform(i, f, 2);
        }
      return patchAt(plane, 20, 20, 21);
    }),
  });
  expect(found(still, [eye((f) => f >= 14 && f < 18)])).toEqual(['blink 14']);
  expect(found(still, [eye((f) => f >= 14 && f < 16), eye((f) => f === 30)])).toEqual(['blink 14']);
  expect(found(still, [eye((f) => f >= 25)])).toEqual([]);
  expect(found(still, [eye(() => false)])).toEqual([]);
});
