import { drawOn, give, nothing } from '../../test/effects';
import { Arena, blur, hash, type Picture } from '../image';
import { effects } from './index';
import { softnessOf } from './sharpness';

const arena = new Arena(96 * 2 ** 20);
afterEach(() => arena.reset());
const [WIDTH, HEIGHT] = [320, 240];
/** Boxes of different greys with soft pixels along their edges, blurred, under grain. */
function boxes(sigma: number, grain = 0): Picture {
  const out = arena.takePicture(WIDTH, HEIGHT);
  out.data.fill(0.2);
  const u = (k: number, c: number) => hash(k, c, 5) / 4294967296;
  for (let k = 0; k < 60; k++) {
    const [x0, y0, w, h, v] = [u(k, 1) * WIDTH, u(k, 2) * HEIGHT, 20 + 60 * u(k, 3), 20 + 50 * u(k, 4), 0.02 + 0.8 * u(k, 5)],
      part = (p: number, from: number, long: number) => Math.max(0, Math.min(p + 1, from + long) - Math.max(p, from));
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) {
        const a = part(x, x0, w) * part(y, y0, h);
        for (let c = 0; c < 3; c++) out.data[4 * (y * WIDTH + x) + c]! += a * (v - out.data[4 * (y * WIDTH + x) + c]!);
      }
  }
  const soft = sigma > 0 ? blur(out, sigma, arena) : out;
  for (let p = 0; p < WIDTH * HEIGHT; p++) {
    const n = grain * ((hash(p, 3) + hash(p, 4) + hash(p, 6) + hash(p, 7)) / 4294967296 - 2);
    for (let c = 0; c < 3; c++) {
      const root = Math.sqrt(soft.data[4 * p + c]!) + n;
      soft.data[4 * p + c] = root * root;
    }
    soft.data[4 * p + 3] = 1;
  }
  return soft;
}

test('the softness of a picture is the blur that it was given, also under grain; what was drawn has none', () => {
  expect(softnessOf(boxes(0))).toBeLessThan(0.35);
  for (const sigma of [0.8, 1.2, 2]) {
    expect(Math.abs(softnessOf(boxes(sigma)) / sigma - 1)).toBeLessThan(0.2);
    expect(Math.abs(softnessOf(boxes(sigma, 0.006)) / sigma - 1)).toBeLessThan(0.25);
    // Grain that climbs as far as faint edges do in a few pixels.
    expect(Math.abs(softnessOf(boxes(sigma, 0.06), 0.035) / sigma - 1)).toBeLessThan(0.3);
    expect(softnessOf(boxes(sigma, 0.06))).toBeLessThan(0.5 * sigma);
  }
  const flat = arena.takePicture(64, 64);
  flat.data.fill(0.4);
  expect(softnessOf(flat)).toBe(0);
});

test('a blur as soft as the plate takes drawn edges to those of the plate, and leaves them where the plate is as sharp', () => {
  const drawn = boxes(0),
    soften = (plate: Picture | null) =>
      give(
        effects.blur,
        { kind: 'as soft as the plate' },
        { below: drawn, plate, mount: nothing(WIDTH, HEIGHT) },
        drawOn(arena, WIDTH, HEIGHT),
      ).changed;
  expect(Math.abs(softnessOf(soften(boxes(1.4))!) / softnessOf(boxes(1.4)) - 1)).toBeLessThan(0.12);
  expect(soften(boxes(0))).toBeUndefined();
  expect(soften(null)).toBeUndefined();
});
