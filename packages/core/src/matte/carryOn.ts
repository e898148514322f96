import { exp, hypot } from '../image/exactMath';
import type { Plane } from '../image/picture';
import { FeatureCloud, similarityNear, type FeatureMatch, type Linear, type Says } from '../motion/featureCloud';
import { agreedSimilarity, moved, sizeOf, turnOf, type Similarity } from '../motion/similarity';
import { edgeProfile, profileShift } from './edgeProfile';
import { insideOf } from './inside';
import { mappedVertex } from './outlineKeys';
import { curveBetween, onCurve, type Vertex } from './vertex';

type Point = readonly [number, number];
/** An outline on a frame, and how sure each of its vertices is, 0..1. */
export interface CarriedShape {
  frame: number;
  vertices: Vertex[];
  sure: number[];
}

/** Features that are followed in a body: enough for each limb to have some. */
const FEATURES = 140;
/** A feature keeps clear of the edge by this much, pixels: what is behind would pull it. */
const CLEAR: readonly Point[] = [
  [-5, 0],
  [5, 0],
  [0, -5],
  [0, 5],
];
/** Features that must agree before they say how the whole moves, and pixels by which one may be off it, with a share of the size for cloth and limbs. */
const AGREE = 5,
  WITHIN = 1.5,
  GIVES = 0.02;
/** Likeness from which a feature counts. */
const LIKE = 0.25;
/** How far around a place features say where it goes: a share of the outline's size, and pixels at the least. */
const NEAR = 0.1,
  NEAREST = 9;
/** How much the motion of the whole counts where hardly anything near says something else, in features. */
const WHOLE = 0.35;
/** Neighbours that a feature is compared with, and by how many pixels it may go another way than these: a limb does, chance does not. */
const NEIGHBOURS = 7,
  OWN_WAY = 1.2;
/** Features that say how what is about one bends, and how stiff it is, square pixels. */
const ABOUT = 9,
  STIFF = 80,
  /** The share of its own speed that a feature is taken to go on with. */
  GOES_ON = 0.8;
/** Pixels along the outline between places where its edge is looked for; how far, at first and then; and the likeness from which it counts. */
const SPACING = 6,
  FAR = 8,
  CLOSE = 4,
  ALIKE = 0.5;
/** What a place of the edge says of the whole, against a feature. */
const EDGE_SAYS = 0.25;
/** Pixels by which the edge may pull a vertex off its way, and how strongly it is held there. */
const PULL = 4,
  HELD = 0.3;
/** Where it has turned (radians) or grown by so much since it was looked at, and looks as it should, it is looked at anew. */
const TURNED = 0.35,
  GROWN = 1.25,
  SURE = 0.6;

/** A place of the edge: after which vertex, at which share of the way to the next, and how it looked across. */
interface EdgePlace {
  after: number;
  share: number;
  look: Float32Array;
}
/** The outline as it was looked at last: nothing drifts as long as that is good. */
interface Look {
  vertices: readonly Vertex[];
  cloud: FeatureCloud;
  edges: EdgePlace[];
  middle: Point;
  size: number;
}
const STILL: Similarity = { a: 1, b: 0, x: 0, y: 0 };

/**
 * Carries an outline from frame to frame by the picture's own motion and edges. Features inside are looked for as they looked where the outline was drawn;
 * the motion that most of them and the edge agree with is that of the whole, each vertex goes another way as far as the features near it do, so that a
 * limb takes its part of the outline along, and at last its edge is looked for across the line. What is covered goes with the whole. Planes are luma;
 * vertices in their pixels.
 */
export class OutlineCarrier {
  private seen: Look;
  /** From where it was looked at to where it is, and what it did in the last step. */
  private map: Similarity = STILL;
  private speed: Similarity = STILL;
  /** By how much each feature went another way than the whole, in the last step. */
  private own = new Map<Point, Bending>();

  constructor(
    first: Plane,
    private readonly frame: number,
    private vertices: readonly Vertex[],
  ) {
    if (vertices.length < 3) throw new RangeError('OutlineCarrier: an outline of fewer than three points has no inside.');
    this.seen = this.lookAt(first, vertices);
  }
  get start(): CarriedShape {
    return { frame: this.frame, vertices: [...this.vertices], sure: this.vertices.map(() => 1) };
  }

  private lookAt(plane: Plane, vertices: readonly Vertex[]): Look {
    const xs = vertices.map((v) => v.x),
      ys = vertices.map((v) => v.y),
      box = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)] as const,
      inside = insideOf(vertices),
      clear = ([x, y]: Point) => CLEAR.every(([dx, dy]) => inside([x + dx, y + dy])),
      edges: EdgePlace[] = [];
    let cloud = new FeatureCloud(plane, box, clear, FEATURES);
    // A small or narrow one has no place that keeps clear.
    if (cloud.places.length < 2 * AGREE) cloud = new FeatureCloud(plane, box, inside, FEATURES);
    vertices.forEach((a, after) => {
      const b = vertices[(after + 1) % vertices.length]!,
        n = Math.min(12, Math.max(1, Math.round(hypot(b.x - a.x, b.y - a.y) / SPACING)));
      for (let k = 0; k < n; k++) {
        const share = (k + 0.5) / n,
          { at, inwards } = across(vertices, after, share);
        edges.push({ after, share, look: edgeProfile(plane, at, inwards) });
      }
    });
    return {
      ...{ vertices, cloud, edges, middle: [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2] as const },
      size: Math.max(box[2] - box[0], box[3] - box[1]),
    };
  }

  /** Carries it on to the next frame, in either direction of time. */
  step(plane: Plane, frame: number): CarriedShape {
    const { seen } = this,
      expected = movedOn(this.map, this.speed),
      matches = seen.cloud.follow(plane, (own) => {
        const [x, y] = moved(expected, own),
          theirs = this.own.get(own);
        return {
          at: theirs ? [x + theirs.next[0], y + theirs.next[1]] : [x, y],
          linear: [0, 1, 2, 3].map((i) => [expected.a, expected.b, -expected.b, expected.a][i]! + (theirs?.bends[i] ?? 0)) as never,
        };
      }),
      fitting = matches.filter((m) => m.like > LIKE),
      agreed =
        fitting.length >= AGREE
          ? agreedSimilarity(
              fitting.map((m) => [m.own, m.at] as const),
              WITHIN + GIVES * seen.size * sizeOf(expected),
              sizeOf(expected),
            )
          : null,
      agreeing = agreed ? fitting.filter((_, i) => agreed.agrees[i]) : [],
      known = agreed !== null && agreeing.length >= AGREE,
      places: Says[] = (known ? agreeing : []).map((m) => ({ own: m.own, at: m.at, weight: m.like }));
    let map = known ? agreed.map : expected;
    // The edge has a say in where the whole is: the less is seen inside, the more.
    for (const reach of known ? [CLOSE] : [FAR, CLOSE, CLOSE])
      map = similarityNear(map, [...places, ...this.edgeSays(plane, map, reach)], seen.middle, 0.5);
    const before = this.map;
    this.map = map;
    this.speed = known || this.speedIsSmall(before, map) ? stepFrom(before, map) : this.speed;
    const going = withTheirs(matches, map),
      near = Math.max(NEAREST, NEAR * seen.size);
    this.own = bendsOf(going, this.own);
    const supports: number[] = [],
      went = seen.vertices.map((v) => {
        const { by, support } = localMotion(going, [v.x, v.y], near);
        supports.push(support);
        return grownVertex(v, map, by);
      }),
      { vertices, looks } = this.toEdges(plane, went, sizeOf(map));
    this.vertices = vertices;
    const sure = supports.map((s, i) => 1 - (1 - s) * (1 - looks[i]!));
    this.renew(plane, sure);
    return { frame, vertices: [...vertices], sure };
  }
  /** A step of the edges alone is believed as a speed only where it is no leap. */
  private speedIsSmall(before: Similarity, now: Similarity): boolean {
    const [a, b] = [moved(before, this.seen.middle), moved(now, this.seen.middle)];
    return hypot(a[0] - b[0], a[1] - b[1]) < 3 * FAR;
  }

  /** Looks anew where so much has changed that the first look no longer serves, and where it is sure. */
  private renew(plane: Plane, sure: readonly number[]): void {
    const grown = sizeOf(this.map),
      mean = sure.reduce((a, b) => a + b, 0) / sure.length;
    if (mean < SURE || (Math.abs(turnOf(this.map)) < TURNED && grown < GROWN && grown > 1 / GROWN)) return;
    this.seen = this.lookAt(plane, this.vertices);
    this.map = STILL;
    this.own.clear();
  }

  /** What the edge says of the whole: at each of its places, how far across it lies. */
  private edgeSays(plane: Plane, map: Similarity, reach: number): Says[] {
    const { vertices, edges } = this.seen,
      growth = sizeOf(map),
      says: Says[] = [];
    for (const edge of edges) {
      const { at: own, inwards } = across(vertices, edge.after, edge.share),
        at = moved(map, own),
        along: Point = [(map.a * inwards[0] - map.b * inwards[1]) / growth, (map.b * inwards[0] + map.a * inwards[1]) / growth],
        { shift, like } = profileShift(edge.look, plane, at, along, growth, reach),
        sure = Math.max(0, (like - ALIKE) / (1 - ALIKE));
      if (sure > 0) says.push({ own, at: [at[0] + along[0] * shift, at[1] + along[1] * shift], along, weight: EDGE_SAYS * sure * sure });
    }
    return says;
  }

  /** Pulls vertices across the line to where its edge looks as it did, and says how much it looks like that, 0..1. */
  private toEdges(plane: Plane, went: readonly Vertex[], growth: number): { vertices: Vertex[]; looks: number[] } {
    const n = went.length,
      // The normal equations of each vertex: where its edge lies, from the places on both its sides.
      sums = went.map(() => ({ xx: 0, xy: 0, yy: 0, x: 0, y: 0, weight: 0, like: 0 }));
    for (const edge of this.seen.edges) {
      const { at, inwards } = across(went, edge.after, edge.share),
        { shift, like } = profileShift(edge.look, plane, at, inwards, growth, CLOSE),
        sure = Math.max(0, (like - ALIKE) / (1 - ALIKE));
      for (const [i, share] of [
        [edge.after, 1 - edge.share],
        [(edge.after + 1) % n, edge.share],
      ] as const) {
        const w = share * sure * sure,
          s = sums[i]!;
        s.xx += w * inwards[0] * inwards[0];
        s.xy += w * inwards[0] * inwards[1];
        s.yy += w * inwards[1] * inwards[1];
        s.x += w * inwards[0] * shift;
        s.y += w * inwards[1] * shift;
        s.weight += share;
        s.like += share * sure;
      }
    }
    const vertices = went.map((v, i) => {
      const s = sums[i]!,
        held = HELD * Math.max(1e-6, s.weight),
        [xx, yy] = [s.xx + held, s.yy + held],
        det = xx * yy - s.xy * s.xy,
        dx = (yy * s.x - s.xy * s.y) / det,
        dy = (xx * s.y - s.xy * s.x) / det,
        size = Math.max(1, hypot(dx, dy) / PULL);
      return { ...v, x: v.x + dx / size, y: v.y + dy / size };
    });
    return { vertices, looks: sums.map((s) => (s.weight > 0 ? s.like / s.weight : 0)) };
  }
}

/** A place of an outline, and the direction inwards there, of length 1. */
function across(vertices: readonly Vertex[], from: number, share: number): { at: Point; inwards: Point } {
  const a = vertices[from]!,
    b = vertices[(from + 1) % vertices.length]!,
    [p, q, r, s] = curveBetween(a, b),
    w = 1 - share,
    way = (c: 0 | 1) => w * w * (q[c] - p[c]) + 2 * w * share * (r[c] - q[c]) + share * share * (s[c] - r[c]),
    [dx, dy] = [way(0), way(1)],
    l = hypot(dx, dy) || 1,
    side = turnsRight(vertices) ? 1 : -1;
  return { at: onCurve(a, b, share), inwards: [(-side * dy) / l, (side * dx) / l] };
}
const turnsRight = (vertices: readonly Vertex[]): boolean =>
  vertices.reduce((sum, a, i) => {
    const b = vertices[(i + 1) % vertices.length]!;
    return sum + a.x * b.y - b.x * a.y;
  }, 0) > 0;

/** A map and then another step of what it did. */
const movedOn = (map: Similarity, step: Similarity): Similarity => {
  const [x, y] = moved(step, [map.x, map.y]);
  return { a: step.a * map.a - step.b * map.b, b: step.b * map.a + step.a * map.b, x, y };
};
/** The step that leads from one map to another. */
function stepFrom(from: Similarity, to: Similarity): Similarity {
  const k = from.a * from.a + from.b * from.b,
    a = (to.a * from.a + to.b * from.b) / k,
    b = (to.b * from.a - to.a * from.b) / k;
  return { a, b, x: to.x - a * from.x + b * from.y, y: to.y - b * from.x - a * from.y };
}

/** A vertex where the whole and those near it took it; its handles and feather turn and grow with the whole. */
function grownVertex(v: Vertex, map: Similarity, by: Point): Vertex {
  const growth = sizeOf(map),
    carried = mappedVertex(v, (p) => {
      const [x, y] = moved(map, p);
      return [x + by[0], y + by[1]];
    });
  return { ...carried, inner: v.inner * growth, outer: v.outer * growth };
}

interface Going extends FeatureMatch {
  /** By how much it went another way than the whole. */
  by: Point;
  /** It goes its way with its neighbours. */
  counts: boolean;
}
/** Features with their own ways, and whether their neighbours share them: a limb goes its own way as one, chance does not. */
function withTheirs(matches: readonly FeatureMatch[], map: Similarity): Going[] {
  const all = matches.map((m): Going => {
      const [x, y] = moved(map, m.own);
      return { ...m, by: [m.at[0] - x, m.at[1] - y], counts: false };
    }),
    fitting = all.filter((f) => f.like > LIKE);
  // Twice: what chance found at first has no say in what its neighbours do.
  let asked = fitting;
  for (const within of [3 * OWN_WAY, OWN_WAY]) {
    for (const f of fitting) {
      const said = asked
          .filter((o) => o !== f)
          .map((o) => ({ g: o, w: 1, d: hypot(o.own[0] - f.own[0], o.own[1] - f.own[1]) }))
          .sort((a, b) => a.d - b.d)
          .slice(0, NEIGHBOURS),
        mean = (c: 0 | 1, of: 'own' | 'by') => said.reduce((sum, { g }) => sum + g[of][c], 0) / Math.max(1, said.length),
        [xx, yx, xy, yy] = bendOf(said, [mean(0, 'own'), mean(1, 'own')], [mean(0, 'by'), mean(1, 'by')]),
        // What each neighbour did, bent on to this place.
        theirs = said.map(({ g }): Point => {
          const [dx, dy] = [f.own[0] - g.own[0], f.own[1] - g.own[1]];
          return [g.by[0] + xx * dx + xy * dy, g.by[1] + yx * dx + yy * dy];
        }),
        middle = (c: 0 | 1) => theirs.map((p) => p[c]).sort((p, q) => p - q)[theirs.length >> 1] ?? 0;
      f.counts = hypot(f.by[0] - middle(0), f.by[1] - middle(1)) < within;
    }
    asked = fitting.filter((f) => f.counts);
  }
  return all;
}

/** By how much a feature went another way than the whole, by how much it will have, and how that grows from place to place. */
interface Bending {
  by: Point;
  next: Point;
  bends: Linear;
}
/** What each feature and those about it did beside the whole: by how much it went another way, and how that grows from place to place. */
function bendsOf(going: readonly Going[], before: ReadonlyMap<Point, Bending>): Map<Point, Bending> {
  const counting = going.filter((g) => g.counts),
    out = new Map<Point, Bending>();
  for (const g of counting) {
    const about = counting
      .map((o) => ({ o, d: hypot(o.own[0] - g.own[0], o.own[1] - g.own[1]) }))
      .sort((a, b) => a.d - b.d)
      .slice(0, ABOUT);
    const was = before.get(g.own)?.by ?? g.by;
    out.set(g.own, {
      by: g.by,
      next: [g.by[0] + GOES_ON * (g.by[0] - was[0]), g.by[1] + GOES_ON * (g.by[1] - was[1])],
      bends: bendOf(
        about.map(({ o }) => ({ g: o, w: 1 })),
        g.own,
        g.by,
      ),
    });
  }
  return out;
}

/**
 * By how much a place goes another way than the whole, as the features near it say, bending on as they bend (moving least squares); and how much of what is
 * near is seen, 0..1.
 */
function localMotion(features: readonly Going[], own: Point, near: number): { by: Point; support: number } {
  const said: { g: Going; w: number }[] = [];
  let [x, y, u, v, weight, all] = [0, 0, 0, 0, 0, 0];
  for (const g of features) {
    const d = hypot(g.own[0] - own[0], g.own[1] - own[1]) / near;
    if (d > 3) continue;
    const w = exp(-0.5 * d * d);
    all += w;
    if (!g.counts) continue;
    said.push({ g, w });
    weight += w;
    x += w * g.by[0];
    y += w * g.by[1];
    u += w * g.own[0];
    v += w * g.own[1];
  }
  if (!(weight > 0)) return { by: [0, 0], support: 0 };
  const by: Point = [x / weight, y / weight],
    about: Point = [u / weight, v / weight],
    [xx, yx, xy, yy] = bendOf(said, about, by),
    [dx, dy] = [own[0] - about[0], own[1] - about[1]],
    share = weight / (weight + WHOLE);
  return {
    by: [share * (by[0] + xx * dx + xy * dy), share * (by[1] + yx * dx + yy * dy)],
    support: (weight / all) * Math.min(1, weight / WHOLE),
  };
}
/** How what features did grows from place to place, by least squares about a place that did `by`. */
function bendOf(said: readonly { g: Going; w: number }[], about: Point, by: Point): Linear {
  let [uu, uv, vv, ux, vx, uy, vy] = [STIFF, 0, STIFF, 0, 0, 0, 0];
  for (const { g, w } of said) {
    const u = g.own[0] - about[0],
      v = g.own[1] - about[1],
      [x, y] = [g.by[0] - by[0], g.by[1] - by[1]];
    uu += w * u * u;
    uv += w * u * v;
    vv += w * v * v;
    ux += w * u * x;
    vx += w * v * x;
    uy += w * u * y;
    vy += w * v * y;
  }
  const d = uu * vv - uv * uv;
  return [(vv * ux - uv * vx) / d, (vv * uy - uv * vy) / d, (uu * vx - uv * ux) / d, (uu * vy - uv * uy) / d];
}
