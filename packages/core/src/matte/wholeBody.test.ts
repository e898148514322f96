import { Arena, exactMath, normal, uniform, type Picture, type Plane } from '../image';
import { differenceMatte } from './keys';
import { newRefinement, refined, refinementsAt } from './refinements';
import { difference } from './sources/difference';
import { wholeBody } from './wholeBody';

const { hypot } = exactMath;
const W = 480,
  H = 300,
  arena = new Arena(128 * 2 ** 20);
afterEach(() => {
  expect(arena.inUse).toBe(0);
});

/** Smooth noise of one size, 0..1. */
function noise(x: number, y: number, size: number, seed: number): number {
  const u = x / size,
    v = y / size,
    i = Math.floor(u),
    j = Math.floor(v),
    s = (t: number) => t * t * (3 - 2 * t),
    [p, q] = [s(u - i), s(v - j)],
    at = (a: number, b: number) => uniform(i + a, j + b, seed);
  return (at(0, 0) * (1 - p) + at(1, 0) * p) * (1 - q) + (at(0, 1) * (1 - p) + at(1, 1) * p) * q;
}
/** A street, codes 0..255: coarse and fine structure, each channel on its own. */
const street = Float32Array.from({ length: 3 * W * H }, (_, i) => {
  const p = Math.floor(i / 3),
    x = p % W,
    y = Math.floor(p / W);
  return 70 + 80 * noise(x, y, 60, 1) + 45 * noise(x, y, 11, 2) + 20 * noise(x, y, 4, 3 + (i % 3));
});
/** How deep a place lies in a body of a head, a trunk, an arm and two legs, pixels; outside below 0. */
function depth(x: number, y: number, cx: number, cy = 165): number {
  const limb = (ax: number, ay: number, bx: number, by: number, r: number) => {
    const dx = bx - ax,
      dy = by - ay,
      t = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)));
    return r - hypot(x - ax - t * dx, y - ay - t * dy);
  };
  return Math.max(
    limb(cx, cy - 95, cx, cy - 94, 24),
    limb(cx, cy - 55, cx + 3, cy + 20, 36),
    limb(cx + 26, cy - 60, cx + 62, cy + 10, 12),
    limb(cx - 12, cy + 30, cx - 26, cy + 115, 16),
    limb(cx + 12, cy + 30, cx + 32, cy + 112, 16),
  );
}
interface Scene {
  cx: number;
  /** The share of the body's colour that is the street's behind it. */
  leans: number;
  light?: number;
  grain?: number;
  frame?: number;
  shadow?: number;
  /** A lamp in the hand: by how much it lights the street below, red light three times as much as blue. */
  lamp?: number;
}
function filmed({ cx, leans, light = 1, grain = 4, frame = 1, shadow = 0.35, lamp = 0 }: Scene): Picture {
  const out = arena.takePicture(W, H);
  for (let p = 0; p < W * H; p++) {
    const x = p % W,
      y = Math.floor(p / W),
      a = Math.min(1, Math.max(0, depth(x + 0.5, y + 0.5, cx) / 2 + 0.5)),
      dark = 1 - shadow * Math.max(0, Math.min(1, (depth(x + 45, y - 20, cx) + 30) / 45));
    const falls = lamp * Math.exp(-(((x - cx - 70) / 90) ** 2) - ((y - 250) / 50) ** 2);
    for (let c = 0; c < 3; c++) {
      const cloth = 55 + 130 * noise(x - cx + 300, y, 24, 20 + c) + 30 * noise(x - cx + 300, y, 7, 30 + c),
        // At dusk the street is paved: joints every 24 px.
        joint = lamp && (y % 24 < 2 || (x + 12 * Math.floor(y / 24)) % 24 < 2) ? 0.6 : 1,
        behind = street[3 * p + c]! * (lamp ? 0.45 * joint : 1) * Math.sqrt(1 + falls * [3, 2, 1][c]!),
        code = (behind * dark * (1 - a) + (cloth * (1 - leans) + behind * leans) * a) * light + grain * normal(p, frame, c),
        v = Math.max(0, Math.min(255, Math.round(code))) / 255;
      out.data[4 * p + c] = v * v;
    }
    out.data[4 * p + 3] = 1;
  }
  return out;
}
const clean = (dusk = false) => filmed({ cx: -999, leans: 0, grain: 1, frame: 99, lamp: dusk ? 1e-9 : 0 });
/** As a new matte of this source is refined. */
const { despeckle, fillHoles, blur } = difference.refined,
  asNew = refinementsAt(
    [
      newRefinement('f1', 'despeckle', { area: despeckle }),
      newRefinement('f2', 'fill holes', { area: fillHoles }),
      newRefinement('f4', 'blur', { radius: blur }),
    ],
    1,
  );
const found = (plate: Picture, empty: Picture, light: 'kept' | 'dropped') =>
  refined(wholeBody(plate, empty, light, arena), asNew, arena, null);
interface Verdict {
  edge: number;
  holes: number;
  beside: number;
}
function judge(matte: Plane, cx: number): Verdict {
  let [edges, off, body, holes, beside] = [0, 0, 0, 0, 0];
  for (let p = 0; p < W * H; p++) {
    const d = depth((p % W) + 0.5, Math.floor(p / W) + 0.5, cx),
      truth = Math.min(1, Math.max(0, d / 2 + 0.5)),
      m = matte.data[p]!;
    if (Math.abs(d) <= 6) {
      edges++;
      off += Math.abs(m - truth);
    } else if (d > 0) {
      body++;
      if (m < 0.5) holes++;
    } else if (m > 0.5) beside++;
  }
  return { edge: off / edges, holes: (100 * holes) / body, beside: (100 * beside) / (W * H) };
}
const words = ({ edge, holes, beside }: Verdict) => `edge ${edge.toFixed(3)}, holes ${holes.toFixed(2)} %, beside ${beside.toFixed(3)} %`;

test.each([
  ['that leans towards the street by a third, 3 % brighter', { cx: 150, leans: 0.33, light: 1.03 }],
  ['that leans towards it by more than a third, 3 % darker', { cx: 300, leans: 0.36, light: 0.97 }],
  ['whose colours are its own', { cx: 230, leans: 0 }],
])('a body %s, with a soft shadow under grain: whole, with its edge, and nothing beside', (_, scene) => {
  const plate = filmed(scene),
    empty = clean(),
    whole = found(plate, empty, 'dropped'),
    pixels = refined(differenceMatte(plate, empty, { threshold: 5, softness: 3, smooth: 3, shadow: 'dropped' }, arena), asNew, arena, null),
    verdict = judge(whole, scene.cx),
    before = judge(pixels, scene.cx);
  console.info(`the whole body: ${words(verdict)}; by pixels: ${words(before)}`);
  expect(verdict.edge).toBeLessThan(0.09);
  expect(verdict.holes).toBeLessThan(2);
  expect(verdict.beside).toBeLessThan(0.3);
  for (const plane of [whole, pixels]) arena.give(plane);
  for (const picture of [plate, empty]) arena.give(picture);
});

test('a lamp in the hand lights the street in its own colour, several times as bright: that is no body, and the body keeps its edge', () => {
  const scene = { cx: 200, leans: 0, grain: 2, shadow: 0, lamp: 2.5 },
    plate = filmed(scene),
    empty = clean(true),
    whole = found(plate, empty, 'dropped'),
    kept = found(plate, empty, 'kept'),
    verdict = judge(whole, scene.cx);
  console.info(`beside a lamp: ${words(verdict)}; with its light kept: ${words(judge(kept, scene.cx))}`);
  expect(judge(kept, scene.cx).beside).toBeGreaterThan(5);
  expect(verdict.beside).toBeLessThan(0.3);
  expect(verdict.edge).toBeLessThan(0.09);
  expect(verdict.holes).toBeLessThan(2);
  for (const plane of [whole, kept]) arena.give(plane);
  for (const picture of [plate, empty]) arena.give(picture);
});

test.each([
  ['warm and bright', [170, 130, 80]],
  ['dark', [40, 35, 50]],
  ['blue', [80, 90, 150]],
])('a body out of focus before a plain wall, %s, begins as softly as light does, and is whole all the same', (_, colour) => {
  const scene = (there: boolean, seed: number): Picture => {
    const out = arena.takePicture(W, H);
    for (let p = 0; p < W * H; p++) {
      const x = p % W,
        y = Math.floor(p / W),
        // An edge of about 40 px.
        a = there ? 1 / (1 + Math.exp(-deep(x, y) / 6)) : 0;
      for (let c = 0; c < 3; c++) {
        const code = (90 + (20 * x) / W) * (1 - a) + (colour[c]! + 8 * Math.sin(x / 5) * Math.cos(y / 7)) * a + 3 * normal(p, seed, c),
          v = Math.max(0, Math.min(255, Math.round(code))) / 255;
        out.data[4 * p + c] = v * v;
      }
      out.data[4 * p + 3] = 1;
    }
    return out;
  };
  const deep = (x: number, y: number) => 80 - hypot(x - 240, 0.6 * (y - 160)),
    [plate, empty] = [scene(true, 1), scene(false, 2)],
    whole = found(plate, empty, 'dropped');
  let [body, holes] = [0, 0];
  for (let p = 0; p < W * H; p++)
    if (deep(p % W, Math.floor(p / W)) > 8) {
      body++;
      if (whole.data[p]! < 0.5) holes++;
    }
  expect(holes / body).toBeLessThan(0.01);
  for (const one of [plate, empty]) arena.give(one);
  arena.give(whole);
});

test.each([
  ['dark', [30, 25, 40], 0.17],
  ['bright', [210, 205, 190], 0.26],
])('a %s body before a wall of middle brightness is no wider than it is', (_, colour, most) => {
  const deep = (x: number, y: number) => 80 - hypot(x - 240, 0.6 * (y - 160)),
    covers = (x: number, y: number) => 1 / (1 + Math.exp(-deep(x, y) / 1.8)),
    scene = (there: boolean, seed: number): Picture => {
      const out = arena.takePicture(W, H);
      for (let p = 0; p < W * H; p++) {
        const x = p % W,
          y = Math.floor(p / W),
          a = there ? covers(x, y) : 0;
        for (let c = 0; c < 3; c++) {
          const wall = 60 + 50 * noise(x, y, 40, 1) + 40 * noise(x, y, 7, 2) + 25 * noise(x, y, 3, 3 + c),
            own = colour[c]! + 25 * (noise(x, y, 18, 9) - 0.5),
            v = Math.max(0, Math.min(255, Math.round(wall * (1 - a) + own * a + 3 * normal(p, seed, c)))) / 255;
          out.data[4 * p + c] = v * v;
        }
        out.data[4 * p + 3] = 1;
      }
      return out;
    },
    [plate, empty] = [scene(true, 1), scene(false, 2)],
    whole = wholeBody(plate, empty, 'dropped', arena);
  let [off, edges] = [0, 0];
  for (let p = 0; p < W * H; p++) {
    const truth = covers(p % W, Math.floor(p / W));
    if (truth < 0.02 || truth > 0.98) continue;
    edges++;
    off += Math.abs(whole.data[p]! - truth);
  }
  console.info(`of partly covered pixels the matte is off by ${(off / edges).toFixed(3)}`);
  expect(off / edges).toBeLessThan(most);
  for (const one of [plate, empty]) arena.give(one);
  arena.give(whole);
});

test('light that changed over all of the picture is no body; a frame of the street alone is empty', () => {
  for (const light of [0.9, 1, 1.12]) {
    const plate = filmed({ cx: -999, leans: 0, light, frame: 5 }),
      empty = clean(),
      whole = found(plate, empty, 'dropped');
    expect(whole.data.reduce((n, v) => n + v, 0)).toBeLessThan(0.0005 * W * H);
    arena.give(whole);
    for (const picture of [plate, empty]) arena.give(picture);
  }
});

test('a shadow is kept where that is wanted', () => {
  const plate = filmed({ cx: 230, leans: 0, shadow: 0.5 }),
    empty = clean(),
    area = (light: 'kept' | 'dropped') => {
      const whole = found(plate, empty, light),
        sum = whole.data.reduce((n, v) => n + v, 0);
      arena.give(whole);
      return sum;
    };
  expect(area('kept')).toBeGreaterThan(1.15 * area('dropped'));
  for (const picture of [plate, empty]) arena.give(picture);
});

test('the edge of a body that stands still stands still: from frame to frame it moves less than 0.3 px', () => {
  const empty = clean(),
    mattes = [1, 2, 3].map((frame) => {
      const plate = filmed({ cx: 230, leans: 0.3, frame }),
        whole = found(plate, empty, 'dropped'),
        data = Float32Array.from(whole.data);
      arena.give(whole);
      arena.give(plate);
      return data;
    });
  let [moved, edges] = [0, 0];
  for (let p = 0; p < W * H; p++) {
    const d = depth((p % W) + 0.5, Math.floor(p / W) + 0.5, 230);
    if (Math.abs(d) > 8) continue;
    // Sixteen pixels lie across each pixel of the edge's length.
    edges += 1 / 16;
    moved += (Math.abs(mattes[1]![p]! - mattes[0]![p]!) + Math.abs(mattes[2]![p]! - mattes[1]![p]!)) / 2;
  }
  console.info(`edge moves by ${(moved / edges).toFixed(2)} px`);
  expect(moved / edges).toBeLessThan(0.3);
  arena.give(empty);
});
