import { drawOn, give } from '../../test/effects';
import { Arena, hash, type Picture } from '../image';
import { effects } from './index';
import { grain } from './grain';
import { grainDeviation } from './grainOn';

const arena = new Arena(96 * 2 ** 20);
afterEach(() => arena.reset());
const WIDTH = 200,
  HEIGHT = 150;
/** About normal, of deviation 1. */
const noise = (p: number, c: number): number => {
  let sum = 0;
  for (let k = 0; k < 12; k++) sum += hash(p, c, k) / 4294967296;
  return sum - 6;
};
/** A plate of uneven light with grain of a deviation of square roots, half common to the channels. */
const plateOf = (deviation: number): Picture => {
  const out = arena.takePicture(WIDTH, HEIGHT);
  for (let p = 0; p < WIDTH * HEIGHT; p++)
    for (let c = 0; c < 4; c++) {
      const root = 0.5 + (0.2 * (p % WIDTH)) / WIDTH + deviation * (0.63 * noise(p, 9) + 0.77 * noise(p, c));
      out.data[4 * p + c] = c < 3 ? root * root : 1;
    }
  return out;
};
const PATCH = [60, 40, 140, 110] as const;
/** The plate with a soft patch of paint that has no grain. */
const painted = (plate: Picture): Picture => {
  const out = arena.takePicture(WIDTH, HEIGHT);
  out.data.set(plate.data);
  for (let y = PATCH[1]; y < PATCH[3]; y++)
    for (let x = PATCH[0]; x < PATCH[2]; x++) for (let c = 0; c < 3; c++) out.data[(y * WIDTH + x) * 4 + c] = 0.12 + 0.0004 * x;
  return out;
};
/** Deviation of square roots of the brightness inside a box, by the kernel that the effect measures with. */
function measured(p: Picture, [x0, y0, x1, y1]: readonly number[]): number {
  const part = arena.takePicture(x1! - x0!, y1! - y0!);
  for (let y = y0!, k = 0; y < y1!; y++)
    for (let x = x0!; x < x1!; x++, k += 4) part.data.set(p.data.subarray((y * WIDTH + x) * 4, (y * WIDTH + x) * 4 + 4), k);
  return grainDeviation(part);
}
const inner = [72, 52, 128, 98] as const,
  outside = [4, 4, 50, 140] as const;

test.each([0.006, 0.02])(
  'what was drawn without grain gets that of the plate, of deviation %d, and the plate stays as it is',
  (deviation) => {
    const plate = plateOf(deviation),
      below = painted(plate),
      { changed } = give(effects.grain, {}, { below, plate }, drawOn(arena, WIDTH, HEIGHT)),
      of = measured(plate, outside);
    expect(measured(below, inner)).toBeLessThan(0.1 * of);
    expect(Math.abs(measured(changed!, inner) / of - 1)).toBeLessThan(0.2);
    for (let y = 4; y < 140; y += 3)
      for (let x = 4; x < 50; x += 3)
        for (let c = 0; c < 4; c++) expect(changed!.data[(y * WIDTH + x) * 4 + c]).toBe(plate.data[(y * WIDTH + x) * 4 + c]);
  },
);

test('twice the amount is twice as strong; it is another one on the next frame, and the same when asked again', () => {
  const plate = plateOf(0.01),
    below = painted(plate),
    run = (amount: number, frame = 1010) =>
      give(effects.grain, { amount }, { below, plate }, drawOn(arena, WIDTH, HEIGHT, { frame })).changed!,
    one = run(100),
    two = run(200);
  expect(measured(two, inner) / measured(one, inner)).toBeGreaterThan(1.75);
  expect(measured(two, inner) / measured(one, inner)).toBeLessThan(2.25);
  expect([...run(100).data]).toEqual([...one.data]);
  expect([...run(100, 1011).data]).not.toEqual([...one.data]);
});

test('a plate without grain, or no plate, changes nothing; everywhere is everywhere', () => {
  const clean = plateOf(0);
  expect(give(effects.grain, {}, { below: painted(clean), plate: clean }, drawOn(arena, WIDTH, HEIGHT))).toEqual({});
  expect(give(effects.grain, {}, { below: painted(clean), plate: null }, drawOn(arena, WIDTH, HEIGHT))).toEqual({});
  const plate = plateOf(0.01),
    { changed } = give(effects.grain, { on: 'everything' }, { below: plate, plate }, drawOn(arena, WIDTH, HEIGHT));
  expect(measured(changed!, outside) / measured(plate, outside)).toBeGreaterThan(1.25);
  expect(grain.idle!({ amount: 0 } as never, 0, undefined as never)).toBe(true);
});
