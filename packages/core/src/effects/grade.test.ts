import { Arena, type Picture } from '../image';
import { drawOn } from '../../test/effects';
import type { StoredValue } from '../params/describe';
import { grade } from './grade';
import { valuesAt } from '../params/values';

const arena = new Arena(4 * 2 ** 20);
afterEach(() => arena.reset());
const draw = drawOn(arena, 3, 1);
/** Graded: black, middle grey, and a colour above white. */
function graded(values: Record<string, StoredValue>): number[][] {
  const below: Picture = arena.takePicture(3, 1);
  below.data.set([0, 0, 0, 1, 0.18, 0.18, 0.18, 1, 2, 1, 0.5, 1]);
  const v = valuesAt(grade.params, values, {}, 0, 1) as never,
    { changed } = grade.render(draw, v, { below } as never, undefined as never);
  return [0, 1, 2].map((p) => Array.from(changed!.data.slice(4 * p, 4 * p + 4)));
}
const close = (found: number[][], wanted: number[][]) =>
  found.forEach((pixel, p) => pixel.forEach((v, c) => expect(v).toBeCloseTo(wanted[p]![c]!, 4)));

test('a stop is twice the light, gain a factor, and both keep what is above white', () => {
  close(graded({ exposure: 1 }), [
    [0, 0, 0, 1],
    [0.36, 0.36, 0.36, 1],
    [4, 2, 1, 1],
  ]);
  close(graded({ gain: 50 }), [
    [0, 0, 0, 1],
    [0.09, 0.09, 0.09, 1],
    [1, 0.5, 0.25, 1],
  ]);
});
test('lift moves black and leaves white', () => {
  const [black, grey] = graded({ lift: 10 });
  expect(black![0]).toBeCloseTo(0.1, 5);
  expect(grey![0]).toBeCloseTo(0.1 + 0.9 * 0.18, 5);
});
test('without saturation everything is its own luma; warmth leaves greys of the same colour for both ends', () => {
  const [, , colour] = graded({ saturation: 0 }),
    luma = 0.2126 * 2 + 0.7152 + 0.0722 * 0.5;
  for (const c of [0, 1, 2]) expect(colour![c]).toBeCloseTo(luma, 4);
  const [, warm] = graded({ warmth: 100 });
  expect(warm![0]! / warm![2]!).toBeCloseTo(2, 4);
});
test('gamma bends the middle and leaves black and white; contrast leaves its pivot', () => {
  const [black, grey] = graded({ gamma: 2 });
  expect(black![0]).toBe(0);
  expect(grey![0]).toBeCloseTo(Math.sqrt(0.18), 3);
  const [, pivot, colour] = graded({ contrast: 150 });
  expect(pivot![0]).toBeCloseTo(0.18, 3);
  expect(colour![2]).toBeGreaterThan(0.5);
});
test('with nothing to do it is left out', () => {
  const idle = (values: Record<string, StoredValue>) =>
    grade.idle!(valuesAt(grade.params, values, {}, 0, 1) as never, 0, () => ({}) as never);
  expect(idle({})).toBe(true);
  const others: Record<string, StoredValue>[] = [
    { exposure: 0.1 },
    { warmth: 1 },
    { tint: -1 },
    { saturation: 99 },
    { lift: 1 },
    { gamma: 1.1 },
    { gain: 99 },
    { contrast: 101 },
  ];
  for (const values of others) expect(idle(values)).toBe(false);
});
