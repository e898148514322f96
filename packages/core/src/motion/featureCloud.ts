import { hypot } from '../image/exactMath';
import type { Plane } from '../image/picture';
import { solved } from '../image/solve';
import { FollowedWindow } from './flow';
import { grainOf } from './noise';
import { partOf, type Part } from './part';
import { featuresOf } from './planeFeatures';
import { moved, type Similarity } from './similarity';

type Point = readonly [number, number];
/** Side of the window around each feature, pixels, and how often the picture is halved. */
const WINDOW = 13,
  LEVELS = 2;
/** Steps of a follow, and pixels at which one is done: on the way to the finest picture, and on it. */
const STEPS = 10,
  NEARLY = 0.05,
  ENOUGH = 0.01;
/** Share of its structure by which a window that says little is held where it would be. */
const HELD = 0.01;
/** How unlike its look a feature may be and still be itself, of about 1. */
const UNLIKE = 0.6;

/** Where a feature of the first picture is in another one. */
export interface FeatureMatch {
  own: Point;
  at: Point;
  /** 1 where it looks as it did, 0 where it is something else. */
  like: number;
}

/** How a step of the first picture goes on another: [x by x, y by x, x by y, y by y]. */
export type Linear = readonly [number, number, number, number];
function inverse([xx, yx, xy, yy]: Linear): Linear {
  const d = xx * yy - xy * yx;
  return d > 0.05 ? [yy / d, -yx / d, -xy / d, xx / d] : [1, 0, 0, 1];
}

/**
 * Features of a part of one picture, followed into others: each is looked for as it looked at first, turned and sized as the whole has turned and grown
 * since, so that nothing drifts from frame to frame (Lucas and Kanade's way, whatever the light).
 */
export class FeatureCloud {
  private readonly part: Part | null;
  private readonly window = new FollowedWindow(WINDOW);
  private readonly noise: number;
  readonly places: readonly Point[];

  /**
   * @param box left, top, right, bottom of what is followed, pixels of `first`. @param belongs which places of it may be features.
   * @param most how many features there are at the most.
   */
  constructor(first: Plane, box: readonly [number, number, number, number], belongs: (p: Point) => boolean, most: number) {
    const [left, top, right, bottom] = box,
      room = WINDOW << LEVELS;
    this.part = partOf(first, [left - room, top - room, right + room, bottom + room], LEVELS, WINDOW);
    const grain = grainOf(first, (left + right) / 2, (top + bottom) / 2, Math.ceil(Math.max(right - left, bottom - top) / 2));
    this.noise = grain * grain;
    const [w, h] = [Math.max(1, right - left) / 6, Math.max(1, bottom - top) / 6];
    this.places = this.part
      ? featuresOf(this.part, [1 / w, 0, -left / w, 0, 1 / h, -top / h, 0, 0, 1], this.noise, WINDOW, 6 * most)
          .filter(belongs)
          .slice(0, most)
      : [];
  }

  /** Looks for all features in another picture. @param expected where each of them would be, from its own place, and how what is about it has turned, grown and slanted. */
  follow(plane: Plane, expected: (own: Point) => { at: Point; linear: Linear }): FeatureMatch[] {
    const { part } = this;
    if (!part || !this.places.length) return [];
    const guesses = this.places.map(expected),
      xs = guesses.map((g) => g.at[0]),
      ys = guesses.map((g) => g.at[1]),
      room = WINDOW << LEVELS,
      to = partOf(plane, [Math.min(...xs) - room, Math.min(...ys) - room, Math.max(...xs) + room, Math.max(...ys) + room], LEVELS, WINDOW);
    if (!to) return [];
    const levels = Math.min(part.planes.length, to.planes.length),
      out: FeatureMatch[] = [];
    this.places.forEach((own, i) => {
      const { at: guess, linear } = guesses[i]!,
        view = inverse(linear);
      let [x, y, unlike] = [guess[0], guess[1], 1];
      for (let level = levels - 1; level >= 0; level--) {
        const s = 1 / (1 << level);
        this.window.at(part.planes[level]!, (own[0] - part.left) * s, (own[1] - part.top) * s, view);
        this.window.stand((guess[0] - to.left) * s, (guess[1] - to.top) * s);
        const [sx, sy, differs] = this.window.followLit(
          to.planes[level]!,
          (x - guess[0]) * s,
          (y - guess[1]) * s,
          level ? NEARLY : ENOUGH,
          STEPS,
          HELD,
          this.noise * s * s,
        );
        [x, y, unlike] = [guess[0] + sx / s, guess[1] + sy / s, differs];
      }
      const inside = x > to.left && y > to.top && x < to.left + to.planes[0]!.width && y < to.top + to.planes[0]!.height;
      out.push({ own, at: [x, y], like: inside ? Math.max(0, 1 - (unlike / UNLIKE) * (unlike / UNLIKE)) : 0 });
    });
    return out;
  }
}

/** What says where something is: a place that came to another, or one that only says how far along a direction. */
export type Says = { own: Point; at: Point; weight: number } | { own: Point; at: Point; along: Point; weight: number };

/**
 * The similarity nearest to a first one that what is said agrees with, by weighted least squares; places say both directions, edges the one across them.
 * @param held how strongly it is held at the first one, in places.
 */
export function similarityNear(first: Similarity, says: readonly Says[], middle: Point, held: number): Similarity {
  // Unknown: a shift, a turn and a growth about the middle. Rows of the normal equations, and their right side.
  const A = new Float64Array(16),
    b = new Float64Array(4),
    [mx, my] = moved(first, middle);
  let size = 1;
  for (const s of says) size = Math.max(size, hypot(s.own[0] - middle[0], s.own[1] - middle[1]));
  const add = (row: readonly number[], off: number, w: number) => {
    for (let i = 0; i < 4; i++) {
      b[i]! += w * row[i]! * off;
      for (let j = 0; j < 4; j++) A[4 * i + j]! += w * row[i]! * row[j]!;
    }
  };
  for (const s of says) {
    const [x, y] = moved(first, s.own),
      [u, v] = [x - mx, y - my],
      off: Point = [s.at[0] - x, s.at[1] - y];
    if ('along' in s) {
      const [nx, ny] = s.along;
      add([nx, ny, nx * -v + ny * u, nx * u + ny * v], nx * off[0] + ny * off[1], s.weight);
    } else {
      add([1, 0, -v, u], off[0], s.weight);
      add([0, 1, u, v], off[1], s.weight);
    }
  }
  add([1, 0, 0, 0], 0, held);
  add([0, 1, 0, 0], 0, held);
  add([0, 0, size, 0], 0, held);
  add([0, 0, 0, size], 0, held);
  const [dx, dy, turn, grow] = solved(A, b, 4) ?? [0, 0, 0, 0],
    // (1 + grow) and turn as one complex factor about the middle.
    re = 1 + grow!,
    im = turn!,
    a = re * first.a - im * first.b,
    c = im * first.a + re * first.b;
  return { a, b: c, x: mx + dx! - (a * middle[0] - c * middle[1]), y: my + dy! - (c * middle[0] + a * middle[1]) };
}
