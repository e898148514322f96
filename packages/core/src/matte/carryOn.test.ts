import { exactMath, normal, uniform } from '../image';
import { newPlane, type Plane } from '../image/picture';
import { OutlineCarrier, type CarriedShape } from './carryOn';
import { insideOf } from './inside';
import { corner, type Vertex } from './vertex';

const { cos, radians, sin } = exactMath;
type Point = readonly [number, number];
const unit = uniform;
const WIDTH = 330,
  HEIGHT = 260;

/** Smooth noise of one size, 0..1. */
function noise(x: number, y: number, size: number, seed: number): number {
  const u = x / size,
    v = y / size,
    i = Math.floor(u),
    j = Math.floor(v),
    s = (t: number) => t * t * (3 - 2 * t),
    at = (a: number, b: number) => unit(i + a, j + b, seed),
    [p, q] = [s(u - i), s(v - j)];
  return (at(0, 0) * (1 - p) + at(1, 0) * p) * (1 - q) + (at(0, 1) * (1 - p) + at(1, 1) * p) * q;
}
const cloth = (x: number, y: number) => 0.3 + 0.25 * noise(x, y, 9, 1) + 0.15 * noise(x, y, 4, 2),
  street = (x: number, y: number) => 0.15 + 0.3 * noise(x, y, 14, 5) + 0.25 * noise(x, y, 6, 6);

/** A body as the test draws it: where a place of it is on a frame, and where a place of the picture is on it. */
interface Body {
  shape: Vertex[];
  /** From the body's own places to the picture. */
  to(p: Point, frame: number): Point;
  back(p: Point, frame: number): Point;
  look(x: number, y: number): number;
}
/** A rounded body of 20 points. */
const blob: Vertex[] = Array.from({ length: 20 }, (_, i) => {
  const a = (i / 20) * 2 * Math.PI,
    r = 56 + 12 * sin(3 * a + 1);
  return corner(r * cos(a), 0.9 * r * sin(a));
});
/** It goes, turns by 2.5 degrees and grows by 1 % a frame. */
const turning = (look = cloth): Body => {
  const pose = (f: number) => {
    const a = radians(2.5 * f),
      k = 1 + 0.011 * f;
    return { c: k * cos(a), s: k * sin(a), x: 110 + 3 * f, y: 112 + 1.2 * f };
  };
  return {
    shape: blob,
    look,
    to([x, y], f) {
      const { c, s, x: px, y: py } = pose(f);
      return [px + c * x - s * y, py + s * x + c * y];
    },
    back([x, y], f) {
      const { c, s, x: px, y: py } = pose(f),
        k = c * c + s * s,
        u = x - px,
        v = y - py;
      return [(c * u + s * v) / k, (c * v - s * u) / k];
    },
  };
};
/** A tall body whose lower half swings like legs: sheared more and more from its middle downwards. */
const swinging: Body = (() => {
  const by = (y: number, f: number) => (y > 0 ? 0.3 * sin(f / 5) * y : 0),
    x0 = (f: number) => 70 + 5 * f;
  return {
    shape: [
      corner(-26, -80),
      corner(0, -92),
      corner(26, -80),
      corner(30, -40),
      corner(28, 0),
      corner(26, 40),
      corner(24, 85),
      corner(-24, 85),
      corner(-26, 40),
      corner(-28, 0),
      corner(-30, -40),
    ],
    look: cloth,
    to: ([x, y], f) => [x + x0(f) + by(y, f), y + 130],
    back: ([x, y], f) => [x - x0(f) - by(y - 130, f), y - 130],
  };
})();

function draw(body: Body, frame: number, { grain = 4, bar = false, light = 1 } = {}): Plane {
  const plane = newPlane(WIDTH, HEIGHT),
    within = insideOf(body.shape);
  for (let y = 0, p = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, p++) {
      let v = 0;
      // Two samples a pixel, so that edges are soft as filmed ones.
      for (const [u, w] of [
        [0.25, 0.3],
        [0.75, 0.7],
      ] as const) {
        const own = body.back([x + u, y + w], frame);
        v += within(own) ? body.look(own[0] + 500, own[1] + 500) : street(x + u, y + w);
      }
      v /= 2;
      // A post that crosses from the right.
      if (bar && Math.abs(x - (290 - 8 * frame)) < 15) v = 0.08 + 0.1 * noise(x, y, 5, 9);
      plane.data[p] = v * light + (grain / 255) * normal(p, frame, 3);
    }
  return plane;
}
const standsAt = (body: Body, f: number): Vertex[] => body.shape.map((v) => corner(...(body.to([v.x, v.y], f) as [number, number])));

function run(
  body: Body,
  frames: number,
  options: Parameters<typeof draw>[2] = {},
): { errors: number[]; last: CarriedShape; all: CarriedShape[] } {
  const carrier = new OutlineCarrier(draw(body, 0, options), 0, standsAt(body, 0)),
    errors: number[] = [],
    all: CarriedShape[] = [];
  for (let f = 1; f <= frames; f++) {
    const shape = carrier.step(draw(body, f, options), f);
    all.push(shape);
    const truth = standsAt(body, f);
    errors.push(shape.vertices.reduce((sum, v, i) => sum + Math.hypot(v.x - truth[i]!.x, v.y - truth[i]!.y), 0) / truth.length);
  }
  return { errors, last: all.at(-1)!, all };
}
const mean = (of: readonly number[]) => of.reduce((a, b) => a + b, 0) / of.length;

describe('an outline is carried on', () => {
  test('over 24 frames of a body that goes, turns and grows, under grain', () => {
    const { errors, last } = run(turning(), 24);
    console.info(`goes, turns and grows: ${mean(errors).toFixed(2)} px, at the most ${Math.max(...errors).toFixed(2)}`);
    expect(mean(errors)).toBeLessThan(1);
    expect(Math.min(...last.sure)).toBeGreaterThan(0.6);
  });
  test('while a post crosses it: what is covered goes with the whole, and says that it is less sure', () => {
    const { errors, all } = run(turning(), 24, { bar: true });
    console.info(`a post crosses: ${mean(errors).toFixed(2)} px, at the most ${Math.max(...errors).toFixed(2)}`);
    // The post stands before it about the middle of its way.
    expect(Math.min(...all[13]!.sure)).toBeLessThan(0.3);
    expect(Math.min(...all[0]!.sure)).toBeGreaterThan(0.7);
    expect(mean(errors)).toBeLessThan(1.5);
  });
  test('of a body without any texture, by its edge alone', () => {
    const { errors } = run(
      turning(() => 0.75),
      24,
    );
    console.info(`without texture: ${mean(errors).toFixed(2)} px, at the most ${Math.max(...errors).toFixed(2)}`);
    expect(mean(errors)).toBeLessThan(1.5);
  });
  test('with legs that swing', () => {
    const { errors } = run(swinging, 24);
    console.info(`legs that swing: ${mean(errors).toFixed(2)} px, at the most ${Math.max(...errors).toFixed(2)}`);
    expect(mean(errors)).toBeLessThan(1.5);
  });
});
