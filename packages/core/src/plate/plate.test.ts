import { Arena } from '../image/arena';
import { exactMath, fractal2, uniform } from '../image';
import { decodeTable, encodeValue } from '../image/transfer';
import { after, seenAt } from '../image/homography';
import type { Homography } from '../image/warp';
import { buildPlate, type BuiltPlate, type PlateOptions } from './build';
import { anchorOf, driftOf, inPixels } from './drift';
import { lookOver, type Footage } from './footage';

const WIDTH = 240,
  HEIGHT = 160,
  LIGHT = decodeTable('srgb', 16),
  ENCODED = Float32Array.from({ length: 8193 }, (_, i) => encodeValue(i / 8192));
type Rgb = [number, number, number];
/** A wall of planks and plaster: a table of colours, 0..1, a point every pixel and a half, between which they are mixed. */
const STEP = 1.5,
  BEYOND = 60,
  ACROSS = Math.ceil((WIDTH + 2 * BEYOND) / STEP) + 2,
  WALL = Float32Array.from({ length: ACROSS * (Math.ceil((HEIGHT + 2 * BEYOND) / STEP) + 2) }, (_, i) => {
    const x = (i % ACROSS) * STEP,
      y = Math.floor(i / ACROSS) * STEP,
      plank = (x % 36) / 36;
    return 0.4 * (fractal2(x / 70, y / 50, 4, 5) - 0.5) + 0.3 * (fractal2(x / 6, y / 5, 3, 9) - 0.5) - (plank < 0.08 ? 0.16 : 0);
  });
function wall(x: number, y: number): Rgb {
  const gx = (x + BEYOND) / STEP,
    gy = (y + BEYOND) / STEP,
    xi = Math.floor(gx),
    yi = Math.floor(gy),
    p = yi * ACROSS + xi,
    upper = WALL[p]! + (WALL[p + 1]! - WALL[p]!) * (gx - xi),
    lower = WALL[p + ACROSS]! + (WALL[p + ACROSS + 1]! - WALL[p + ACROSS]!) * (gx - xi),
    v = upper + (lower - upper) * (gy - yi);
  return [0.52 + v, 0.45 + 0.92 * v, 0.36 + 0.8 * v];
}
/** A body in cloth of its own: where it is, and its colour there; null beside it. */
type Body = (x: number, y: number, frame: number) => Rgb | null;
const figure =
  (at: (frame: number) => number, colour: Rgb, fidgets = 0.6): Body =>
  (x, y, frame) => {
    const u = x - at(frame) - fidgets * exactMath.sin(frame * 1.7),
      v = y - 70;
    if (!(Math.abs(u) < 15 && v > -34 && v < 84 && u * u + v * v * 0.1 < 420)) return null;
    const cloth = 0.16 * (fractal2(u / 5, v / 7 + 0.02 * frame * fidgets, 3, 31) - 0.5);
    return [colour[0] + cloth, colour[1] + cloth, colour[2] + cloth];
  };

/** About normal, with a spread of 1: sums of three even numbers. */
const GRAIN = Float32Array.from({ length: 65536 }, (_, i) => 2 * (uniform(i, 1, 1) + uniform(i, 1, 2) + uniform(i, 1, 3) - 1.5));

interface Set {
  frames: number;
  bodies: Body[];
  /** Map of places of the wall to those of a frame. */
  camera?: (frame: number) => Homography;
  light?: (frame: number) => number;
  grain?: number;
}
const turned = (dx: number, dy: number, degrees: number, zoom: number): Homography => {
  const c = exactMath.cos(exactMath.radians(degrees)) * zoom,
    s = exactMath.sin(exactMath.radians(degrees)) * zoom,
    mx = WIDTH / 2,
    my = HEIGHT / 2;
  return [c, -s, mx - c * mx + s * my + dx, s, c, my - s * mx - c * my + dy, 0, 0, 1];
};
function inverse(m: Homography): Homography {
  const det = m[0] * m[4] - m[1] * m[3];
  return [m[4] / det, -m[1] / det, (m[1] * m[5] - m[4] * m[2]) / det, -m[3] / det, m[0] / det, (m[3] * m[2] - m[0] * m[5]) / det, 0, 0, 1];
}
/** Draws a frame of a set: codes 0..255, with or without its bodies and its grain. */
function drawn(set: Set, frame: number, clean = false): Uint8Array {
  const out = new Uint8Array(WIDTH * HEIGHT * 3),
    back = inverse(set.camera?.(frame) ?? turned(0, 0, 0, 1)),
    gain = set.light?.(frame) ?? 1;
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i += 3) {
      const [wx, wy] = seenAt(back, [x + 0.5, y + 0.5]).at;
      let colour = wall(wx, wy);
      if (!clean) for (const body of set.bodies) colour = body(wx, wy, frame) ?? colour;
      for (let c = 0; c < 3; c++) {
        const code = Math.max(0, colour[c]!),
          lit = gain === 1 ? code : ENCODED[Math.round(8192 * Math.min(1, LIGHT[Math.round(65535 * Math.min(1, code))]! * gain))]!,
          noise = clean ? 0 : GRAIN[(i + c + frame * 7919) & 0xffff]! * (set.grain ?? 3);
        out[i + c] = Math.max(0, Math.min(255, Math.round(255 * lit + noise)));
      }
    }
  return out;
}
function footageOf(set: Set): Footage {
  const frames = Array.from({ length: set.frames }, (_, f) => drawn(set, f));
  return {
    width: WIDTH,
    height: HEIGHT,
    channels: 3,
    bits: 8,
    count: set.frames,
    rows: (f, y0, y1) => Promise.resolve(frames[f]!.subarray(y0 * WIDTH * 3, y1 * WIDTH * 3)),
  };
}
const built = (set: Set, options: Partial<PlateOptions> = {}): Promise<BuiltPlate> =>
  buildPlate(footageOf(set), { transfer: 'srgb', grain: false, ...options }, new Arena(64 << 20));
/** Mean error and share of pixels that are off by more than 20, of 255, at a frame; the edge that a drift uncovers is left out. */
async function errorOf(plate: BuiltPlate, set: Set, frame: number, margin = 0): Promise<{ mean: number; off: number }> {
  const { data, bits } = await plate.frame(plate.count === 1 ? 0 : frame),
    truth = drawn(set, frame, true);
  let [sum, off, n] = [0, 0, 0];
  for (let y = margin; y < HEIGHT - margin; y++)
    for (let x = margin; x < WIDTH - margin; x++) {
      const i = (y * WIDTH + x) * 3;
      let most = 0;
      for (let c = 0; c < 3; c++) {
        const d = Math.abs(data[i + c]! / (bits === 16 ? 257 : 1) - truth[i + c]!);
        sum += d / 3;
        most = Math.max(most, d);
      }
      n++;
      if (most > 20) off++;
    }
  return { mean: sum / n, off: off / n };
}
const GREEN: Rgb = [0.24, 0.36, 0.2],
  RED: Rgb = [0.62, 0.24, 0.2],
  BLUE: Rgb = [0.2, 0.26, 0.5];

describe('a clean plate from the moving shot', () => {
  test('who walks through is gone', async () => {
    const set: Set = { frames: 40, bodies: [figure((f) => -10 + 7 * f, GREEN)] },
      plate = await built(set);
    expect(plate.count).toBe(1);
    const { mean, off } = await errorOf(plate, set, 0);
    console.info(`walks through: mean ${mean.toFixed(2)}, off ${(100 * off).toFixed(3)} %`);
    expect(mean).toBeLessThan(0.8);
    expect(off).toBe(0);
    expect(plate.report.unsure).toBeLessThan(0.002);
  });
  test('who stands still for a third of the time is gone without a trace, and whoever fidgets for more than half', async () => {
    // One stands stock-still for 20 of 60 frames; another stands for 34 of 60, and breathes.
    const set: Set = {
        frames: 60,
        bodies: [figure((f) => (f < 20 ? 60 : 60 + 10 * (f - 19)), RED, 0), figure((f) => (f < 26 ? -20 - 10 * (26 - f) : 170), BLUE, 1.2)],
      },
      plate = await built(set),
      { mean, off } = await errorOf(plate, set, 0);
    console.info(`stand: mean ${mean.toFixed(2)}, off ${(100 * off).toFixed(3)} %`);
    expect(mean).toBeLessThan(0.9);
    expect(off).toBe(0);
  });
  test('a slow walker, always in the picture, is gone where it has moved on', async () => {
    const set: Set = { frames: 60, bodies: [figure((f) => 50 + 2 * f, GREEN, 0.8)] },
      plate = await built(set),
      { mean, off } = await errorOf(plate, set, 0);
    console.info(`slow: mean ${mean.toFixed(2)}, off ${(100 * off).toFixed(3)} %`);
    expect(mean).toBeLessThan(0.9);
    expect(off).toBe(0);
  });
  test('a hand-held camera and light that flickers: the plate of each frame is where and as bright as that frame', async () => {
    const set: Set = {
        frames: 48,
        bodies: [figure((f) => -10 + 6 * f, RED)],
        camera: (f) =>
          turned(5 * exactMath.sin(f / 7), 3 * exactMath.sin(f / 5 + 1), 0.8 * exactMath.sin(f / 9), 1 + 0.01 * exactMath.sin(f / 11)),
        light: (f) => 1 + 0.05 * exactMath.sin(f * 2.1),
      },
      plate = await built(set);
    expect(plate.count).toBe(48);
    for (const frame of [0, 13, 30, 47]) {
      const { mean, off } = await errorOf(plate, set, frame, 12);
      console.info(`hand-held ${frame}: mean ${mean.toFixed(2)}, off ${(100 * off).toFixed(3)} %`);
      expect(mean).toBeLessThan(1.6);
      expect(off).toBeLessThan(0.0005);
    }
    expect(plate.report.drift).toBeGreaterThan(3);
    expect(plate.report.flicker).toBeGreaterThan(3);
  });
  test('who never leaves stays, and the plate says where it is unsure; what a matte covers has no say', async () => {
    const set: Set = { frames: 40, bodies: [figure((f) => (f < 30 ? 120 : 120 + 9 * (f - 29)), BLUE, 0)] },
      footage = footageOf(set),
      at = (x: number) => Math.floor(x),
      alone = await built(set);
    const [area] = alone.report.areas;
    expect(alone.report.unsure).toBeGreaterThan(0.02);
    expect(area!.x).toBeLessThanOrEqual(112);
    expect(area!.x + area!.width).toBeGreaterThanOrEqual(128);
    const helped = await buildPlate(
        {
          ...footage,
          covered: (f, columns, rows) => {
            const out = new Float32Array(columns * rows),
              middle = f < 30 ? 120 : 120 + 9 * (f - 29);
            for (let y = 0; y < rows; y++)
              for (let x = 0; x < columns; x++) if (Math.abs(x * 4 + 2 - middle) < 18 && y * 4 > 30) out[y * columns + x] = 1;
            return Promise.resolve(out);
          },
        },
        { transfer: 'srgb', grain: false },
        new Arena(64 << 20),
      ),
      { off } = await errorOf(helped, set, 0);
    expect(at(off * 1e6)).toBe(0);
  });
  test('grain is that of one frame: as strong as in a frame, also where the character stood in it', async () => {
    const set: Set = { frames: 40, bodies: [figure((f) => -10 + 7 * f, GREEN)], grain: 4 },
      spread = (p: BuiltPlate) =>
        p.frame(0).then(({ data, bits }) => {
          const truth = drawn(set, 0, true);
          // In the middle frame the character stands at 123.
          return [
            [20, 60],
            [112, 134],
          ].map(([from, to]) => {
            let [sum, n] = [0, 0];
            for (let y = 50; y < 130; y++)
              for (let x = from!; x < to!; x++)
                for (let c = 0; c < 3; c++, n++) {
                  const i = (y * WIDTH + x) * 3 + c;
                  sum += (data[i]! / (bits === 16 ? 257 : 1) - truth[i]!) ** 2;
                }
            return Math.sqrt(sum / n);
          });
        }),
      [kept, behind] = (await spread(await built(set, { grain: true }))) as [number, number],
      [without] = (await spread(await built(set))) as [number];
    expect(kept).toBeGreaterThan(3.2);
    expect(kept).toBeLessThan(4.8);
    expect(Math.abs(behind - kept)).toBeLessThan(0.7);
    expect(without).toBeLessThan(1.2);
  });
  test('the drift of a camera is found to a tenth of a pixel, whoever walks through', async () => {
    for (const [dx, dy, degrees, zoom] of [
      [0.4, -0.3, 0, 1],
      [6.3, -4.1, 1.5, 1.02],
      [-14, 9, -2, 0.97],
    ] as const) {
      const set: Set = {
          frames: 2,
          bodies: [figure((f) => 80 + 40 * f, RED)],
          camera: (f) => turned(f * dx, f * dy, f * degrees, 1 + f * (zoom - 1)),
        },
        footage = footageOf(set),
        [a, b] = [await lookOver(footage, 0), await lookOver(footage, 1)],
        drift = driftOf(anchorOf(a.luma, 'shifts, turns and zooms'), b.luma),
        map = inPixels(drift, WIDTH, HEIGHT),
        truth = turned(dx, dy, degrees, zoom);
      for (const corner of [
        [20, 20],
        [220, 20],
        [120, 80],
        [20, 140],
      ] as const) {
        const [x, y] = seenAt(map, corner).at,
          [tx, ty] = seenAt(truth, corner).at;
        console.info(`drift off by ${Math.hypot(x - tx, y - ty).toFixed(3)} px`);
        expect(Math.hypot(x - tx, y - ty)).toBeLessThan(0.12);
      }
      expect(after(map, inverse(map))[0]).toBeCloseTo(1, 6);
    }
  });
});
