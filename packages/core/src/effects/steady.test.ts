import { drawOn, give, nothing } from '../../test/effects';
import { Arena, type Picture } from '../image';
import { AffineFrame } from '../motion';
import { effects } from './index';

const arena = new Arena(64 * 2 ** 20),
  [WIDE, HIGH] = [160, 120];
afterEach(() => arena.reset());
/** Soft waves of light, moved by so much, turned by degrees about the middle and grown. */
function scene(x: number, y: number, degrees: number, grown = 1): Picture {
  const out = arena.takePicture(WIDE, HIGH),
    frame = AffineFrame.turned(WIDE / 2 + x, HIGH / 2 + y, degrees, grown);
  for (let j = 0, p = 0; j < HIGH; j++)
    for (let i = 0; i < WIDE; i++, p += 4) {
      const [u, v] = frame.toBody([i + 0.5, j + 0.5]),
        light = 0.5 + 0.25 * Math.sin(u / 5) + 0.2 * Math.cos(v / 7 + u / 11);
      out.data.set([light, 0.8 * light, 0.5, 1], p);
    }
  return out;
}
const plain = { place: [0, 0], enlarged: 100 } as never;

test('the motion of the mount is taken out of the picture: place, turn and growth', () => {
  const still = scene(0, 0, 0),
    mount = AffineFrame.turned(WIDE / 2 + 6.4, HIGH / 2 - 3.7, 4, 1.06),
    { changed } = give(effects.steady, plain, { below: scene(6.4, -3.7, 4, 1.06), mount }, drawOn(arena, WIDE, HIGH));
  let worst = 0;
  for (let y = 20; y < HIGH - 20; y++)
    for (let x = 20; x < WIDE - 20; x++)
      worst = Math.max(worst, Math.abs(changed!.data[(y * WIDE + x) * 4]! - still.data[(y * WIDE + x) * 4]!));
  expect(worst).toBeLessThan(0.005);
});
test('enlarged, the edges stay outside; beyond them nothing is black', () => {
  const mount = new AffineFrame(WIDE / 2 + 9, HIGH / 2),
    { changed } = give(effects.steady, plain, { below: scene(9, 0, 0), mount }, drawOn(arena, WIDE, HIGH));
  for (let i = 0; i < changed!.data.length; i += 4) expect(changed!.data[i + 3]).toBeCloseTo(1, 5);
  const large = give(
      effects.steady,
      { place: [0, 0], enlarged: 150 } as never,
      { below: scene(9, 0, 0), mount },
      drawOn(arena, WIDE, HIGH),
    ),
    still = scene(0, 0, 0, 1.5);
  for (let x = 1; x < WIDE; x += 7)
    expect(Math.abs(large.changed!.data[(60 * WIDE + x) * 4]! - still.data[(60 * WIDE + x) * 4]!)).toBeLessThan(0.01);
});
test('on no mount it changes nothing', () =>
  expect(give(effects.steady, plain, { below: scene(0, 0, 0), mount: nothing(WIDE, HIGH) }, drawOn(arena, WIDE, HIGH))).toEqual({}));
