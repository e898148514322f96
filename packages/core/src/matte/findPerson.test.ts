import type { PatchPicture } from '../motion/patches';
import { findPerson, personHeight, PERSON_SIDE, type FoundPerson, type PersonFinder } from './findPerson';

const clip = { width: 640, height: 360, frames: 20 };
/** A person 30 px wide and 120 px high who walks to the right, and another one who stands. */
const walker = (f: number): [number, number] => [150 + 9 * f, 200],
  other: [number, number] = [480, 200];
/** A picture that only says which square was cut out of which frame. */
const cut = (frame: number, at: readonly [number, number], side: number, size: number): Promise<PatchPicture> =>
  Promise.resolve({
    width: size,
    height: size,
    pixels: new Uint8ClampedArray(Float64Array.of(frame, at[0], at[1], side).buffer),
  } as PatchPicture);
function finder(hidden: (f: number) => boolean = () => false): PersonFinder & { looks: number } {
  return {
    looks: 0,
    look({ pixels }) {
      this.looks++;
      const [frame, ax, ay, side] = new Float64Array(pixels.slice().buffer) as unknown as [number, number, number, number],
        out = new Float32Array(PERSON_SIDE * PERSON_SIDE),
        k = side / PERSON_SIDE,
        people = [...(hidden(frame) ? [] : [walker(frame)]), other];
      for (let y = 0; y < PERSON_SIDE; y++)
        for (let x = 0; x < PERSON_SIDE; x++)
          for (const [px, py] of people) {
            const dx = Math.abs(ax + (x + 0.5 - PERSON_SIDE / 2) * k - px),
              dy = Math.abs(ay + (y + 0.5 - PERSON_SIDE / 2) * k - py);
            out[y * PERSON_SIDE + x] = Math.max(
              out[y * PERSON_SIDE + x]!,
              Math.min(1, Math.max(0, 0.5 + (15 - dx) / 4)) * Math.min(1, Math.max(0, 0.5 + (60 - dy) / 4)),
            );
          }
      return Promise.resolve(out);
    },
  };
}
const search = (f: PersonFinder, at: readonly [number, number], told: FoundPerson[] = []) =>
  findPerson({ clip, cut, finder: f, at, frame: 8, tell: (one) => told.push(one) });

test('one of two people is found on every frame, alone, in a square that goes with it', async () => {
  const told: FoundPerson[] = [],
    found = await search(finder(), walker(8), told);
  expect(found.map((one) => one.frame)).toEqual(Array.from({ length: 20 }, (_, f) => f));
  expect(told).toHaveLength(20);
  for (const { frame, box, mask, at, side } of found.filter(({ frame }) => frame < 17)) {
    const [x, y] = walker(frame);
    expect(Math.abs((box![0] + box![2]) / 2 - x)).toBeLessThan(2);
    expect(Math.abs((box![1] + box![3]) / 2 - y)).toBeLessThan(2);
    expect(side).toBeLessThan(200);
    // Its own pixels are there, those of the other one, where they are in the square, are not.
    const value = (px: number, py: number) =>
      mask![
        Math.floor((py - at[1]) * (PERSON_SIDE / side) + PERSON_SIDE / 2) * PERSON_SIDE +
          Math.floor((px - at[0]) * (PERSON_SIDE / side) + PERSON_SIDE / 2)
      ];
    expect(value(x, y)).toBeGreaterThan(0.9);
    if (Math.abs(other[0] - at[0]) < side / 2 - 2 && other[0] - x > 40) expect(value(other[0], other[1])).toBe(0);
  }
  expect(Math.abs(personHeight(found) - 120)).toBeLessThan(4);
});
test('who is hidden for two frames is found again', async () => {
  const found = await search(
    finder((f) => f === 11 || f === 12),
    walker(8),
  );
  expect(found[11]!.box).toBeNull();
  expect(found[13]!.box).not.toBeNull();
  expect(Math.abs((found[14]!.box![0] + found[14]!.box![2]) / 2 - walker(14)[0])).toBeLessThan(2);
});
test('beside everybody words say what to do, and a search that is given up ends with what it has', async () => {
  await expect(search(finder(), [20, 20])).rejects.toThrow(/Nobody was found here.*outlines/s);
  const stop = new AbortController(),
    found = await findPerson({
      clip,
      cut,
      finder: finder(),
      at: walker(8),
      frame: 8,
      signal: stop.signal,
      tell: (one) => one.frame === 10 && stop.abort(),
    });
  expect(found.map((one) => one.frame)).toEqual([8, 9, 10]);
});
