import { PI } from '../image/exactMath';
import type { Codes } from '../image/picture';
import type { TrackSample } from './pointTracker';
import { axisOf, type Spread } from './spread';

export interface ColourTrackerOptions {
  /** Side of the box that it is looked for in around where it was, pixels. */
  search: number;
  /** Distance from the colour at which a pixel no longer counts, % of the way from black to white. */
  tolerance: number;
}

/** What is known of a connected area of a colour. */
interface Blob extends Spread {
  /** Some of it lies at the edge of what was looked at. */
  cut: boolean;
}

/** How much larger or smaller an area may become from frame to frame and still be sure, and be it at all. */
const SURE = 1.6,
  AT_ALL = 4;
/** Another area that lies at the most this much further from being it makes it doubtful. */
const RIVALS = 2;
/** How much wider it is looked for where it was not found. */
const WIDER = 2.5;
/** Half of the square at the beginning whose mean is the colour, pixels. */
const TAKEN = 1;

/** One pixel of a frame as display codes, 0..1. */
function pixel({ data, channels, bits, width }: Codes, x: number, y: number, out: Float64Array): void {
  const at = (y * width + x) * channels,
    k = bits === 8 ? 1 / 255 : bits === 16 ? 1 / 65535 : 1;
  for (let c = 0; c < 3; c++) {
    const v = data[at + (channels >= 3 ? c : 0)]! * k;
    out[c] = bits === 32 ? Math.sqrt(Math.max(0, v)) : v;
  }
}

/**
 * Follows a connected area of one colour: its middle, its turn by its longer axis, its growth by its area. Exact on drawings, also on those that are
 * shown for two frames each: the same picture gives the same numbers. Each pixel counts by how near its colour is, so that soft edges move it evenly.
 */
export class ColourTracker {
  private readonly colour = new Float64Array(3);
  private last: Blob;
  private readonly first: Blob;
  private axis: number;
  private readonly firstAxis: number;
  private speed = { x: 0, y: 0 };
  /** How far it went from the drawing before to this one. */
  private leap = { x: 0, y: 0 };
  private lostFor = 0;
  private readonly origin: readonly [number, number];

  constructor(
    codes: Codes,
    private readonly startFrame: number,
    at: readonly [number, number],
    private readonly options: ColourTrackerOptions,
  ) {
    const { width, height } = codes,
      one = new Float64Array(3),
      [px, py] = [Math.floor(at[0]), Math.floor(at[1])];
    if (!(px >= 0 && py >= 0 && px < width && py < height))
      throw new RangeError(`ColourTracker: ${at[0]}, ${at[1]} lies outside the picture (${width} x ${height})`);
    this.origin = [px, py];
    let n = 0;
    for (let y = Math.max(0, py - TAKEN); y <= Math.min(height - 1, py + TAKEN); y++)
      for (let x = Math.max(0, px - TAKEN); x <= Math.min(width - 1, px + TAKEN); x++, n++) {
        pixel(codes, x, y, one);
        for (let c = 0; c < 3; c++) this.colour[c]! += one[c]!;
      }
    for (let c = 0; c < 3; c++) this.colour[c]! /= n;
    const blob = this.find(codes, at[0], at[1], null);
    if (!blob) throw new RangeError('ColourTracker: nothing of one colour lies there');
    this.first = this.last = blob;
    this.firstAxis = this.axis = axisOf(blob) ?? 0;
  }
  get start(): TrackSample {
    return { frame: this.startFrame, x: this.last.x, y: this.last.y, rotation: 0, scale: 1, confidence: 1, state: 'keyed' };
  }

  /**
   * The connected area of the colour that is most like the one before, in a box around a place, and whether another one might be it as well.
   * @param search side of the box, pixels.
   */
  private find(
    codes: Codes,
    cx: number,
    cy: number,
    like: Blob | null,
    search = this.options.search,
  ): (Blob & { rivalled: boolean }) | null {
    const { tolerance } = this.options,
      left = Math.max(0, Math.floor(cx - search / 2)),
      top = Math.max(0, Math.floor(cy - search / 2)),
      right = Math.min(codes.width, Math.ceil(cx + search / 2)),
      bottom = Math.min(codes.height, Math.ceil(cy + search / 2)),
      wide = right - left,
      high = bottom - top;
    if (wide < 1 || high < 1) return null;
    const weights = new Float32Array(wide * high),
      one = new Float64Array(3),
      most = tolerance / 100;
    for (let y = 0, p = 0; y < high; y++)
      for (let x = 0; x < wide; x++, p++) {
        pixel(codes, left + x, top + y, one);
        let d = 0;
        for (let c = 0; c < 3; c++) d += (one[c]! - this.colour[c]!) * (one[c]! - this.colour[c]!);
        const off = Math.sqrt(d / 3) / most;
        weights[p] = off <= 0.5 ? 1 : off < 1 ? 2 * (1 - off) : 0;
      }
    let best: Blob | null = null,
      least = Infinity,
      second = Infinity;
    const seen = new Uint8Array(wide * high),
      queue = new Int32Array(wide * high);
    for (let start = 0; start < weights.length; start++) {
      if (seen[start] || weights[start] === 0) continue;
      const blob: Blob = { area: 0, x: 0, y: 0, xx: 0, xy: 0, yy: 0, cut: false };
      let tail = 0;
      queue[tail++] = start;
      seen[start] = 1;
      for (let head = 0; head < tail; head++) {
        const p = queue[head]!,
          x = p % wide,
          y = (p - x) / wide,
          w = weights[p]!;
        // Counted from a place that stays: the same drawing gives the same bits, wherever the box lies.
        const u = left + x - this.origin[0],
          v = top + y - this.origin[1];
        blob.area += w;
        blob.x += w * u;
        blob.y += w * v;
        blob.xx += w * u * u;
        blob.xy += w * u * v;
        blob.yy += w * v * v;
        // At the edge of the picture it is cut as well as at that of the box.
        if (x === 0 || y === 0 || x === wide - 1 || y === high - 1) blob.cut = true;
        for (const [dx, dy] of [
          [-1, 0],
          [1, 0],
          [0, -1],
          [0, 1],
        ] as const) {
          const q = p + dy * wide + dx;
          if (x + dx < 0 || x + dx >= wide || y + dy < 0 || y + dy >= high || seen[q] || weights[q] === 0) continue;
          seen[q] = 1;
          queue[tail++] = q;
        }
      }
      const { area } = blob,
        mx = blob.x / area,
        my = blob.y / area,
        done: Blob = {
          ...blob,
          ...{ x: this.origin[0] + mx + 0.5, y: this.origin[1] + my + 0.5 },
          ...{ xx: blob.xx / area - mx * mx, xy: blob.xy / area - mx * my, yy: blob.yy / area - my * my },
        },
        // The nearest one first of all; of those that are near, the one of about the same size.
        far = Math.sqrt((done.x - cx) * (done.x - cx) + (done.y - cy) * (done.y - cy)),
        size = like ? Math.max(area / like.area, like.area / area) : 1 + 1 / area,
        cost = (far + (like ? Math.sqrt(like.area) : 1)) * size;
      if (like && size > AT_ALL) continue;
      if (cost < least) [best, least, second] = [done, cost, least];
      else second = Math.min(second, cost);
    }
    return best && { ...(best as Blob), rivalled: second < RIVALS * least };
  }

  /** Looks for it where it is expected, and ever wider where it is not there: a drawn figure may leap further than its box in one drawing. */
  private found(codes: Codes, x: number, y: number): (Blob & { rivalled: boolean; far: boolean }) | null {
    const all = 2 * Math.max(codes.width, codes.height),
      { last, leap } = this;
    // A drawing that is shown for two frames stands still in between, and then goes on as it did from the drawing before.
    for (const [u, v] of [[x, y] as const, [last.x, last.y] as const, [last.x + leap.x, last.y + leap.y] as const]) {
      const blob = this.find(codes, u, v, last);
      if (blob) return { ...blob, far: false };
    }
    for (let search = WIDER * this.options.search; ; search *= WIDER) {
      const blob = this.find(codes, x, y, last, search);
      // Found in a wider box it must be about as large: any patch of the colour lies somewhere.
      if (blob && Math.max(blob.area / last.area, last.area / blob.area) < SURE) return { ...blob, far: true };
      if (search >= all) return null;
    }
  }
  /** Looks for it in the next frame (in either direction of time). */
  step(codes: Codes, frame: number): TrackSample {
    const x = this.last.x + this.speed.x,
      y = this.last.y + this.speed.y,
      blob = this.found(codes, x, y);
    if (!blob) {
      this.lostFor++;
      this.speed = { x: 0, y: 0 };
      return { ...this.sample(frame), x: null, y: null, confidence: 0, state: 'lost' };
    }
    const size = Math.max(blob.area / this.last.area, this.last.area / blob.area),
      sure = !blob.cut && size < SURE && this.lostFor < 3 && !blob.far && !blob.rivalled;
    this.speed = this.lostFor ? { x: 0, y: 0 } : { x: blob.x - this.last.x, y: blob.y - this.last.y };
    const [dx, dy] = [blob.x - this.last.x, blob.y - this.last.y];
    if (dx * dx + dy * dy > 0.25) this.leap = { x: dx, y: dy };
    this.last = blob;
    this.lostFor = 0;
    const axis = axisOf(blob);
    if (axis !== null) {
      // An axis has no front: of its two directions the one nearer to where it pointed.
      this.axis = axis - PI * Math.round((axis - this.axis) / PI);
    }
    return { ...this.sample(frame), confidence: sure ? 1 / size : 0.4 / size, state: sure ? 'good' : 'weak' };
  }
  private sample(frame: number): TrackSample {
    return {
      ...{ frame, x: this.last.x, y: this.last.y },
      ...{ rotation: ((this.axis - this.firstAxis) * 180) / PI, scale: Math.sqrt(this.last.area / this.first.area) },
      ...{ confidence: 1, state: 'good' },
    };
  }
}
