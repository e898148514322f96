import { cos, hypot, PI, sin } from '../image/exactMath';
import { newPlane, type Plane } from '../image/picture';
import { align, type Alignment, type Placement } from './align';
import { grainOf } from './noise';
import { correlate, samplePatch, searchPattern, type Patch } from './ncc';

export const sampleStates = ['good', 'weak', 'lost', 'repaired', 'keyed'] as const;
/** What a sample claims. Only `good` claims to be right; `keyed` was set by a person. */
export type SampleState = (typeof sampleStates)[number];
/** One frame of a track: pixels of the clip, degrees clockwise, size against the first frame, confidence 0..1. */
export interface TrackSample {
  frame: number;
  x: number | null;
  y: number | null;
  rotation: number;
  scale: number;
  /** Corners of a plane, clockwise from the top left one as it was drawn; other tracks have none. */
  corners?: [number, number][];
  confidence: number;
  state: SampleState;
}

export const patternPolicies = ['drift-corrected', 'fixed', 'rolling'] as const;
/**
 * When the pattern that is looked for is taken anew. `fixed`: never. `rolling`: every good frame (follows any change, drifts).
 * `drift-corrected`: the first pattern stays as long as it fits; when it no longer does, the last good frame becomes the pattern.
 */
export type PatternPolicy = (typeof patternPolicies)[number];
export interface PointTrackerOptions {
  pattern: number;
  search: number;
  policy?: PatternPolicy;
}

/** Mean of 4 x 4 blocks of one window of a plane: enough for the wide look, and cheap. */
function quarterWindow(plane: Plane, x: number, y: number, reach: number): { plane: Plane; left: number; top: number } {
  const left = Math.max(0, Math.floor((x - reach) / 4) * 4),
    top = Math.max(0, Math.floor((y - reach) / 4) * 4);
  const width = Math.max(1, Math.floor((Math.min(plane.width, x + reach) - left) / 4)),
    height = Math.max(1, Math.floor((Math.min(plane.height, y + reach) - top) / 4));
  const small = newPlane(width, height);
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      let sum = 0;
      for (let r = 0; r < 4; r++) {
        const at = (top + j * 4 + r) * plane.width + left + i * 4;
        sum += plane.data[at]! + plane.data[at + 1]! + plane.data[at + 2]! + plane.data[at + 3]!;
      }
      small.data[j * width + i] = sum / 16;
    }
  return { plane: small, left, top };
}

function shrinkPatch(patch: Patch): Patch {
  const size = Math.max(5, (Math.floor(patch.size / 4) - 1) | 1),
    half = (patch.size - 1) / 2,
    inner = (size - 1) / 2,
    data = new Float32Array(size * size);
  for (let j = 0; j < size; j++)
    for (let i = 0; i < size; i++) {
      let sum = 0,
        n = 0;
      for (let b = -2; b < 2; b++)
        for (let a = -2; a < 2; a++) {
          const x = half + (i - inner) * 4 + a,
            y = half + (j - inner) * 4 + b;
          if (x >= 0 && y >= 0 && x < patch.size && y < patch.size) {
            sum += patch.data[y * patch.size + x]!;
            n++;
          }
        }
      data[j * size + i] = sum / Math.max(1, n);
    }
  return { size, data };
}

/** The least likeness, with grain taken out, of what may be the point at all; and of what is it for sure. */
const PERHAPS = 0.6,
  ALIKE = 0.8;
/** How unsure the place may be, pixels. */
const SURE = 0.3;
/** Misfit against what grain and a small shift explain; against what is usual for this pattern; and the same for one that was lost. */
const FITS = 1.5,
  AS_USUAL = 1.7,
  FOUND_AGAIN = 1.4;
/** Share of a part of the pattern that may not fit before the point counts as covered, beyond what is usual. */
const COVERED = 0.3;
/** Share of the whole pattern that must show for a covered point to be placed at all. */
const SHOWS = 0.45;
/** What does not fit elsewhere must be this much more of it, or that place could be the point as well. */
const APART = 1.15;
/** Where all other places fit worse by this much, it may differ from the pattern by more than is usual. */
const DISTINCT = 1.5,
  NEAR = 0.15,
  HALF_COVERED = 0.5;
/** Places whose correlation is less than the best one by more than this, or by so many times of what that lacks, are not looked at closely. */
const CLOSE = 0.15,
  CLOSE_TIMES = 3;
/** How much more than what is left there may be of grain. */
const MORE = 1.2;
/** Likeness by which a pattern has to have lost before it is taken anew. */
const WORN = 0.045;
/** Frames over which the way that it goes is taken. */
const WAY = 4;
/** How far a covered point may be from its way, pixels, and by how much more with every frame. */
const BESIDE = 4,
  BESIDE_MORE = 2.5,
  BESIDE_SPEED = 0.4;
/** Pixels by which a later pattern may have led away from the first, and in which the first is looked for; by how much more like it that must be there. */
const CREPT = 0.8,
  ASIDE = 5,
  CLEARLY = 0.06;
/** Where another place of the picture was as like it as this, lately, the point itself is only looked for on its way. */
const TWIN = 1.6,
  FORGETS = 1.02;

/**
 * Follows one point through luma planes (display-encoded, 0..1). Every frame: predict from the last motion, correlate the pattern
 * (turned and scaled as last seen) in the search box at full size and wider at a quarter, align the best places to a small
 * fraction of a pixel with turn and size, and judge each by whether what is left is what grain and a small shift explain: a frame is good when nothing
 * but these is left, the place is sure, and no other place fits as well. What covers a part of the pattern is told from it and left out; a point that
 * is covered goes on along its way, and the first pattern that still fits is looked for there, ever wider, until it is found.
 */
export class PointTracker {
  private patch: Patch;
  /** The pattern that it began with: what later ones are judged by. */
  private readonly original: Patch;
  private base: Placement = { x: 0, y: 0, angle: 0, scale: 1 };
  private last: Placement;
  private speed = { x: 0, y: 0 };
  private jump = { x: 0, y: 0 };
  private lostFor = 0;
  /** Grain of the frame that the pattern was taken from; and what is left, as a rule, where it fits. */
  private grain: number;
  private left = Infinity;
  // What misfit and cover are usual for this pattern; learnt, because light and shape change without any slip.
  private usualMisfit = 0.8;
  private usualGain = 1;
  private usualCover = 0;
  /** How much worse the place that is most like it fits, lately. */
  private twin = 9;
  private seen = 0;
  private fresh = 0;
  private trusted: Placement;
  private readonly way: { frame: number; x: number; y: number }[] = [];

  constructor(
    first: Plane,
    private readonly startFrame: number,
    at: [number, number],
    private readonly options: PointTrackerOptions,
  ) {
    if (options.pattern < 7 || options.pattern % 2 === 0)
      throw new RangeError(`PointTracker: the pattern box must be odd and at least 7 px, not ${options.pattern}`);
    if (!(at[0] >= 0 && at[1] >= 0 && at[0] <= first.width && at[1] <= first.height))
      throw new RangeError(`PointTracker: ${at[0]}, ${at[1]} lies outside the picture (${first.width} x ${first.height})`);
    this.patch = this.original = samplePatch(first, at[0], at[1], options.pattern);
    this.grain = this.grainAt(first, at[0], at[1]);
    this.last = { x: at[0], y: at[1], angle: 0, scale: 1 };
    this.trusted = this.last;
    this.way.push({ frame: startFrame, x: at[0], y: at[1] });
  }
  private grainAt(plane: Plane, x: number, y: number): number {
    return grainOf(plane, x, y, Math.max(32, this.options.pattern));
  }

  /** The sample of the frame that it began at. */
  get start(): TrackSample {
    return { frame: this.startFrame, x: this.last.x, y: this.last.y, rotation: 0, scale: 1, confidence: 1, state: 'keyed' };
  }

  private candidates(plane: Plane, expected: Placement): Placement[] {
    const { pattern, search } = this.options,
      turn = this.last.angle - this.base.angle,
      size = this.last.scale / this.base.scale;
    // The pattern as it should look now: what stands at offset d was at offset R(-turn) d / size when it was taken.
    const half = (pattern - 1) / 2,
      c = cos(-turn),
      s = sin(-turn),
      flat: Plane = { kind: 'plane', width: pattern, height: pattern, data: this.patch.data };
    const now = samplePatch(flat, half + 0.5, half + 0.5, pattern, { cos: c, sin: s, scale: 1 / size });
    const inner = Math.max(7, Math.round(pattern * 0.8) | 1),
      margin = (pattern - inner) / 2,
      core: Patch = { size: inner, data: new Float32Array(inner * inner) };
    for (let j = 0; j < inner; j++)
      for (let i = 0; i < inner; i++) core.data[j * inner + i] = now.data[(j + margin) * pattern + i + margin]!;
    const near = searchPattern(plane, core, expected.x, expected.y, Math.max(4, Math.round((search - pattern) / 2)), 3);
    const wideReach = Math.min(320, search / 2 + 40 + 10 * this.lostFor),
      box = quarterWindow(plane, expected.x, expected.y, wideReach + pattern / 2),
      small = shrinkPatch(now);
    const wide = searchPattern(box.plane, small, (expected.x - box.left) / 4, (expected.y - box.top) / 4, Math.ceil(wideReach / 4), 4)
      .map((peak) => searchPattern(plane, core, peak.x * 4 + box.left, peak.y * 4 + box.top, 4, 1)[0])
      .filter((peak) => peak !== undefined);
    const straight = [expected, this.last].map(({ x, y }) => ({ x, y, score: correlate(samplePatch(plane, x, y, inner), core) })),
      places = [...straight, ...near, ...wide]
        .map((peak) => ({ ...peak, score: peak.score - 0.0004 * hypot(peak.x - expected.x, peak.y - expected.y) }))
        .sort((a, b) => b.score - a.score),
      most = places[0]!.score;
    return places
      .filter((peak) => this.lostFor > 0 || peak.score >= most - Math.max(CLOSE, CLOSE_TIMES * (1 - most)))
      .filter((peak, i, all) => !all.slice(0, i).some((other) => hypot(other.x - peak.x, other.y - peak.y) < 2))
      .slice(0, 5)
      .map((peak) => ({ x: peak.x, y: peak.y, angle: this.last.angle, scale: this.last.scale }));
  }

  /** Grain of a frame: as its quiet parts have it, and no more than was left where the pattern fits, since fine texture looks like grain. */
  private grainNow(plane: Plane, expected: Placement, likely: Placement | undefined): number {
    if (this.left === Infinity && likely) this.left = this.fit(plane, likely, 0).residual / Math.SQRT2;
    return Math.min(this.grainAt(plane, expected.x, expected.y), MORE * this.left);
  }

  private fit(plane: Plane, at: Placement, grain: number): Alignment {
    const local = align(
      plane,
      this.patch,
      { x: at.x, y: at.y, angle: at.angle - this.base.angle, scale: at.scale / this.base.scale },
      [Math.min(this.grain, MORE * this.left), grain],
      this.usualGain,
    );
    return { ...local, angle: local.angle + this.base.angle, scale: local.scale * this.base.scale };
  }
  /** How much of the pattern does not fit, in all: what a fit is chosen by. */
  private strain(fit: Alignment): number {
    return (0.1 + fit.misfit) * (1 + 8 * fit.covered) + (1 - Math.max(0, fit.likeness));
  }

  /** Looks for the point in the next frame (in either direction of time). */
  step(plane: Plane, frame: number): TrackSample {
    // From one frame to the next it goes on as it just did; for as long as it is not seen, as it did for some frames.
    const ahead = this.lostFor ? this.speed : this.jump,
      expected = { ...this.last, x: this.last.x + ahead.x, y: this.last.y + ahead.y },
      places = this.candidates(plane, expected),
      grain = this.grainNow(plane, expected, places[0]),
      fits = places
        .map((place) => this.fit(plane, place, grain))
        .filter((fit) => this.possible(fit, plane))
        .sort((a, b) => this.strain(a) - this.strain(b)),
      off = (fit: Alignment) => hypot(fit.x - expected.x, fit.y - expected.y),
      // Of places that fit as well, the one that is nearest to its way; and there, what fits best.
      place = fits.filter((fit) => this.strain(fit) <= APART * this.strain(fits[0]!)).sort((a, b) => off(a) - off(b))[0],
      best = place && fits.find((fit) => hypot(fit.x - place.x, fit.y - place.y) < BESIDE);
    if (!best) return this.miss(frame, expected, 0);
    const apart = fits.filter((fit) => hypot(fit.x - best.x, fit.y - best.y) > 2),
      // Places so near are the same one, not quite found.
      others =
        Math.min(
          ...apart.filter((fit) => hypot(fit.x - best.x, fit.y - best.y) > NEAR * this.options.pattern).map((fit) => this.strain(fit)),
        ) /
        (0.1 + best.misfit),
      alone = apart.every((fit) => this.strain(fit) > APART * this.strain(best) || this.farther(off(fit), off(best))),
      most = this.lostFor ? FOUND_AGAIN * this.usualMisfit : Math.max(FITS, AS_USUAL * this.usualMisfit),
      sure = best.likeness > ALIKE && best.spread < SURE,
      fitting = sure && alone && best.misfit < most,
      open = best.worstCovered < COVERED + this.usualCover,
      // Its look has changed, by light, turn or blur, and still nothing else is nearly as like it.
      changed = sure && others > DISTINCT && best.worstCovered < HALF_COVERED && best.covered < COVERED;
    // A place off its way is the point only where nothing else looks like it; after it was covered, only one that is like the first.
    const onWay = off(best) < this.room;
    if ((fitting && open && (onWay || this.twin > TWIN)) || (changed && (onWay || (this.lostFor === 0 && this.twin > TWIN)))) {
      this.twin = Math.min(this.twin * FORGETS, others);
      return this.found(plane, frame, best, grain);
    }
    // Covered in part: the rest of it says where it is, as long as that lies on its way.
    if (best.likeness > PERHAPS && best.covered < 1 - SHOWS && onWay && (fitting || this.lostFor === 0)) {
      const at = fitting ? best : { ...this.last, x: best.x, y: best.y };
      this.last = { x: at.x, y: at.y, angle: at.angle, scale: at.scale };
      if (this.lostFor) this.lostFor++;
      const confidence = Math.max(0, Math.min(0.75, 0.75 * best.likeness * (1 - best.covered)));
      return { frame, x: best.x, y: best.y, rotation: (best.angle * 180) / PI, scale: best.scale, confidence, state: 'weak' };
    }
    return this.miss(frame, expected, best.likeness);
  }

  private possible(fit: Alignment, plane: Plane): boolean {
    const margin = this.options.pattern * 0.25;
    return (
      fit.x > margin &&
      fit.y > margin &&
      fit.x < plane.width - margin &&
      fit.y < plane.height - margin &&
      Math.abs(fit.angle - this.last.angle) < 0.35 &&
      Math.abs(fit.scale / this.last.scale - 1) < 0.2 &&
      fit.likeness > 0
    );
  }
  /** How far from its way it may be, pixels. */
  private get room(): number {
    return BESIDE + (BESIDE_MORE + BESIDE_SPEED * hypot(this.speed.x, this.speed.y)) * this.lostFor;
  }
  /** True where another place that fits as well is clearly off the way, and this one on it. */
  private farther(rival: number, best: number): boolean {
    const room = this.room;
    return best < room && rival > 3 * room && rival > 4 * best;
  }

  private miss(frame: number, expected: Placement, likeness: number): TrackSample {
    this.lostFor++;
    this.last = { ...this.last, x: expected.x, y: expected.y };
    if (this.lostFor > 12) this.speed = { x: this.speed.x * 0.9, y: this.speed.y * 0.9 };
    return {
      frame,
      x: null,
      y: null,
      rotation: (this.trusted.angle * 180) / PI,
      scale: this.trusted.scale,
      confidence: Math.max(0, Math.min(0.5, likeness)),
      state: 'lost',
    };
  }

  private found(plane: Plane, frame: number, best: Alignment, grain: number): TrackSample {
    this.last = { x: best.x, y: best.y, angle: best.angle, scale: best.scale };
    const way = this.way,
      before = way[way.length - 1]!,
      since = Math.max(1, Math.abs(frame - before.frame));
    this.jump = { x: (best.x - before.x) / since, y: (best.y - before.y) / since };
    way.push({ frame, x: best.x, y: best.y });
    while (way.length > 2 && Math.abs(frame - way[0]!.frame) > WAY) way.shift();
    const [from] = way,
      frames = Math.max(1, Math.abs(frame - from!.frame));
    this.speed = { x: (best.x - from!.x) / frames, y: (best.y - from!.y) / frames };
    this.lostFor = 0;
    this.seen++;
    const learn = this.seen < 5 ? 0.3 : 0.08;
    this.usualMisfit += (Math.min(3, best.misfit) - this.usualMisfit) * learn;
    this.left += (best.residual / Math.SQRT2 - this.left) * learn;
    this.usualGain += (best.gain - this.usualGain) * 0.5;
    this.usualCover += (Math.min(0.3, best.worstCovered) - this.usualCover) * learn;
    this.trusted = this.last;
    const crept = this.crept(plane, best);
    this.refresh(plane, best, grain);
    const confidence = Math.max(0, Math.min(crept ? 0.5 : 1, best.likeness));
    return {
      ...{ frame, x: best.x, y: best.y, rotation: (best.angle * 180) / PI, scale: best.scale },
      ...{ confidence, state: crept ? 'weak' : 'good' },
    };
  }

  /** Whether a pattern that was taken anew has led away from the first one, which is still seen beside it. */
  private crept(plane: Plane, best: Alignment): boolean {
    if (this.patch === this.original) return false;
    const [near] = searchPattern(plane, this.original, best.x, best.y, ASIDE, 1),
      here = correlate(samplePatch(plane, best.x, best.y, this.original.size), this.original);
    return near !== undefined && near.score > here + CLEARLY && hypot(near.x - best.x, near.y - best.y) > CREPT;
  }

  private refresh(plane: Plane, best: Alignment, grain: number): void {
    const policy = this.options.policy ?? 'drift-corrected';
    // What the pattern was like when it was new is the measure: less like it by this much, its look (light, turn, shape) has changed.
    if (this.seen <= 3) this.fresh = Math.max(this.fresh, best.likeness);
    const worn = this.seen > 3 && best.likeness < this.fresh - WORN;
    if (policy === 'fixed' || (policy === 'drift-corrected' && !worn)) return;
    // The place carries over to a fraction of a pixel; only the pattern's look is new.
    this.patch = samplePatch(plane, best.x, best.y, this.options.pattern);
    this.base = { x: best.x, y: best.y, angle: best.angle, scale: best.scale };
    this.grain = grain;
    this.seen = 0;
    this.fresh = 0;
    this.usualMisfit = 0.8;
    this.usualGain = 1;
    this.usualCover = 0;
  }
}
