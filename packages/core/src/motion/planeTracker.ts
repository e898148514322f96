import { atan2, hypot, PI } from '../image/exactMath';
import { back, seenAt } from '../image/homography';
import type { Plane } from '../image/picture';
import type { Homography } from '../image/warp';
import { agreedHomography, isFirm, MapChange, quadToQuad, shapeOff, type Agreed, type Pair, type Quad } from './fitHomography';
import { FollowedWindow, type View } from './flow';
import type { Point } from './frame';
import { grainOf } from './noise';
import { partOf, type Part } from './part';
import { CELLS, featuresOf, saysOf, type Says } from './planeFeatures';
import type { TrackSample } from './pointTracker';
import { slopesOf } from './seen';

/** Side of the window around each feature, pixels, and how often the picture is halved. */
const WINDOW = 15,
  LEVELS = 2;
/** The halves on which the first of the features are followed, and that for all; and when a step of theirs is small enough, pixels. */
const HALVES = [2, 1],
  WHOLE = [0],
  NEARLY = 0.05,
  ENOUGH = 0.01;
/** Pixels of a look for one of the picture, above which nothing is to be seen of a feature any more. */
const STEEP = 4;
/** Features that are followed, and those of them that say first, in the halved pictures, how the whole has moved. */
const FEATURES = 110,
  SCOUTS = 36;
/** Steps of a feature, and the share of its structure that holds it to where it is expected. */
const STEPS = 12,
  HELD = 0.01;
/** Pixels by which a feature may be off the motion of all. */
const WITHIN = 1.2,
  WITHIN_FIRST = 3;
/** Features that must agree, and the share of those in the picture; with fewer it is weak, with fewer still lost. */
const SURE = 12,
  SHARE = 0.35,
  KNOWN = 8,
  SOME = 0.15;
/** Deviation of the worst corner, pixels, above which the place of a plane is not sure, and not known. */
const STEADY = 0.26,
  LOOSE = 1.5;
/** Pixels by which features are off that lie beside what hides all others. */
const DRAWN = 0.35;
/** Rounds in which all windows are taken together, the pixels that they may still move a plane by, and how unlike one may be to have a say. */
const REFINED = 4,
  FAR = 2,
  UNLIKE = 0.9;
/** How much wider than by independent grain the place of a corner lies: shading and compression are alike over many pixels. */
const WIDER = 3;
/** The least and the most that the shape of a plane is thought to be other than expected from frame to frame, pixels at a corner. */
const SURPRISE = [0.25, 1.2] as const;
/** How much of the spread of features that were followed alone is left at the least when all are taken together. */
const ALONE = 0.75;
/** How far from their way, pixels, and by how much more with their speed, corners are taken to be where only few features say so. */
const BESIDE = 3,
  BESIDE_SPEED = 0.3;
/** How unlike its look a feature may be, against what is usual for all, and at the least and the most. */
const DIFFERS = 2,
  DIFFERENCE = 0.5,
  MOST = 0.9;
/** How fast it is learnt which features agree, for each frame, and how much those count that never do. */
const LEARNS = 0.12,
  DOUBTED = 0.05;
/** Another look at the plane is kept when it has grown by this, or when fewer of the features than this share can be seen in the picture. */
const GROWN = 1.6,
  SEEN = 0.6;
/** Looks that are kept at the most: the first one always. */
const LOOKS = 6;

/** The plane as it was at one frame, from which features are drawn as they should look now. */
interface Look {
  part: Part;
  /** From the first frame's places to those of this look. */
  map: Homography;
  undone: Homography;
  /** What grain adds to the structure of a window, for each of its pixels. */
  noise: number;
  /** Places on the first frame, the strongest of each cell first. */
  features: Point[];
  /** How often each agreed of late, 0..1: see `learns`. */
  trust: Float32Array;
  /** Frames from which that is known. */
  learnt: number;
}

/** What most features agree with. */
interface Agreement extends Agreed {
  /** Features that agree: their places on the first frame, their number, and their share of those that are in the picture. */
  agreeing: Point[];
  /** For each feature that was in the picture, whether it agreed. */
  told: [feature: number, agrees: boolean][];
  count: number;
  share: number;
  /** Share of all that are in the picture, and how unlike their looks they are on the median. */
  shown: number;
  difference: number;
}

export interface PlaneTrackerOptions {
  /** Its corners at the first frame, pixels. */
  corners: Quad;
  /**
   * What has not agreed for a while counts less and less: for a whole picture, of which water, leaves and whoever moves in it are never part. What
   * covers a plane for long must count on, since windows beside it are drawn along.
   */
  learns?: boolean;
  /** Deviation of the worst corner, pixels, up to which a place is called good. */
  steady?: number;
}

/**
 * Follows a flat part of a picture in perspective. Its features are drawn, as the plane is expected to stand now, from the picture in which it was drawn
 * (and not from the frame before, so that it does not drift), each is followed by Lucas and Kanade's way, and the map in perspective that most of them
 * agree with is that of the plane: what covers it or moves otherwise has no say. How sure the corners are follows from what is left.
 */
export class PlaneTracker {
  private readonly looks: Look[] = [];
  private map: Homography = [1, 0, 0, 0, 1, 0, 0, 0, 1];
  /** Where the corners were seen last, and how they move by a frame. */
  private seen: Quad;
  private speed: Quad = [
    [0, 0],
    [0, 0],
    [0, 0],
    [0, 0],
  ];
  /** Pixels by which the shape of the plane on the picture is usually other than expected. */
  private surprise = SURPRISE[1] / 2;
  private lostFor = 0;
  private usual = DIFFERENCE / DIFFERS;
  private readonly window = new FollowedWindow(WINDOW);
  private readonly windows = Array.from({ length: FEATURES }, () => new FollowedWindow(WINDOW));

  constructor(
    first: Plane,
    private readonly startFrame: number,
    private readonly at: Point,
    private readonly options: PlaneTrackerOptions,
  ) {
    const { corners } = options,
      turns = corners.map(([x, y], i) => {
        const [ax, ay] = corners[(i + 1) & 3]!,
          [bx, by] = corners[(i + 2) & 3]!;
        return (ax - x) * (by - ay) - (ay - y) * (bx - ax);
      });
    if (!turns.every((t) => t > 1) && !turns.every((t) => t < -1))
      throw new RangeError('PlaneTracker: the corners must go around the plane without crossing, with no dent');
    const wide = Math.max(...corners.map((p) => p[0])) - Math.min(...corners.map((p) => p[0])),
      high = Math.max(...corners.map((p) => p[1])) - Math.min(...corners.map((p) => p[1]));
    if (wide < 2 * WINDOW || high < 2 * WINDOW)
      throw new RangeError(
        `PlaneTracker: the plane must be at least ${2 * WINDOW} px wide and high, not ${Math.round(wide)} x ${Math.round(high)}`,
      );
    this.seen = corners;
    this.keep(first);
  }
  get start(): TrackSample {
    const { corners } = this.options;
    return {
      frame: this.startFrame,
      x: this.at[0],
      y: this.at[1],
      rotation: 0,
      scale: 1,
      corners: given(corners),
      confidence: 1,
      state: 'keyed',
    };
  }

  private cornersBy(map: Homography): Quad {
    return this.options.corners.map((c) => seenAt(map, c).at) as unknown as Quad;
  }
  private partAt(plane: Plane, quad: Quad, beyond: number): Part | null {
    const xs = quad.map((p) => p[0]),
      ys = quad.map((p) => p[1]);
    return partOf(
      plane,
      [
        Math.max(0, Math.min(...xs) - beyond),
        Math.max(0, Math.min(...ys) - beyond),
        Math.min(plane.width, Math.max(...xs) + beyond),
        Math.min(plane.height, Math.max(...ys) + beyond),
      ],
      LEVELS,
      WINDOW,
    );
  }

  /** Keeps the picture as another look at the plane, with the features that it shows. */
  private keep(plane: Plane): void {
    const quad = this.cornersBy(this.map),
      undone = back(this.map),
      part = this.partAt(plane, quad, WINDOW * 2),
      toCells = quadToQuad(quad, [
        [0, 0],
        [CELLS, 0],
        [CELLS, CELLS],
        [0, CELLS],
      ]);
    if (!part || !undone || !toCells) return;
    const here = seenAt(this.map, this.at).at,
      grain = grainOf(plane, here[0], here[1], WINDOW * 3),
      // Grain has slopes too, by half of its variance for each pixel.
      noise = (grain * grain) / 2,
      features = featuresOf(part, toCells, noise, WINDOW, FEATURES).map((at) => seenAt(undone, at).at);
    this.looks.push({ part, map: this.map, undone, noise, features, trust: new Float32Array(features.length).fill(1), learnt: 0 });
    if (this.looks.length > LOOKS) this.looks.splice(1, 1);
  }

  /** The look at which the plane was nearest in size to what it is now. */
  private nearest(map: Homography): Look | undefined {
    const size = (m: Homography) => {
        const [a, b, c, d] = slopesOf(m, this.at);
        return Math.sqrt(Math.abs(a * d - b * c));
      },
      now = size(map);
    let best: Look | undefined,
      least = Infinity;
    for (const look of this.looks) {
      const by = size(look.map) / now,
        grown = Math.max(by, 1 / by);
      // An earlier look wins unless a later one is clearly nearer: every new look carries the error with which it was taken.
      if (grown < least / 1.15) [best, least] = [look, grown];
    }
    return best;
  }

  /** Looks for the plane in the next frame (in either direction of time). */
  step(plane: Plane, frame: number): TrackSample {
    const expected = this.seen.map(([x, y], i) => [
        x + this.speed[i]![0] * (this.lostFor + 1),
        y + this.speed[i]![1] * (this.lostFor + 1),
      ]) as unknown as Quad,
      guess = quadToQuad(this.options.corners, expected) ?? this.map,
      look = this.nearest(guess),
      part = this.partAt(plane, expected, WINDOW << LEVELS);
    if (!look || !part) return this.miss(frame);
    // First a few of them on halves of the picture, then all of them from where those say that the plane stands.
    const scouted = this.agreed(look, part, guess, SCOUTS, HALVES, WITHIN_FIRST),
      begin = this.likest(look, part, [guess, this.map, ...(scouted ? [scouted.map] : [])]),
      agreed = this.agreed(look, part, begin, FEATURES, WHOLE, WITHIN);
    if (!agreed) return this.miss(frame);
    const { map, spread: held } = this.refined(look, part, agreed, guess),
      now = this.cornersBy(map),
      fast = Math.max(...this.speed.map((v) => hypot(v[0], v[1]))),
      off = Math.max(...now.map((p, i) => hypot(p[0] - expected[i]![0], p[1] - expected[i]![1]))),
      { count, share } = agreed,
      // Windows beside what hides the others are drawn along by it, all the same way, which the others do not tell.
      spread = hypot(held, DRAWN * (1 - share) * (1 - share)),
      good = count >= SURE && share >= SHARE && spread < (this.options.steady ?? STEADY),
      likely = this.lostFor === 0 && count >= KNOWN && share >= SOME && spread < LOOSE && off < BESIDE + BESIDE_SPEED * fast;
    if (!good && !likely) return this.miss(frame);
    if (this.options.learns) {
      // At first as the mean of what was seen, so that few frames tell.
      const by = Math.max(LEARNS, 1 / (look.learnt++ + 2));
      for (const [i, agrees] of agreed.told) look.trust[i]! += by * ((agrees ? 1 : DOUBTED) - look.trust[i]!);
    }
    if (good) {
      this.usual += 0.2 * (agreed.difference - this.usual);
      this.surprise += 0.15 * (Math.min(SURPRISE[1], Math.max(SURPRISE[0], shapeOff(now, expected))) - this.surprise);
      // Half of what was measured: unrest would send the corners on their way ever further.
      this.speed = now.map((p, i) =>
        ([0, 1] as const).map((k) => (this.speed[i]![k] + (p[k] - this.seen[i]![k]) / (this.lostFor + 1)) / 2),
      ) as unknown as Quad;
    }
    this.map = map;
    this.seen = now;
    this.lostFor = 0;
    if (good && share > 0.6) this.renew(plane, look, agreed.shown);
    return this.sample(frame, Math.min(1, share * (good ? 1 : 0.75) * Math.max(0.5, 1 - spread)), good ? 'good' : 'weak');
  }

  /** Of several maps the one at which a few windows look most as they should, on halves of the picture. */
  private likest(look: Look, part: Part, maps: readonly Homography[]): Homography {
    const level = Math.min(1, part.planes.length - 1, look.part.planes.length - 1),
      s = 1 / (1 << level),
      { window } = this;
    let best = maps[0]!,
      least = Infinity;
    for (const map of maps) {
      let sum = 0;
      for (const own of look.features.slice(0, SCOUTS)) {
        const { at } = seenAt(map, own);
        if (!this.draw(window, look, map, own, level)) sum++;
        else {
          window.stand((at[0] - part.left) * s, (at[1] - part.top) * s);
          sum += Math.min(1, window.pull(part.planes[level]!, 0, 0, 4 * look.noise * s).unlike);
        }
      }
      if (sum < least) [best, least] = [map, sum];
    }
    return best;
  }

  /** The map that most features of a look agree with, followed from a guess. */
  private agreed(look: Look, part: Part, guess: Homography, most: number, levels: readonly number[], within: number): Agreement | null {
    const found: Pair[] = [],
      differences: number[] = [],
      whose: number[] = [],
      seen: number[] = [],
      features = look.features.slice(0, most),
      { width, height } = part.planes[0]!;
    for (const [i, own] of features.entries()) {
      const { at, depth } = seenAt(guess, own),
        [x, y] = [at[0] - part.left, at[1] - part.top];
      if (!(depth > 0) || x < 2 || y < 2 || x > width - 2 || y > height - 2) continue;
      seen.push(i);
      const way = this.follow(look, part, guess, own, at, levels);
      if (!way) continue;
      found.push([own, way.at, way.says]);
      differences.push(way.difference);
      whose.push(i);
    }
    const sorted = [...differences].sort((a, b) => a - b),
      limit = Math.min(MOST, Math.max(DIFFERENCE, DIFFERS * this.usual)),
      fits = found.map((_, i) => differences[i]! < limit),
      fitting = found.filter((_, i) => fits[i]),
      fittingOf = whose.filter((_, i) => fits[i]),
      agreed = agreedHomography(fitting, within, guess, this.options.corners);
    if (!agreed) return null;
    const count = agreed.agrees.filter(Boolean).length,
      agreeing = new Set(fittingOf.filter((_, i) => agreed.agrees[i])),
      // What slides along its edges agrees with them; only what says something in every direction tells.
      firm = whose.filter((_, i) => isFirm(found[i]!)),
      counted = (list: readonly number[]) => list.reduce((sum, i) => sum + look.trust[i]!, 0),
      shareOf = (list: readonly number[]) => counted(list.filter((i) => agreeing.has(i))) / Math.max(1e-6, counted(list));
    return {
      ...agreed,
      count,
      agreeing: fitting.filter((_, i) => agreed.agrees[i]).map(([own]) => own),
      told: seen.map((i) => [i, agreeing.has(i)]),
      share: Math.min(shareOf(seen), firm.length >= KNOWN ? shareOf(firm) : 1),
      shown: seen.length / Math.max(1, features.length),
      difference: sorted[sorted.length >> 1] ?? DIFFERENCE,
    };
  }

  /** Draws a window as it should look where the map has it; false where it is seen too steeply. */
  private draw(window: FollowedWindow, look: Look, map: Homography, own: Point, level: number): boolean {
    const from = seenAt(look.map, own).at,
      s = 1 / (1 << level),
      // How a step on the picture now goes in the look.
      [a, b, c, d] = slopesOf(look.map, own),
      [e, f, g, h] = slopesOf(map, own),
      k = 1 / (e * h - f * g),
      view: View = [k * (a * h - c * f), k * (b * h - d * f), k * (c * e - a * g), k * (d * e - b * g)];
    if (!view.every((v) => Math.abs(v) < STEEP)) return false;
    window.at(look.part.planes[level]!, (from[0] - look.part.left) * s, (from[1] - look.part.top) * s, view);
    return true;
  }

  /** Where one feature went from where it is expected: it is drawn from the look as it should look there. */
  private follow(
    look: Look,
    part: Part,
    guess: Homography,
    own: Point,
    at: Point,
    levels: readonly number[],
  ): { at: Point; difference: number; says: Says } | null {
    const { window } = this;
    let [sx, sy, difference] = [0, 0, 0],
      says: Says | null = null;
    for (const level of levels) {
      const to = part.planes[level],
        s = 1 / (1 << level);
      if (!to || !look.part.planes[level]) continue;
      if (!this.draw(window, look, guess, own, level)) return null;
      says = saysOf(window.structure, WINDOW * WINDOW * look.noise * s);
      if (!says) return null;
      window.stand((at[0] - part.left) * s, (at[1] - part.top) * s);
      const [tx, ty, unlike] = window.followLit(to, sx * s, sy * s, level ? NEARLY : ENOUGH, STEPS, HELD, 4 * look.noise * s);
      [sx, sy, difference] = [tx / s, ty / s, unlike];
    }
    return says && hypot(sx, sy) < WINDOW << levels[0]! ? { at: [at[0] + sx, at[1] + sy], difference, says } : null;
  }

  /**
   * The map improved through all windows that agree at once: each says what it can, an edge only across itself, and nothing is lost by following it
   * alone first.
   */
  private refined(look: Look, part: Part, agreed: Agreement, expected: Homography): { map: Homography; spread: number } {
    const used = agreed.agreeing.flatMap((own, i) => {
      const window = this.windows[i]!,
        { at } = seenAt(agreed.map, own);
      if (!this.draw(window, look, agreed.map, own, 0)) return [];
      window.stand(at[0] - part.left, at[1] - part.top);
      return [{ own, window, begun: at }];
    });
    let { map } = agreed,
      { spread } = agreed;
    for (let round = 0; round < REFINED; round++) {
      const change = new MapChange(map, this.options.corners);
      let left = 0,
        weights = 0;
      for (const { own, window, begun } of used) {
        const { at } = seenAt(map, own),
          [xx, xy, yy] = window.structure,
          floor = WINDOW * WINDOW * look.noise,
          pull = window.pull(part.planes[0]!, at[0] - begun[0], at[1] - begun[1], 4 * look.noise),
          near = Math.max(0, 1 - (pull.unlike / UNLIKE) * (pull.unlike / UNLIKE)),
          w = near * near;
        left += w * pull.left;
        weights += w;
        change.add(at, [w * Math.max(0, xx - floor), w * xy, w * Math.max(0, yy - floor)], w * pull.x, w * pull.y);
      }
      if (weights < KNOWN) break;
      const variance = (left / weights) * WIDER * WIDER;
      change.expect(expected, variance / (this.surprise * this.surprise));
      const next = change.solved(),
        sure = next && change.spread(variance);
      if (!next || sure === null || next.by > FAR) break;
      ({ map } = next);
      spread = Math.max(sure, (ALONE * agreed.spread * this.surprise) / hypot(this.surprise, agreed.spread));
      if (next.by < NEARLY) break;
    }
    return { map, spread };
  }

  /** Keeps another look where the plane has grown much, or where little of what is followed is still in the picture. */
  private renew(plane: Plane, look: Look, shown: number): void {
    const [a, b, c, d] = slopesOf(this.map, this.at),
      [e, f, g, h] = slopesOf(look.map, this.at),
      grown = Math.sqrt(Math.abs((a * d - b * c) / (e * h - f * g)));
    if (grown > GROWN || grown < 1 / GROWN || (shown < SEEN && look === this.looks.at(-1))) this.keep(plane);
  }

  private sample(frame: number, confidence: number, state: TrackSample['state']): TrackSample {
    const lost = state === 'lost',
      { at } = seenAt(this.map, this.at),
      [xu, yu, xv, yv] = slopesOf(this.map, this.at);
    return {
      frame,
      x: lost ? null : at[0],
      y: lost ? null : at[1],
      rotation: (atan2(yu - xv, xu + yv) * 180) / PI,
      scale: Math.sqrt(Math.abs(xu * yv - xv * yu)),
      ...(lost ? {} : { corners: given(this.cornersBy(this.map)) }),
      confidence,
      state,
    };
  }
  private miss(frame: number): TrackSample {
    this.lostFor++;
    if (this.lostFor > 12) this.speed = this.speed.map(([x, y]) => [x * 0.9, y * 0.9]) as unknown as Quad;
    return this.sample(frame, 0, 'lost');
  }
}
const given = (quad: Quad): [number, number][] => quad.map(([x, y]) => [x, y]);
