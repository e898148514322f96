import { apply, BODY, FIRST, HEIGHT, smallShot, smallSources, WIDTH } from '../../test/smallShot';
import type { TrackSample } from '../motion';
import * as s from '../shot';
import { FrameRenderer } from './renderFrame';

const still = (x: number, y: number): TrackSample[] =>
  Array.from({ length: 12 }, (_, frame) => ({ frame, x, y, rotation: 0, scale: 1, confidence: 1, state: 'good' }));
const base = apply(
  smallShot(),
  s.addTrack({ id: 't1', name: 'beside', clip: 'c1', at: [46, 24], frame: 0 }),
  s.storeSamples({ t1: 'beside' }),
);
const dark = { surround: 0, around: 0, onSubject: 0, onGround: 0, inAir: 0, away: 8, reach: 4, flicker: 0 };
const ember = (lane: 'front' | 'behind' | 'foreground' | 'background', values: object) =>
  s.addRow({
    id: 'r1',
    effect: 'ember',
    lane,
    subject: lane === 'front' || lane === 'behind' ? 's1' : null,
    track: 't1',
    values: { ...dark, ...values },
  });
const drawn = (shot: s.Shot) =>
  new FrameRenderer(smallSources(8, { beside: still(46, 24) }), shot, 64 * 2 ** 20).renderFrame({ shot, frame: FIRST + 1 }, (p) =>
    Float32Array.from(p.data),
  );
/** Mean change of a box of the picture, red. */
async function changed(before: s.Shot, after: s.Shot, [x0, y0, x1, y1]: readonly number[]): Promise<number> {
  const [a, b] = [await drawn(before), await drawn(after)];
  let sum = 0;
  for (let y = y0!; y < y1!; y++) for (let x = x0!; x < x1!; x++) sum += b[(y * WIDTH + x) * 4]! - a[(y * WIDTH + x) * 4]!;
  return sum / ((x1! - x0!) * (y1! - y0!));
}
const near = [BODY.right - 5, 20, BODY.right - 1, 28] as const,
  far = [BODY.left, 20, BODY.left + 4, 28] as const,
  beyond = [2, 2, 8, 8] as const,
  floor = [44, BODY.bottom, 52, BODY.bottom + 4] as const;

test.each(['front', 'behind', 'foreground', 'background'] as const)(
  'a light in the lane %s falls on the side of the subject that is turned to it',
  async (lane) => {
    const plain = apply(base, ember(lane, {})),
      lit = apply(base, ember(lane, { onSubject: 400 }));
    expect(await changed(plain, lit, near)).toBeGreaterThan(0.005);
    expect(await changed(plain, lit, near)).toBeGreaterThan(3 * (await changed(plain, lit, far)));
    expect(Math.abs(await changed(plain, lit, beyond))).toBeLessThan(1e-6);
  },
);

test('on the ground it falls below the feet, and not on the subject', async () => {
  const plain = apply(base, ember('front', { reach: 10 })),
    lit = apply(base, ember('front', { reach: 10, onGround: 800 }));
  expect(await changed(plain, lit, floor)).toBeGreaterThan(0.002);
  expect(Math.abs(await changed(plain, lit, far))).toBeLessThan(1e-4);
});

test('it goes with the opacity of its row, and stays within the matte that limits the row', async () => {
  const strong = { onSubject: 400 },
    plain = apply(base, ember('front', {})),
    whole = await changed(plain, apply(base, ember('front', strong)), near),
    paler = apply(base, ember('front', strong), s.changeRow('r1', { opacity: 50 })),
    plainer = apply(plain, s.changeRow('r1', { opacity: 50 }));
  expect((await changed(plainer, paler, near)) / whole).toBeCloseTo(0.5, 1);
  // The matte k2 is a post at the left edge: nothing of the body lies in it.
  const limited = apply(base, ember('front', strong), s.changeRow('r1', { matte: 'k2' }));
  expect(Math.abs(await changed(base, limited, near))).toBeLessThan(1e-6);
});

test('what the subject has lost is not lit: a body that has vanished stays the clean plate', async () => {
  const gone = s.addRow({
      id: 'r0',
      effect: 'dissolve',
      lane: 'on',
      subject: 's1',
      values: { progress: 100, density: 0, extent: 60 },
    }),
    plain = apply(base, gone, ember('front', {})),
    lit = apply(base, gone, ember('front', { onSubject: 400 }));
  expect(Math.abs(await changed(plain, lit, near))).toBeLessThan(1e-3);
});

test('without any strength it is the picture of the version that lit nothing, to the bit', async () => {
  const none = await drawn(apply(base, ember('front', {}))),
    old = apply(base, ember('front', {})),
    row = old.rows.r1!,
    stored = { ...old, rows: { r1: { ...row, version: 2, values: { surround: 0, around: 0, reach: 4, flicker: 0 } } } };
  const migrated = await drawn(s.readShot(JSON.parse(JSON.stringify(stored))));
  expect(migrated).toHaveLength(WIDTH * HEIGHT * 4);
  expect(Buffer.from(migrated.buffer).equals(Buffer.from(none.buffer))).toBe(true);
});

test.each([
  ['dissolve', { progress: 50, shape: 'direction', direction: 90, extent: 22, ragged: 0, rim: 3, rimStrength: 600, density: 0, char: 0 }],
  ['materialise', { progress: 50, shape: 'direction', direction: 90, extent: 22, ragged: 0, light: 600, motes: 0 }],
])('a row that takes its subject apart lights the ground, and what is left of the subject: %s', async (effect, values) => {
  const row = (thrown: object) =>
      s.addRow({ id: 'r1', effect, lane: 'on', subject: 's1', values: { ...values, from: [36, BODY.top], away: 8, ...thrown } }),
    plain = apply(base, row({})),
    ground = await changed(plain, apply(base, row({ onGround: 800 })), [BODY.left, BODY.bottom, BODY.right, BODY.bottom + 4]),
    body = await changed(plain, apply(base, row({ onSubject: 800 })), [BODY.left, BODY.top, BODY.right, BODY.bottom]);
  expect(ground).toBeGreaterThan(0.002);
  expect(body).toBeGreaterThan(0.002);
});
