import { hypot, PI } from '../image/exactMath';
import type { Plane } from '../image/picture';
import { FollowedWindow } from './flow';
import { partOf, type Part } from './part';
import type { TrackSample } from './pointTracker';
import { agreedSimilarity, moved, movedBack, sizeOf, turnOf, type Similarity } from './similarity';

/** Side of the window around each feature, pixels, and how often the picture is halved: it is found up to half a window away at the coarsest. */
const WINDOW = 15,
  LEVELS = 3;
/** Features that are followed at a time, how far apart they are, and how few of them call for more. */
const FEATURES = 60,
  APART = 6,
  FEW = 0.6;
/** How strong a feature has to be against the strongest of its area. */
const STRONG = 0.02;
/** Pixels by which a feature may be off the motion of all; for cloth, that share of the area's side more. */
const WITHIN = 1,
  GIVES = 0.03;
/** Features that must agree for the motion to be sure, and to be known at all; and which share of them. */
const SURE = 8,
  KNOWN = 4,
  SHARE = 0.5,
  SOME = 0.25;
/** How far from its way, pixels, and by how much more with its speed, an area is taken to be where only few features say so. */
const BESIDE = 3,
  BESIDE_SPEED = 0.2;
/** A feature's look is taken anew when the area has turned (radians) or grown by so much since, or when it no longer fits. */
const TURNED = 0.14,
  GROWN = 0.1;
/** A feature that went its own way so many frames in a row is let go, where most others agree. */
const ASTRAY = 4,
  MOSTLY = 0.75;
/** What a feature may differ by against what is usual for all, and at the least, of 1. */
const DIFFERS = 2.5,
  DIFFERENCE = 0.03;

interface Feature {
  /** Its place in the area, as it was at the first frame. */
  own: [number, number];
  /** Its look, from the finest to the coarsest picture, and how the area was turned and sized then. */
  looks: FollowedWindow[];
  taken: Similarity;
  astray: number;
}

export interface AreaTrackerOptions {
  /** Side of the area, pixels. */
  area: number;
}

/**
 * Follows an area of a picture as a cloud of features: each is followed for itself by Lucas and Kanade's way from its look when it was taken, the motion
 * (shift, turn, size) that most of them agree with is that of the area, and what goes its own way, or is covered, has no say. So it holds on cloth that
 * folds, on faces that speak, and before a background that shows through. A feature's look is taken anew only when the area has turned or grown, so that
 * the track does not drift. While too few agree, the area goes on along its way and its features are looked for there.
 */
export class AreaTracker {
  private features: Feature[] = [];
  private map: Similarity;
  private speed = { x: 0, y: 0 };
  /** Where it was seen last. */
  private seen: Similarity;
  private lostFor = 0;
  private usual = DIFFERENCE;

  constructor(
    first: Plane,
    private readonly startFrame: number,
    private readonly at: [number, number],
    private readonly options: AreaTrackerOptions,
  ) {
    if (!(options.area >= 2 * WINDOW)) throw new RangeError(`AreaTracker: the area must be at least ${2 * WINDOW} px, not ${options.area}`);
    if (!(at[0] >= 0 && at[1] >= 0 && at[0] <= first.width && at[1] <= first.height))
      throw new RangeError(`AreaTracker: ${at[0]}, ${at[1]} lies outside the picture (${first.width} x ${first.height})`);
    this.map = { a: 1, b: 0, x: at[0], y: at[1] };
    this.seen = this.map;
    const part = this.look(first);
    if (part) this.fill(part);
  }
  get start(): TrackSample {
    return { frame: this.startFrame, x: this.at[0], y: this.at[1], rotation: 0, scale: 1, confidence: 1, state: 'keyed' };
  }

  private look(plane: Plane): Part | null {
    const { x, y } = this.map,
      reach = (this.options.area / 2) * 1.5 * sizeOf(this.map) + (WINDOW << (LEVELS - 1));
    return partOf(plane, [x - reach, y - reach, x + reach, y + reach], LEVELS, WINDOW);
  }

  /** Takes the look of a feature where it stands now. */
  private take(feature: Feature, part: Part, at: readonly [number, number]): boolean {
    const looks = part.planes.map(() => new FollowedWindow(WINDOW));
    let held = true;
    part.planes.forEach((plane, level) => {
      const k = 1 / (1 << level),
        has = looks[level]!.at(plane, (at[0] - part.left) * k, (at[1] - part.top) * k);
      if (level === 0) held = has;
    });
    Object.assign(feature, { looks, taken: this.map });
    return held;
  }

  /** Adds features where the area has none, the strongest first. */
  private fill(part: Part): void {
    const [plane] = part.planes,
      side = this.options.area * sizeOf(this.map),
      window = new FollowedWindow(7),
      found: { at: [number, number]; strength: number }[] = [],
      taken = this.features.map((f) => moved(this.map, f.own));
    for (let y = 8; y < plane!.height - 8; y += 2)
      for (let x = 8; x < plane!.width - 8; x += 2) {
        const at: [number, number] = [part.left + x + 0.5, part.top + y + 0.5],
          own = movedBack(this.map, at);
        if (Math.abs(own[0]) > this.options.area / 2 || Math.abs(own[1]) > this.options.area / 2) continue;
        window.at(plane!, x + 0.5, y + 0.5);
        found.push({ at, strength: window.strength() });
      }
    found.sort((a, b) => b.strength - a.strength || a.at[1] - b.at[1] || a.at[0] - b.at[0]);
    const least = (found[0]?.strength ?? 0) * STRONG,
      apart = Math.max(APART, side / 12);
    for (const { at, strength } of found) {
      if (this.features.length >= FEATURES || strength < least) break;
      if (taken.some((p) => hypot(p[0] - at[0], p[1] - at[1]) < apart)) continue;
      const feature: Feature = { own: movedBack(this.map, at), looks: [], taken: this.map, astray: 0 };
      if (!this.take(feature, part, at)) continue;
      this.features.push(feature);
      taken.push(at);
    }
  }

  /** Looks for the area in the next frame (in either direction of time). */
  step(plane: Plane, frame: number): TrackSample {
    const expected: Similarity = { ...this.map, x: this.map.x + this.speed.x, y: this.map.y + this.speed.y },
      before = this.map;
    this.map = expected;
    const part = this.look(plane);
    if (!part) return this.miss(frame);
    const places = this.features.map((feature) => this.follow(feature, part, expected)),
      some = places.map((p) => p.difference).sort((a, b) => a - b),
      limit = Math.max(DIFFERENCE, DIFFERS * this.usual, DIFFERS * (this.lostFor ? 0 : (some[some.length >> 2] ?? 0))),
      fitting = this.features.map((_, i) => i).filter((i) => places[i]!.difference < limit),
      within = WITHIN + GIVES * this.options.area * sizeOf(before),
      agreed = agreedSimilarity(
        fitting.map((i) => [this.features[i]!.own, places[i]!.at] as const),
        within,
        sizeOf(before),
      ),
      count = agreed ? agreed.agrees.filter(Boolean).length : 0,
      share = count / Math.max(1, this.features.length);
    const good = count >= SURE && share >= SHARE,
      off = agreed ? hypot(agreed.map.x - expected.x, agreed.map.y - expected.y) : Infinity,
      // Few agree, and what they say is where it was going; the others are covered.
      likely = this.lostFor === 0 && count >= KNOWN && share >= SOME && off < BESIDE + BESIDE_SPEED * hypot(this.speed.x, this.speed.y);
    if (!agreed || !(good || likely)) return this.miss(frame);
    const { map } = agreed;
    if (good) this.usual += 0.2 * ((some[some.length >> 1] ?? 0) - this.usual);
    if (good) this.speed = { x: (map.x - this.seen.x) / (this.lostFor + 1), y: (map.y - this.seen.y) / (this.lostFor + 1) };
    this.map = map;
    this.seen = map;
    this.lostFor = 0;
    const agreeing = new Set(fitting.filter((_, k) => agreed.agrees[k]));
    this.features.forEach((feature, i) => (feature.astray = agreeing.has(i) ? 0 : feature.astray + 1));
    if (good) this.renew(plane, share > MOSTLY);
    const confidence = Math.min(1, share * (good ? 1 : 0.75));
    return {
      frame,
      x: map.x,
      y: map.y,
      rotation: (turnOf(map) * 180) / PI,
      scale: sizeOf(map),
      confidence,
      state: good ? 'good' : 'weak',
    };
  }

  /** Where a feature went, from where it would be with the area on its way, and how unlike its look that is. */
  private follow(feature: Feature, part: Part, expected: Similarity): { at: [number, number]; difference: number } {
    const guess = moved(expected, feature.own),
      shift = (p: readonly [number, number], level: number): [number, number] => {
        const k = 1 / (1 << level);
        return [p[0] * k, p[1] * k];
      },
      levels = Math.min(part.planes.length, feature.looks.length);
    // Windows count from the corner of the part that they were taken from, which was another one.
    let by: [number, number] = [0, 0];
    for (let level = levels - 1; level >= 0; level--) {
      const look = feature.looks[level]!,
        origin = look.place,
        [gx, gy] = shift([guess[0] - part.left, guess[1] - part.top], level),
        [bx, by0] = by,
        [sx, sy] = look.follow(part.planes[level]!, gx - origin[0] + bx, gy - origin[1] + by0, level ? 0.04 : 0.01);
      by = [sx - (gx - origin[0]), sy - (gy - origin[1])];
      if (level) by = [by[0] * 2, by[1] * 2];
    }
    const at: [number, number] = [guess[0] + by[0], guess[1] + by[1]],
      inside =
        at[0] > part.left && at[1] > part.top && at[0] < part.left + part.planes[0]!.width && at[1] < part.top + part.planes[0]!.height,
      [look] = feature.looks;
    return {
      at,
      difference: inside
        ? look!.difference(part.planes[0]!, at[0] - part.left - look!.place[0], at[1] - part.top - look!.place[1])
        : Infinity,
    };
  }

  /** Lets features go that went astray, takes looks anew where the area has turned or grown, and adds features where there are few. */
  private renew(plane: Plane, open: boolean): void {
    const part = this.look(plane);
    if (!part) return;
    // Those that something covers come back, and what covers them is no part of the area.
    if (open) this.features = this.features.filter((f) => f.astray < ASTRAY);
    for (const feature of this.features) {
      const turned = Math.abs(turnOf(this.map) - turnOf(feature.taken)),
        grown = sizeOf(this.map) / sizeOf(feature.taken);
      if (feature.astray === 0 && (turned > TURNED || grown > 1 + GROWN || grown < 1 - GROWN))
        this.take(feature, part, moved(this.map, feature.own));
    }
    if (open && this.features.length < FEW * FEATURES) this.fill(part);
  }

  private miss(frame: number): TrackSample {
    this.lostFor++;
    if (this.lostFor > 12) this.speed = { x: this.speed.x * 0.9, y: this.speed.y * 0.9 };
    return {
      frame,
      x: null,
      y: null,
      rotation: (turnOf(this.map) * 180) / PI,
      scale: sizeOf(this.map),
      confidence: 0,
      state: 'lost',
    };
  }
}
