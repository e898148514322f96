import { dot, sub, type V3 } from './vector';

/** What a surface is made of; paint.ts says how each looks. */
export type Stuff =
  | 'near skin'
  | 'near lips'
  | 'lashes'
  | 'near eye'
  | 'near hair'
  | 'near cap'
  | 'coat'
  | 'skin'
  | 'lips'
  | 'eye'
  | 'hair'
  | 'cap'
  | 'scarf'
  | 'pin'
  | 'iron'
  | 'trousers'
  | 'boots'
  | 'metal'
  | 'glass'
  | 'brass'
  | 'wood'
  | 'bell'
  | 'timber';

/** Where a ray has come to: distance to the nearest surface, its stuff, and two coordinates on it in metres for patterns. */
export interface Near {
  distance: number;
  stuff: Stuff;
  u: number;
  v: number;
  w: number;
  /** Whether small relief of the surface counts; shadows do without. */
  fine: boolean;
  /** Only bounds were met: nothing is as near as `distance` says. */
  rough: boolean;
}
/** A new answer, for `look` to fill. */
export const nothing = (fine: boolean): Near => ({ distance: 0, stuff: 'coat', u: 0, v: 0, w: 0, fine, rough: false });

/** Says what a point is nearest to, if it is nearer than what was found so far. */
export function take(near: Near, distance: number, stuff: Stuff, u: number, v: number, w: number): void {
  if (distance >= near.distance) return;
  near.distance = distance;
  near.stuff = stuff;
  near.u = u;
  near.v = v;
  near.w = w;
}

/** A part of a body: its distance is exact or too small, never too large, outside of `radius` about `middle` it need not be asked. */
export interface Part {
  middle: V3;
  radius: number;
  /** Lowers `near.distance` where this part is nearer, and says what it is made of. */
  look(x: number, y: number, z: number, near: Near): void;
}

function lattice(x: number, y: number, z: number, seed: number): number {
  let h = Math.imul(x, 374761393) ^ Math.imul(y, 668265263) ^ Math.imul(z, 2147483647) ^ Math.imul(seed, 1274126177);
  h = Math.imul(h ^ (h >>> 15), 2246822519);
  h = Math.imul(h ^ (h >>> 13), 3266489917);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}
/** Smooth value noise in space, 0..1. */
export function noise3(x: number, y: number, z: number, seed: number): number {
  const xi = Math.floor(x),
    yi = Math.floor(y),
    zi = Math.floor(z);
  let fx = x - xi,
    fy = y - yi,
    fz = z - zi;
  fx = fx * fx * (3 - 2 * fx);
  fy = fy * fy * (3 - 2 * fy);
  fz = fz * fz * (3 - 2 * fz);
  const row = (y1: number, z1: number) => {
    const a = lattice(xi, y1, z1, seed);
    return a + (lattice(xi + 1, y1, z1, seed) - a) * fx;
  };
  const near = row(yi, zi),
    far = row(yi, zi + 1),
    low = near + (row(yi + 1, zi) - near) * fy;
  return low + (far + (row(yi + 1, zi + 1) - far) * fy - low) * fz;
}

/** A wave much like the cosine and much quicker: for folds and ribs. */
export function wave(x: number): number {
  const turn = x * 0.15915494309189535,
    u = 1 - 4 * Math.abs(turn - Math.floor(turn + 0.5));
  return u * (1.5 - 0.5 * u * u);
}

/** Smooth minimum: joins over `k` metres. */
export function join(a: number, b: number, k: number): number {
  const h = Math.max(0, k - Math.abs(a - b)) / k;
  return Math.min(a, b) - h * h * k * 0.25;
}

/** A tapered rod with round ends, in a form that is quick to ask. `flat` > 1 makes it thinner along `normal`. */
export class Rod {
  private readonly d: V3;
  private readonly part: number;
  constructor(
    readonly a: V3,
    readonly b: V3,
    readonly ra: number,
    readonly rb: number,
    private readonly normal: V3 | null = null,
    private readonly flat = 1,
  ) {
    this.d = sub(b, a);
    this.part = 1 / Math.max(1e-9, dot(this.d, this.d));
  }
  /** Share of the way from `a` to `b` that the last point asked for is nearest to. */
  t = 0;
  distance(x: number, y: number, z: number): number {
    const { a, d, normal } = this;
    let px = x - a[0],
      py = y - a[1],
      pz = z - a[2];
    const t = Math.max(0, Math.min(1, (px * d[0] + py * d[1] + pz * d[2]) * this.part));
    this.t = t;
    px -= d[0] * t;
    py -= d[1] * t;
    pz -= d[2] * t;
    const r = this.ra + (this.rb - this.ra) * t;
    if (!normal) return Math.sqrt(px * px + py * py + pz * pz) - r;
    const k = (px * normal[0] + py * normal[1] + pz * normal[2]) * (this.flat - 1);
    px += normal[0] * k;
    py += normal[1] * k;
    pz += normal[2] * k;
    return (Math.sqrt(px * px + py * py + pz * pz) - r) / this.flat;
  }
}

/** A sphere about points, for a part's bounds. */
export function around(points: readonly V3[], margin: number): { middle: V3; radius: number } {
  const low = [0, 1, 2].map((i) => Math.min(...points.map((p) => p[i]!))),
    high = [0, 1, 2].map((i) => Math.max(...points.map((p) => p[i]!)));
  const middle: V3 = [(low[0]! + high[0]!) / 2, (low[1]! + high[1]!) / 2, (low[2]! + high[2]!) / 2];
  return { middle, radius: Math.max(...points.map((p) => Math.sqrt(dot(sub(p, middle), sub(p, middle))))) + margin };
}

/** Several parts as one body. */
export class Solid {
  readonly bounds: { middle: V3; radius: number };
  constructor(
    private readonly parts: readonly Part[],
    bounds?: { middle: V3; radius: number },
  ) {
    this.bounds =
      bounds ??
      around(
        parts.flatMap(({ middle: m, radius: r }) =>
          [-r, r].flatMap((d) => [[m[0] + d, m[1], m[2]] as V3, [m[0], m[1] + d, m[2]] as V3, [m[0], m[1], m[2] + d] as V3]),
        ),
        0.01,
      );
  }
  /** Only what a ray, `margin` metres wide, can meet; null where that is nothing. */
  along(from: V3, way: V3, margin: number): Solid | null {
    const met = this.parts.filter(({ middle, radius }) => {
      const to = sub(middle, from),
        t = dot(to, way);
      return dot(to, to) - t * t < (radius + margin) * (radius + margin);
    });
    return met.length ? new Solid(met, this.bounds) : null;
  }
  look(x: number, y: number, z: number, near: Near): void {
    near.distance = 1e9;
    let missed = 1e9;
    for (const part of this.parts) {
      const { middle: m, radius } = part,
        dx = x - m[0],
        dy = y - m[1],
        dz = z - m[2],
        limit = radius + Math.min(near.distance, 0.12),
        away = dx * dx + dy * dy + dz * dz;
      // Farther than this the way to its bounds is a good enough answer.
      if (away > limit * limit) {
        if (missed > 0.1) missed = Math.min(missed, Math.sqrt(away) - radius);
      } else part.look(x, y, z, near);
    }
    near.rough = missed < near.distance;
    if (near.rough) near.distance = Math.max(missed, 0.02);
  }
}
