import { AffineFrame } from '../motion';
import { Arena, exactMath, newPlane, type Plane } from '../image';
import { cellAt, distanceAlong } from './alongBody';
import { arrivalOrder, type Arrival } from './arrival';

/** A body with an arm that is bent back to it: from the shoulder down to the elbow, and up to the hand beside the head, over a gap. */
function bent() {
  const p = newPlane(400, 400),
    box = (l: number, t: number, r: number, b: number) => {
      for (let y = t; y < b; y++) p.data.fill(1, y * 400 + l, y * 400 + r);
    };
  box(100, 60, 180, 380);
  box(180, 100, 300, 130);
  box(270, 130, 300, 240);
  box(200, 210, 300, 240);
  box(200, 150, 230, 240);
  return p;
}

test('in the open it is the distance itself, to four per cent', () => {
  const all = newPlane(320, 240);
  all.data.fill(1);
  const field = distanceAlong(all, 1, [[100, 90]]);
  for (const [x, y] of [
    [300, 90],
    [100, 20],
    [220, 210],
    [30, 200],
  ] as const) {
    const truth = exactMath.hypot(x - 100, y - 90);
    expect(Math.abs(cellAt(field, x, y) - truth) / truth).toBeLessThan(0.04);
  }
});
test('it goes up the arm to the hand, and not across the gap', () => {
  const field = distanceAlong(bent(), 1, [[140, 200]]),
    hand = cellAt(field, 215, 160);
  // Straight over the gap it is 85 px; along shoulder, elbow and forearm some 370.
  expect(hand).toBeGreaterThan(230);
  expect(cellAt(field, 290, 110)).toBeLessThan(hand);
  expect(cellAt(field, 285, 220)).toBeLessThan(hand);
  // A part that hangs on nothing is reached all the same.
  const apart = bent();
  for (let y = 20; y < 40; y++) apart.data.fill(1, y * 400 + 340, y * 400 + 380);
  expect(cellAt(distanceAlong(apart, 1, [[140, 200]]), 360, 30)).toBeLessThan(1200);
});
test('half the size gives the same distances', () => {
  const half = newPlane(200, 200),
    whole = bent();
  for (let y = 0; y < 200; y++) for (let x = 0; x < 200; x++) half.data[y * 200 + x] = whole.data[2 * y * 400 + 2 * x]!;
  const [a, b] = [distanceAlong(whole, 1, [[140, 200]]), distanceAlong(half, 0.5, [[140, 200]])];
  for (const [x, y] of [
    [215, 160],
    [140, 370],
    [290, 110],
  ] as const)
    expect(Math.abs(cellAt(a, x, y) - cellAt(b, x, y))).toBeLessThan(4);
});

test('an order along the body goes with it, in its own size, and holds the noise of its edge', () => {
  const arena = new Arena(32 * 2 ** 20),
    arrival: Arrival = { shape: 'along the body', from: [0, 0], direction: 0, reach: 400, ragged: 0, raggedSize: 20, seed: 3, strokes: [] },
    put = (plane: Plane, dx: number, dy: number): Plane => {
      const out = arena.takePlane(400, 400);
      out.data.fill(0);
      for (let y = 0; y < 400; y++)
        for (let x = 0; x < 400; x++) {
          const [sx, sy] = [x - dx, y - dy];
          if (sx >= 0 && sy >= 0 && sx < 400 && sy < 400) out.data[y * 400 + x] = plane.data[sy * 400 + sx]!;
        }
      return out;
    },
    orderOf = (of: Arrival, x: number, y: number, grown = 1) => {
      const matte = put(bent(), x - 140, y - 200);
      return arrivalOrder(of, AffineFrame.turned(x, y, 0, grown), 1, [-9, 9], 400, 400, arena, null, { matte, scale: 1, pattern: null });
    },
    still = orderOf(arrival, 140, 200),
    moved = orderOf(arrival, 160, 192),
    at = (p: Plane, x: number, y: number) => p.data[y * 400 + x]!;
  for (const [x, y] of [
    [140, 300],
    [215, 160],
    [290, 110],
    [285, 220],
  ] as const)
    expect(Math.abs(at(moved, x + 20, y - 8) - at(still, x, y))).toBeLessThan(0.012);
  // Up the arm, round the elbow, to the hand.
  const way = [at(still, 200, 115), at(still, 290, 115), at(still, 285, 225), at(still, 215, 225), at(still, 215, 160)];
  expect([...way].sort((a, b) => a - b)).toEqual(way);
  // A body that is seen twice as large is as far gone at the same order.
  expect(at(orderOf(arrival, 140, 200, 2), 290, 110)).toBeCloseTo(at(still, 290, 110) / 2, 2);
  // With noise it differs from that by no more than its depth.
  const ragged = orderOf({ ...arrival, ragged: 30 }, 140, 200);
  let most = 0;
  for (let y = 100; y < 130; y++) for (let x = 180; x < 300; x++) most = Math.max(most, Math.abs(at(ragged, x, y) - at(still, x, y)));
  expect(most).toBeGreaterThan(0.005);
  expect(most).toBeLessThan((1.35 * 30) / 400 + 1e-3);
  // Without a matte it spreads outwards.
  const outwards = arrivalOrder(arrival, new AffineFrame(140, 200), 1, [-9, 9], 400, 400, arena);
  expect(at(outwards, 215, 160)).toBeCloseTo(exactMath.hypot(75.5, 39.5) / 400, 2);
});
