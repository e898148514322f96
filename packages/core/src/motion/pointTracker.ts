import { cos, hypot, PI, sin } from '../image/exactMath';
import { newPlane, type Plane } from '../image/picture';
import { align, type Alignment, type Placement } from './align';
import { samplePatch, searchPattern, type Patch } from './ncc';

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

/**
 * Follows one point through luma planes (display-encoded, 0..1). Every frame: predict from the last motion, correlate the pattern
 * (turned and scaled as last seen) in the search box at full size and wider at a quarter, align the best places to a small
 * fraction of a pixel with turn and size, and judge honestly: correlation of the whole and of its weakest quarter against what is
 * usual for this pattern. While lost it goes on looking along the way it was going, ever wider.
 */
export class PointTracker {
  private patch: Patch;
  private base: Placement = { x: 0, y: 0, angle: 0, scale: 1 };
  private last: Placement;
  private speed = { x: 0, y: 0 };
  private lostFor = 0;
  // What correlation is usual for this pattern and its weakest quarter; learnt, because grain lowers both without any slip.
  private usual = 0.82;
  private usualQuarter = 0.65;
  private seen = 0;
  private fresh = 0;
  private trusted: Placement;

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
    this.patch = samplePatch(first, at[0], at[1], options.pattern);
    this.last = { x: at[0], y: at[1], angle: 0, scale: 1 };
    this.trusted = this.last;
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
    const near = searchPattern(plane, core, expected.x, expected.y, Math.max(4, Math.round((search - pattern) / 2)), 2);
    const wideReach = Math.min(320, search / 2 + 40 + 10 * this.lostFor),
      box = quarterWindow(plane, expected.x, expected.y, wideReach + pattern / 2),
      small = shrinkPatch(now);
    const wide = searchPattern(box.plane, small, (expected.x - box.left) / 4, (expected.y - box.top) / 4, Math.ceil(wideReach / 4), 4)
      .map((peak) => searchPattern(plane, core, peak.x * 4 + box.left, peak.y * 4 + box.top, 4, 1)[0])
      .filter((peak) => peak !== undefined);
    return [...near, ...wide]
      .map((peak) => ({ ...peak, score: peak.score - 0.0004 * hypot(peak.x - expected.x, peak.y - expected.y) }))
      .sort((a, b) => b.score - a.score)
      .filter((peak, i, all) => !all.slice(0, i).some((other) => hypot(other.x - peak.x, other.y - peak.y) < 2))
      .slice(0, 2)
      .map((peak) => ({ x: peak.x, y: peak.y, angle: this.last.angle, scale: this.last.scale }));
  }

  private fit(plane: Plane, at: Placement): Alignment {
    const local = align(plane, this.patch, { x: at.x, y: at.y, angle: at.angle - this.base.angle, scale: at.scale / this.base.scale });
    return { ...local, angle: local.angle + this.base.angle, scale: local.scale * this.base.scale };
  }

  /** Looks for the point in the next frame (in either direction of time). */
  step(plane: Plane, frame: number): TrackSample {
    const expected = { ...this.last, x: this.last.x + this.speed.x, y: this.last.y + this.speed.y };
    const fits = this.candidates(plane, expected)
      .map((place) => this.fit(plane, place))
      .sort((a, b) => b.score - a.score);
    const best = fits[0];
    const margin = this.options.pattern * 0.25;
    const inside =
      best !== undefined && best.x > margin && best.y > margin && best.x < plane.width - margin && best.y < plane.height - margin;
    const sane = best !== undefined && Math.abs(best.angle - this.last.angle) < 0.35 && Math.abs(best.scale / this.last.scale - 1) < 0.2;
    const found = inside && sane && best.score > Math.max(0.62, this.usual - 0.3) && (this.lostFor === 0 || best.score > this.usual - 0.12);
    if (!found) {
      this.lostFor++;
      this.last = { ...this.last, x: expected.x, y: expected.y };
      if (this.lostFor > 6) this.speed = { x: this.speed.x * 0.8, y: this.speed.y * 0.8 };
      return {
        frame,
        x: null,
        y: null,
        rotation: (this.trusted.angle * 180) / PI,
        scale: this.trusted.scale,
        confidence: Math.max(0, Math.min(0.5, best?.score ?? 0)),
        state: 'lost',
      };
    }
    const rival = fits[1] && hypot(fits[1].x - best.x, fits[1].y - best.y) > 2 ? fits[1].score : -1;
    const good =
      best.score > Math.max(0.7, this.usual - 0.07) &&
      best.weakestQuarter > Math.min(this.usualQuarter - 0.18, 0.75) &&
      best.spread < 0.5 &&
      best.score - rival > 0.03;
    const jumped = { x: best.x - this.last.x, y: best.y - this.last.y };
    this.last = { x: best.x, y: best.y, angle: best.angle, scale: best.scale };
    if (good) {
      this.speed = jumped;
      if (this.lostFor)
        this.speed = { x: (best.x - this.trusted.x) / (this.lostFor + 1), y: (best.y - this.trusted.y) / (this.lostFor + 1) };
      this.lostFor = 0;
      this.seen++;
      const learn = this.seen === 1 ? 1 : this.seen < 5 ? 0.3 : 0.08;
      this.usual += (best.score - this.usual) * learn;
      this.usualQuarter += (best.weakestQuarter - this.usualQuarter) * learn;
      this.trusted = this.last;
      this.refresh(plane, best);
    } else if (this.lostFor) this.lostFor++;
    const confidence = Math.max(0, Math.min(1, best.score * (good ? 1 : 0.75)));
    return { frame, x: best.x, y: best.y, rotation: (best.angle * 180) / PI, scale: best.scale, confidence, state: good ? 'good' : 'weak' };
  }

  private refresh(plane: Plane, best: Alignment): void {
    const policy = this.options.policy ?? 'drift-corrected';
    // What the pattern scored when it was new is the measure: below it by this much, its look (light, turn, shape) has changed.
    if (this.seen <= 3) this.fresh = Math.max(this.fresh, best.score);
    const worn = this.seen > 3 && best.score < this.fresh - 0.045;
    if (policy === 'fixed' || (policy === 'drift-corrected' && !worn)) return;
    // The place carries over to a fraction of a pixel; only the pattern's look is new.
    this.patch = samplePatch(plane, best.x, best.y, this.options.pattern);
    this.base = { x: best.x, y: best.y, angle: best.angle, scale: best.scale };
    this.seen = 0;
    this.fresh = 0;
  }
}
