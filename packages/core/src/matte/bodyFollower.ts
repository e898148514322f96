import { atan2, cos, hypot, PI, sin } from '../image/exactMath';
import type { Plane } from '../image/picture';
import { corner, type Vertex } from './vertex';

/** A body on a frame of its clip, in the clip's pixels. */
export interface FollowedBody {
  frame: number;
  /** Pixels that it covers; 0 where it is not there. */
  area: number;
  middle: [number, number];
  /** Left, top, right, bottom; null where it is not there. */
  box: [number, number, number, number] | null;
  /** Loosely around it, each vertex in its own direction from the middle: kept inside, it leaves out everybody else. */
  around: Vertex[];
  /** How sure it is that this is the body and all of it, 0..1. */
  sure: number;
  /** It reaches out of the picture at a side and is wider than tall: light that it throws, or water that moves, is probably taken with it. */
  spreads: boolean;
}

/** Directions in which the outline around a body has its vertices. */
const SIDES = 24;
/** Room around a body, a share of its height, and pixels at the least. */
const ROOM = 0.04,
  LEAST_ROOM = 6;
/** How far from where it was pressed a body may be, a share of the picture's width. */
const NEAR = 0.03;
/** The smallest body, pixels of the small matte. */
const SMALLEST = 30;
/** How much larger than usual what hangs together may be before it is more than one body, and how small it may be. */
const LARGER = 1.35,
  SMALLER = 0.5;
/** How large another one is at the least, against it; and frames after which whoever hangs on it belongs to it. */
const OTHER = 0.25,
  JOINED = 30;
/** Small pixels by which parts of a body may be apart. */
const APART = 3;
/** The share of a body's height that is feet and what they stand on. */
const FEET = 0.15;
/** The share of the picture above which what hangs together is no body, and by how much wider than tall it is where it spreads; how sure that is. */
const FILLS = 0.4,
  WIDE = 1.2,
  SPREAD_SURE = 0.3;
/** By how much a body's limbs may reach beyond where all of it went, a share of its height. */
const REACHES = 0.08;

/** By how much a frame's codes are brighter than its clean plate's, of 1, at the least, where light falls. */
const BRIGHTER = 0.012;
/** Where a frame is brighter than its clean plate (1, else 0), at a smaller size: light that is thrown there, or a bright body. @param factor how many times smaller. */
export function brighterThan(frame: Plane, clean: Plane, factor: number): Plane {
  const [width, height] = [Math.ceil(frame.width / factor), Math.ceil(frame.height / factor)],
    out: Plane = { kind: 'plane', width, height, data: new Float32Array(width * height) };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let [more, n] = [0, 0];
      for (let j = y * factor; j < Math.min(frame.height, (y + 1) * factor); j++)
        for (let i = x * factor; i < Math.min(frame.width, (x + 1) * factor); i++, n++)
          more += frame.data[j * frame.width + i]! - clean.data[j * frame.width + i]!;
      if (more > BRIGHTER * n) out.data[y * width + x] = 1;
    }
  return out;
}

interface Region {
  pixels: Int32Array;
  middle: [number, number];
  box: [number, number, number, number];
}

/**
 * Follows one body through the mattes of all that is not the clean plate: what hangs together, is where the body would be on its way, and is about as much
 * as before. Where others touch or cross it, only what lies where it would be is taken, and that it is less sure is said.
 */
export class BodyFollower {
  private region: Region | null = null;
  private speed: [number, number] = [0, 0];
  /** Where the middle is, and how much is usual, small pixels. */
  private middle: [number, number] = [0, 0];
  private usual = 0;
  private missing = 0;
  /** Frames for which others have hung on it. */
  private joined = 0;
  private readonly columns: number;
  /** How far it reached in each direction, small pixels, with its room. */
  private reach: number[] = [];

  /**
   * @param factor how many times smaller the mattes are than the clip. @param first the matte of the frame on which it was pressed.
   * @param at where it was pressed, pixels of the clip. @throws an Error for people where there is nothing.
   */
  constructor(
    private readonly factor: number,
    first: Plane,
    at: readonly [number, number],
  ) {
    const all = regionsOf(first),
      p: [number, number] = [at[0] / factor, at[1] / factor];
    let best: Region | null = null,
      least = NEAR * first.width;
    for (const region of all) {
      for (const q of region.pixels) {
        const d = hypot((q % first.width) + 0.5 - p[0], Math.floor(q / first.width) + 0.5 - p[1]);
        // Of two that are as near the larger one is meant.
        if (d < least - 1e-9) [best, least] = [region, d];
      }
    }
    if (!best)
      throw new Error(
        'Nothing stands before the clean plate there. Press in the middle of the body, on a frame that shows it whole, or build the clean plate again from more frames.',
      );
    const share = best.pixels.length / (first.width * first.height);
    if (share > FILLS)
      throw new Error(
        `What differs from the clean plate there is ${Math.round(100 * share)} % of the picture, more than a body: its surroundings move, or their light changes. Make a Difference matte, draw a loose outline around the body that keeps only inside, and carry it on.`,
      );
    this.columns = first.width;
    this.region = best;
    this.middle = best.middle;
    this.usual = best.pixels.length;
  }
  /**
   * The share of the body's upper part, as it was found last, that the matte without shadow lacks, in the columns in which the body stands there. Its feet, where its shadow begins, are left out, and what is
   * brighter than the clean plate: light that it throws.
   * @param own the body in the matte of the same frame without shadow. @param dropped that matte. @param brighter 1 where the frame is brighter than the clean plate, else 0; null where nobody knows.
   */
  lostWith(own: BodyFollower, dropped: Plane, brighter: Plane | null): number {
    const { region } = this;
    if (!region || !own.region) return 1;
    const [left, , right] = own.region.box,
      bottom = region.box[3] - FEET * (region.box[3] - region.box[1]);
    let [held, lost] = [0, 0];
    for (const q of region.pixels) {
      const x = q % dropped.width;
      if (x < left || x >= right || q >= bottom * dropped.width) continue;
      if (dropped.data[q]! > 0.5) held++;
      else if (!brighter?.data[q]) lost++;
    }
    return lost / Math.max(1, held + lost);
  }

  /** Finds it in the first matte once more, then in one after the other, in either direction of time; another follower goes the other way. */
  at(matte: Plane, frame: number): FollowedBody {
    const { width } = matte,
      expected: [number, number] = [this.middle[0] + this.speed[0], this.middle[1] + this.speed[1]],
      there = this.expectedMask(matte),
      height = this.region ? this.region.box[3] - this.region.box[1] : 0;
    let all = 0,
      near = 0;
    const parts: number[][] = [];
    for (const region of regionsOf(matte)) {
      if (region.pixels.length > OTHER * this.usual && this.isNear(region, expected)) near++;
      const inside = region.pixels.filter((q) => there[q]);
      if (!inside.length) continue;
      // What lies mostly where it would be is all its own.
      parts.push([...(inside.length > 0.5 * region.pixels.length ? region.pixels : inside)]);
      all += region.pixels.length;
    }
    let pixels = together(parts, width);
    // Those who are one before the other look like one: they are apart again when two are seen.
    const alone = all <= LARGER * this.usual && (!this.joined || near > 1 || this.joined > JOINED);
    if (!alone && pixels.length > LARGER * this.usual) pixels = pixels.filter((q) => there[q]);
    if (pixels.length < Math.max(SMALLEST / 4, 0.05 * this.usual)) {
      this.missing++;
      this.middle = expected;
      if (this.missing > 6) this.speed = [this.speed[0] * 0.8, this.speed[1] * 0.8];
      return {
        frame,
        area: 0,
        middle: this.whole(expected),
        box: null,
        around: this.around(null, expected, height),
        sure: 0,
        spreads: false,
      };
    }
    const region = regionOf(Int32Array.from(pixels), width),
      share = region.pixels.length / this.usual,
      [l, t, r, b] = region.box,
      spreads = (l === 0 || r === width) && r - l > WIDE * (b - t),
      known = this.missing ? 0.5 : alone ? Math.min(1, share / SMALLER) : 0.4,
      sure = spreads ? Math.min(SPREAD_SURE, known) : known;
    this.joined = alone ? 0 : this.joined + 1;
    if (alone || this.missing) {
      const go = 0.5;
      this.speed = [
        this.speed[0] + go * (region.middle[0] - this.middle[0] - this.speed[0]),
        this.speed[1] + go * (region.middle[1] - this.middle[1] - this.speed[1]),
      ];
      this.middle = region.middle;
      if (share > SMALLER) this.usual += 0.1 * (region.pixels.length - this.usual);
      this.region = region;
    } else {
      // Others hang on it: it goes on as it went, as it looked before.
      this.region = shifted(this.region!, [expected[0] - this.middle[0], expected[1] - this.middle[1]], matte);
      this.middle = expected;
    }
    this.missing = 0;
    const f = this.factor;
    return {
      ...{ frame, sure, spreads, area: region.pixels.length * f * f, middle: this.whole(this.middle) },
      box: [l * f, t * f, r * f, b * f],
      around: this.around(region, this.middle, b - t),
    };
  }
  /** Whether something is so near that it may be who crossed. */
  private isNear({ box }: Region, [x, y]: readonly [number, number]): boolean {
    const [l, t, r, b] = this.region?.box ?? [x, y, x, y],
      [w, h] = [r - l, b - t];
    return box[0] < x + 1.5 * w && box[2] > x - 1.5 * w && box[1] < y + h && box[3] > y - h;
  }
  private whole([x, y]: readonly [number, number]): [number, number] {
    return [x * this.factor, y * this.factor];
  }

  /** Where it would be: as it was, moved on, with room for limbs. */
  private expectedMask({ width, height }: Plane): Uint8Array {
    const mask = new Uint8Array(width * height),
      { region } = this;
    if (!region) return mask;
    const room = Math.ceil(2 + REACHES * (region.box[3] - region.box[1]) + hypot(...this.speed) * 0.5 + Math.min(12, 2 * this.missing)),
      [dx, dy] = [
        Math.round(this.middle[0] + this.speed[0] - region.middle[0]),
        Math.round(this.middle[1] + this.speed[1] - region.middle[1]),
      ];
    // Grown across, then down: a square of room to every side.
    const rows = new Uint8Array(width * height);
    for (const q of region.pixels) {
      const x = (q % width) + dx,
        y = Math.floor(q / width) + dy;
      if (y < 0 || y >= height) continue;
      rows.fill(1, y * width + Math.max(0, Math.min(width, x - room)), y * width + Math.max(0, Math.min(width, x + room + 1)));
    }
    for (let x = 0; x < width; x++) {
      let last = -Infinity;
      const next = new Int32Array(height).fill(1e9);
      for (let y = height - 1, n = 1e9; y >= 0; y--) next[y] = n = rows[y * width + x] ? y : n;
      for (let y = 0; y < height; y++) {
        if (rows[y * width + x]) last = y;
        if (y - last <= room || next[y]! - y <= room) mask[y * width + x] = 1;
      }
    }
    return mask;
  }

  /** The loose outline around a region; where there is none, around where it was last. */
  private around(region: Region | null, middle: readonly [number, number], height: number): Vertex[] {
    const f = this.factor;
    if (region) {
      const reach = new Array<number>(SIDES).fill(0),
        room = Math.max(LEAST_ROOM / f, ROOM * height);
      for (const q of region.pixels) {
        const x = (q % this.columns) + 0.5 - middle[0],
          y = Math.floor(q / this.columns) + 0.5 - middle[1],
          d = hypot(x, y),
          side = ((atan2(y, x) / (2 * PI)) * SIDES + SIDES) % SIDES,
          at = Math.floor(side);
        // It counts for both directions that it lies between.
        reach[at] = Math.max(reach[at]!, d);
        reach[(at + 1) % SIDES] = Math.max(reach[(at + 1) % SIDES]!, d);
      }
      this.reach = reach.map((r) => r + room);
    }
    return this.reach.map((r, i) => {
      const a = (2 * PI * i) / SIDES,
        // Straight from vertex to vertex it must still pass outside of what lies between.
        out = r / cos(PI / SIDES);
      return corner((middle[0] + out * cos(a)) * f, (middle[1] + out * sin(a)) * f);
    });
  }
}

function regionOf(pixels: Int32Array, width: number): Region {
  let [sx, sy] = [0, 0],
    [l, t, r, b] = [Infinity, Infinity, 0, 0];
  for (const q of pixels) {
    const x = q % width,
      y = Math.floor(q / width);
    sx += x + 0.5;
    sy += y + 0.5;
    l = Math.min(l, x);
    t = Math.min(t, y);
    r = Math.max(r, x + 1);
    b = Math.max(b, y + 1);
  }
  return { pixels, middle: [sx / pixels.length, sy / pixels.length], box: [l, t, r, b] };
}
/** The largest part, and those that are hardly apart from it: a hand behind a rail, a lantern; not another one who stands beside. */
function together(parts: readonly number[][], width: number): number[] {
  const [largest, ...others] = [...parts].sort((a, b) => b.length - a.length);
  if (!largest) return [];
  const all = [...largest],
    main = new Set(largest);
  for (const part of others) {
    const touches = part.some((q) => {
      for (let j = -APART; j <= APART; j++) for (let i = -APART; i <= APART; i++) if (main.has(q + j * width + i)) return true;
      return false;
    });
    if (touches) all.push(...part);
  }
  return all;
}
/** What hangs together in a matte (more than half, eight neighbours), the smallest left out. */
function regionsOf({ data, width, height }: Plane): Region[] {
  const seen = new Uint8Array(width * height),
    out: Region[] = [],
    stack: number[] = [];
  for (let first = 0; first < seen.length; first++) {
    if (seen[first] || data[first]! <= 0.5) continue;
    const pixels: number[] = [];
    stack.push(first);
    seen[first] = 1;
    while (stack.length) {
      const p = stack.pop()!,
        x = p % width,
        y = (p - x) / width;
      pixels.push(p);
      for (let j = Math.max(0, y - 1); j <= Math.min(height - 1, y + 1); j++)
        for (let i = Math.max(0, x - 1); i <= Math.min(width - 1, x + 1); i++) {
          const q = j * width + i;
          if (!seen[q] && data[q]! > 0.5) {
            seen[q] = 1;
            stack.push(q);
          }
        }
    }
    if (pixels.length >= SMALLEST) out.push(regionOf(Int32Array.from(pixels), width));
  }
  return out;
}
/** A region moved, as far as it stays in the picture. */
function shifted(region: Region, by: readonly [number, number], { width, height }: Plane): Region {
  const [dx, dy] = [Math.round(by[0]), Math.round(by[1])],
    pixels = region.pixels.map((q) => {
      const x = (q % width) + dx,
        y = Math.floor(q / width) + dy;
      return x < 0 || y < 0 || x >= width || y >= height ? -1 : y * width + x;
    });
  const left = pixels.filter((q) => q >= 0);
  return left.length ? { ...regionOf(left, width), middle: [region.middle[0] + dx, region.middle[1] + dy] } : region;
}
