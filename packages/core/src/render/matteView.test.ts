import { Arena, newPicture, newPlane } from '../image';
import { viewMatte, type MatteLook } from './matteView';

const arena = new Arena(8 * 2 ** 20),
  W = 64,
  H = 32;
/** A picture of one colour; the left half is in the matte. */
function look(colour: readonly [number, number, number], how: MatteLook, before = 1, after = 1) {
  const p = newPicture(W, H),
    m = newPlane(W, H),
    beside = [before, after].map((v) => ({ ...newPlane(W, H), data: new Float32Array(W * H).fill(v) }));
  for (let k = 0; k < W * H; k++) {
    p.data.set([...colour, 1], 4 * k);
    m.data[k] = k % W < 32 ? 1 : 0;
  }
  m.data[5 * W + 32] = 0.5;
  const out = viewMatte(
      p,
      m,
      how,
      how.view === 'unsure'
        ? beside
        : how.ground === 'the clean plate'
          ? [{ ...newPicture(W, H), data: new Float32Array(4 * W * H).fill(0.7) }]
          : [],
      arena,
    ),
    at = (x: number, y = 5) => [...out.data.slice(4 * (y * W + x), 4 * (y * W + x) + 3)];
  return { at };
}
const near = (a: number[], b: number[]) => a.forEach((v, i) => expect(v).toBeCloseTo(b[i]!, 3));

test.each([
  ['black', [0, 0, 0]],
  ['white', [1, 1, 1]],
  ['grey', [0.05, 0.05, 0.05]],
  ['#ff0000', [1, 0, 0]],
  ['the clean plate', [0.7, 0.7, 0.7]],
])('a cut-out on %s', (ground, outside) => {
  const { at } = look([0.2, 0.3, 0.4], { view: 'cut out', ground });
  near(at(10), [0.2, 0.3, 0.4]);
  near(at(50), outside);
});
test('a checker has squares of two greys', () => {
  const { at } = look([0.2, 0.3, 0.4], { view: 'cut out', ground: 'checker' });
  expect(at(40)[0]).not.toBe(at(56)[0]);
  expect(at(40)[0]).toBe(at(44)[0]);
});
test('the overlay has a colour that the picture lacks', () => {
  const tint = (colour: [number, number, number]) => {
    const { at } = look(colour, { view: 'overlay' });
    return at(10).map((v, c) => (v - 0.55 * colour[c]!) / 0.45);
  };
  const onOrange = tint([0.7, 0.35, 0.1]),
    onHeather = tint([0.45, 0.33, 0.72]);
  expect(onOrange[2]).toBeGreaterThan(onOrange[0]!);
  // What is heather itself is laid under verdigris.
  expect(onHeather[1]).toBeGreaterThan(onHeather[2]!);
  near(look([0.7, 0.35, 0.1], { view: 'overlay' }).at(50), [0.7, 0.35, 0.1]);
});
test('edge shows what is soft alone, unsure what comes and goes alone', () => {
  const grey = 0.35 * 0.5,
    edge = look([0.5, 0.5, 0.5], { view: 'edge' });
  near(edge.at(10), [grey, grey, grey]);
  near(edge.at(32), [0.9, 0.9, 0.9]);
  // In on this frame and out on both others: it flickers. Out before and in after: it moves.
  const flickers = look([0.5, 0.5, 0.5], { view: 'unsure' }, 0, 0),
    moves = look([0.5, 0.5, 0.5], { view: 'unsure' }, 0, 1);
  expect(flickers.at(10)[0]! - flickers.at(10)[2]!).toBeGreaterThan(0.5);
  near(moves.at(10), [grey, grey, grey]);
});
