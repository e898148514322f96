import { exactMath, fractal2 } from '@wraithos/core/image';
import { capsule, coverage, join, type Point, type Region, type Rgb } from './field';
import type { Pose } from './pose';

const { exp, hypot, smoothstep, clamp, sin, cos } = exactMath;

/** The figure alone: straight colour in linear light, coverage of the body (the truth of the matte), and of the lantern's light. */
export interface Figure {
  region: Region;
  colour: Float32Array;
  matte: Float32Array;
}

export const REGION: Region = { x0: 350, y0: 190, width: 340, height: 470 };

type Distance = (x: number, y: number) => number;
interface Part {
  distance: Distance;
  colour: (x: number, y: number) => Rgb;
  inflate: number;
  rough?: (x: number, y: number) => number;
  box: [number, number, number, number];
}

function around(points: Point[], margin: number): [number, number, number, number] {
  const xs = points.map((p) => p.x),
    ys = points.map((p) => p.y);
  return [Math.min(...xs) - margin, Math.min(...ys) - margin, Math.max(...xs) + margin, Math.max(...ys) + margin];
}

/** Draws Ilse at one pose. Parts are laid far to near; each is a soft union of capsules, inflated to a height and lit by its normals. */
export function drawWarden(pose: Pose): Figure {
  const { x0, y0, width, height } = REGION,
    n = width * height;
  const colour = new Float32Array(n * 3),
    matte = new Float32Array(n),
    relief = new Float32Array(n),
    dist = new Float32Array(n);
  const { at, scale: S, feet } = pose,
    fy = feet.y,
    cx = (y: number) => feet.x + pose.lean * (fy - y);

  const fold = (x: number, y: number) => {
    const u = x - cx(y) - (y - fy) * 0.02 + pose.scarfSway * 6 * smoothstep(fy - 300, fy - 90, y);
    return fractal2(u / (15 + 0.02 * (fy - y)) + fractal2(u / 90, y / 190, 2, 83) * 1.6, (y - fy) / 330, 2, 81, 0.35) - 0.5;
  };
  const wool = (x: number, y: number) => (fractal2((x - cx(y)) / 1.9, (y - fy - pose.breath * 0.4) / 1.9, 2, 91) - 0.5) * 0.55;
  const limbWool = (a: Point, b: Point) => {
    const l = hypot(b.x - a.x, b.y - a.y),
      ux = (b.x - a.x) / l,
      uy = (b.y - a.y) / l;
    return (x: number, y: number) => {
      const along = (x - a.x) * ux + (y - a.y) * uy,
        across = (x - a.x) * uy - (y - a.y) * ux;
      return (fractal2(along / 1.9, across / 1.9, 2, 92) - 0.5) * 0.55 + (fractal2(along / 13, across / 9, 2, 94) - 0.5) * 2.4;
    };
  };
  const coatColour = (x: number, y: number): Rgb => {
    const k = 1.22 + 0.22 * (fractal2((x - cx(y)) / 30, (y - fy) / 30, 3, 93) - 0.5);
    return [0.112 * k, 0.15 * k, 0.215 * k];
  };
  const skin: Rgb = [0.5, 0.31, 0.22];
  const hem = (x: number) => fy - 0.17 * S + 5 * sin((x - feet.x) / 13) + pose.scarfSway * (x - feet.x) * 0.08;

  const coat: Distance = (x, y) => {
    let d = capsule(x, y, at(0, 1.3), at(0.02, 0.28), 29 + pose.breath * 0.5, 60) + fold(x, y) * 7 * smoothstep(fy - 330, fy - 120, y);
    d = Math.max(d, y - hem(x) - fold(x, y) * 14);
    d = Math.max(d, -(y - (fy - 1.46 * S)));
    return join(d, capsule(x, y, at(-0.17, 1.37), at(0.17, 1.37), 22 + pose.breath * 0.4, 22 + pose.breath * 0.4), 22);
  };
  const armLeft: Distance = (x, y) =>
    join(capsule(x, y, pose.armUpper, pose.elbow, 19, 16), capsule(x, y, pose.elbow, pose.hand, 16, 12), 7);
  const armRight: Distance = (x, y) =>
    join(capsule(x, y, at(0.2, 1.36), at(0.29, 1.06), 19, 17), capsule(x, y, at(0.29, 1.06), at(0.24, 0.8), 17, 12), 7);
  const fx = at(-0.045 - 0.018 * pose.turn, 1.622 + 0.012 * pose.turn); // middle of the face
  const face = (x: number, y: number) => hypot((x - fx.x) / (16 - 1.5 * pose.turn), (y - fx.y) / 24) - 1;
  const head: Distance = (x, y) =>
    Math.max(
      join(
        capsule(x, y, at(-0.01 * pose.turn, 1.6), at(-0.008 - 0.012 * pose.turn, 1.66), 24, 25),
        capsule(x, y, at(-0.025 - 0.02 * pose.turn, 1.57), at(-0.03 - 0.02 * pose.turn, 1.555), 13, 11),
        10,
      ),
      face(x, y) * 20,
    );
  const hood: Distance = (x, y) =>
    join(
      capsule(x, y, at(0.02, 1.55), at(0.025 - 0.008 * pose.turn, 1.68), 30, 29),
      capsule(x, y, at(0.08, 1.42), at(0.03, 1.52), 26, 28),
      14,
    );
  const faceRelief = (x: number, y: number) => {
    const u = x - fx.x,
      v = y - fx.y;
    const bump = (px: number, py: number, wx: number, wy: number) =>
      exp(-((u - px) / wx) * ((u - px) / wx) - ((v - py) / wy) * ((v - py) / wy));
    return (
      9 * bump(-5, 2, 4.2, 9) +
      4 * exp(-((v + 7.5) / 4) * ((v + 7.5) / 4)) -
      3.4 * bump(-1, 8.6, 6.5, 1.6) +
      2 * bump(-1.5, 11.5, 5, 2) -
      2.4 * bump(-6.5, -4, 4, 3) -
      2.4 * bump(5, -4, 4, 3) +
      2.6 * bump(7, 5, 5, 5)
    );
  };
  const faceColour = (x: number, y: number): Rgb => {
    const u = x - fx.x,
      v = y - fx.y,
      shade = (0.35 + 0.65 * smoothstep(12, -4, u)) * (0.5 + 0.5 * smoothstep(-23, -13, v));
    const lips = exp(-(((u + 1) / 6) * ((u + 1) / 6)) - ((v - 9.2) / 2.1) * ((v - 9.2) / 2.1)) * 0.5,
      cheek = exp(-(((u - 6) / 6) * ((u - 6) / 6)) - ((v - 4) / 5) * ((v - 4) / 5)) * 0.16;
    let k = shade;
    for (const ex of [-6.4, 4.6]) {
      const eye = hypot((u - ex) / 4, (v + 3.4) / 1.9) - 1,
        brow = hypot((u - ex) / 5.4, (v + 8.6 + 0.03 * (u - ex) * (u - ex)) / 1.3) - 1;
      k *= 1 - 0.78 * clamp(0.5 - eye * 2, 0, 1);
      k *= 1 - 0.42 * clamp(0.5 - brow * 1.6, 0, 1);
    }
    return [skin[0] * k * (1 + cheek), skin[1] * k * (1 - lips * 0.55 - cheek * 0.3), skin[2] * k * (1 - lips * 0.5)];
  };
  const sway = pose.scarfSway,
    tailEnd = at(0.185 + sway * 0.5, 1.08);
  const scarfDistance: Distance = (x, y) =>
    join(capsule(x, y, at(-0.12, 1.455), at(0.13, 1.44), 15, 16), capsule(x, y, at(-0.02, 1.43), at(0.01, 1.42), 19, 18), 8);
  const tail: Distance = (x, y) =>
    capsule(x, y, at(0.1, 1.42), tailEnd, 13, 17) + 2.4 * sin((y - tailEnd.y) / 9) + Math.max(0, y - tailEnd.y - 12) * 0.6;
  const checked = (a: Point, b: Point) => {
    const l = hypot(b.x - a.x, b.y - a.y),
      ux = (b.x - a.x) / l,
      uy = (b.y - a.y) / l;
    return (x: number, y: number): Rgb => {
      const f = fractal2((x - cx(y)) / 17, (y - fy) / 17, 2, 87) - 0.5;
      const along = (x - a.x) * ux + (y - a.y) * uy + f * 8,
        across = (x - a.x) * uy - (y - a.y) * ux + f * 8;
      const edge = (t: number) => {
        const s = sin((t * exactMath.PI) / 8);
        return clamp(s * 3.2, -1, 1);
      };
      const k = 0.5 + 0.5 * edge(along) * edge(across),
        weave = 0.8 + 0.4 * fractal2(along / 2.2, across / 2.2, 2, 97);
      return [(0.5 + 0.12 * k) * weave, (0.12 + 0.43 * k) * weave, (0.09 + 0.35 * k) * weave];
    };
  };
  const legs: Distance = (x, y) =>
    Math.min(capsule(x, y, at(-0.09, 0.25), at(-0.1, 0.04), 15, 12), capsule(x, y, at(0.1, 0.25), at(0.115, 0.04), 15, 12));
  const boots: Distance = (x, y) =>
    Math.min(capsule(x, y, at(-0.1, 0.05), at(-0.135, 0.02), 14, 10), capsule(x, y, at(0.115, 0.05), at(0.15, 0.02), 14, 10));
  const fingers = (hand: Point, other: Point): Distance => {
    const l = hypot(hand.x - other.x, hand.y - other.y),
      ux = (hand.x - other.x) / l,
      uy = (hand.y - other.y) / l;
    return (x, y) => capsule(x, y, hand, { x: hand.x + ux * 9, y: hand.y + uy * 9 }, 9, 7);
  };

  const light = pose.lantern;
  const everything: [number, number, number, number] = [x0, y0, x0 + width, y0 + height];
  const gray = (a: number, b: number, c: number) => (): Rgb => [a, b, c];
  const parts: Part[] = [
    { distance: legs, colour: gray(0.1, 0.1, 0.12), inflate: 12, box: [500, 560, 620, 660] },
    { distance: boots, colour: gray(0.07, 0.06, 0.06), inflate: 9, box: [500, 590, 620, 660] },
    {
      distance: hood,
      colour: (x, y) => {
        const c = coatColour(x, y);
        return [c[0] * 0.8, c[1] * 0.8, c[2] * 0.8];
      },
      inflate: 26,
      rough: (x, y) => wool(x, y) + fold(x, y) * 5,
      box: [490, 195, 640, 340],
    },
    {
      distance: coat,
      colour: coatColour,
      inflate: 44,
      rough: (x, y) => wool(x, y) + fold(x, y) * 30 * smoothstep(fy - 350, fy - 90, y),
      box: [470, 270, 660, 640],
    },
    { distance: head, colour: faceColour, inflate: 20, rough: faceRelief, box: [510, 215, 600, 320] },
    { distance: armRight, colour: coatColour, inflate: 17, rough: limbWool(at(0.2, 1.36), at(0.24, 0.8)), box: [570, 290, 680, 490] },
    {
      distance: fingers(at(0.24, 0.79), at(0.26, 0.95)),
      colour: gray(skin[0] * 0.7, skin[1] * 0.7, skin[2] * 0.7),
      inflate: 8,
      box: [590, 430, 650, 500],
    },
    { distance: tail, colour: checked(at(0.1, 1.42), tailEnd), inflate: 15, rough: (x, y) => wool(x, y) * 1.2, box: [540, 290, 660, 430] },
    {
      distance: scarfDistance,
      colour: checked(at(-0.12, 1.455), at(0.13, 1.44)),
      inflate: 17,
      rough: (x, y) => wool(x, y) * 1.4 + fold(x, y) * 6,
      box: [500, 270, 630, 345],
    },
    {
      distance: armLeft,
      colour: coatColour,
      inflate: 17,
      rough: limbWool(pose.armUpper, pose.hand),
      box: around([pose.armUpper, pose.elbow, pose.hand], 34),
    },
    { distance: fingers(pose.hand, pose.elbow), colour: gray(skin[0], skin[1], skin[2]), inflate: 8, box: around([pose.hand], 30) },
  ];

  const lay = (part: Part) => {
    const box = part.box ?? everything,
      ax = Math.max(1, Math.floor(box[0]) - x0),
      ay = Math.max(1, Math.floor(box[1]) - y0);
    const bx = Math.min(width - 1, Math.ceil(box[2]) - x0),
      by = Math.min(height - 1, Math.ceil(box[3]) - y0),
      inflate = part.inflate;
    for (let y = ay - 1; y <= by && y < height; y++)
      for (let x = ax - 1; x <= bx && x < width; x++) {
        const p = y * width + x,
          d = part.distance(x + x0 + 0.5, y + y0 + 0.5);
        dist[p] = d;
        const deep = clamp(-d, 0, inflate);
        relief[p] =
          d > 3
            ? 0
            : Math.sqrt(Math.max(0, 2 * deep * inflate - deep * deep)) + (part.rough && d < 3 ? part.rough(x + x0 + 0.5, y + y0 + 0.5) : 0);
      }
    for (let y = ay; y < by; y++)
      for (let x = ax; x < bx; x++) {
        const p = y * width + x,
          cover = coverage(dist[p]!);
        if (cover <= 0) continue;
        const gx = (relief[p + 1]! - relief[p - 1]!) / 2,
          gy = (relief[p + width]! - relief[p - width]!) / 2,
          nz = 1 / Math.sqrt(gx * gx + gy * gy + 1),
          nx = -gx * nz,
          ny = -gy * nz;
        const dx = light.x - (x + x0 + 0.5),
          dy = light.y - (y + y0 + 0.5),
          d = hypot(dx, dy) + 1;
        const key = clamp(((nx * dx + ny * dy) / d) * 0.92 + nz * 0.3, 0, 1) * Math.min(3, 1.9 * exp(-d / 150));
        const rimRaw = clamp(nx * 0.75 - ny * 0.35 - 0.15, 0, 1),
          rim = rimRaw * Math.sqrt(rimRaw) * (1 - nz),
          ambient = 0.34 + 0.28 * clamp(-ny, 0, 1) + 0.2 * nz;
        const base = part.colour(x + x0 + 0.5, y + y0 + 0.5),
          q = p * 3;
        const shaded: Rgb = [
          base[0] * (0.132 * ambient + 1.25 * key + 0.5 * rim),
          base[1] * (0.161 * ambient + 0.72 * key + 0.55 * rim),
          base[2] * (0.23 * ambient + 0.32 * key + 0.72 * rim),
        ];
        mixIn(q, p, shaded, cover);
      }
  };
  const mixIn = (q: number, p: number, c: Rgb, a: number) => {
    // Straight colour where coverage grows: weight by what this part adds, so that edges keep the part's own colour.
    const before = matte[p]!,
      after = a + before * (1 - a);
    for (let k = 0; k < 3; k++) colour[q + k] = after > 0 ? (c[k]! * a + colour[q + k]! * before * (1 - a)) / after : 0;
    matte[p] = after;
  };
  const paint = (box: [number, number, number, number], cover: (x: number, y: number) => number, c: (x: number, y: number) => Rgb) => {
    for (let y = Math.max(0, Math.floor(box[1]) - y0); y < Math.min(height, box[3] - y0); y++)
      for (let x = Math.max(0, Math.floor(box[0]) - x0); x < Math.min(width, box[2] - x0); x++) {
        const a = cover(x + x0 + 0.5, y + y0 + 0.5);
        if (a > 0) mixIn((y * width + x) * 3, y * width + x, c(x + x0 + 0.5, y + y0 + 0.5), a);
      }
  };
  parts.slice(0, -2).forEach(lay);
  paint(
    around([pose.pin], 8),
    (x, y) => coverage(hypot(x - pose.pin.x, y - pose.pin.y) - 4.4),
    (x, y) => {
      const k =
        0.7 +
        0.25 * smoothstep(4, -4, x - pose.pin.x + y - pose.pin.y) +
        0.9 * exp(-(hypot(x - pose.pin.x + 1.2, y - pose.pin.y + 1.2) / 1.5) * (hypot(x - pose.pin.x + 1.2, y - pose.pin.y + 1.2) / 1.5));
      return [0.62 * k, 0.54 * k, 0.31 * k];
    },
  );
  parts.slice(-2).forEach(lay);
  drawLantern(pose, paint);
  return { region: REGION, colour, matte };
}

function drawLantern(
  pose: Pose,
  paint: (box: [number, number, number, number], cover: (x: number, y: number) => number, c: (x: number, y: number) => Rgb) => void,
): void {
  const l = pose.lantern,
    c = cos(pose.lanternSwing),
    s = sin(pose.lanternSwing),
    box = around([l, pose.ring], 40);
  const local = (x: number, y: number): [number, number] => [(x - l.x) * c - (y - l.y) * s, (x - l.x) * s + (y - l.y) * c];
  const shell = (u: number, v: number) => Math.max(Math.abs(u) - 11, Math.abs(v) - 17);
  paint(
    box,
    (x, y) => coverage(Math.abs(hypot(x - pose.ring.x, y - pose.ring.y) - 8) - 1.3),
    () => [0.12, 0.09, 0.06],
  );
  paint(
    box,
    (x, y) => coverage(shell(...local(x, y))),
    (x, y) => {
      const [u, v] = local(x, y),
        k = 1.2 * exp(-((u / 7) * (u / 7)) - (v / 10) * (v / 10)) + 0.35;
      return [1.5 * k, 0.92 * k, 0.42 * k];
    },
  );
  paint(
    box,
    (x, y) => {
      const [u, v] = local(x, y);
      return coverage(Math.max(Math.min(Math.abs(Math.abs(u) - 11) - 1.5, Math.abs(Math.abs(v) - 17) - 2.4), shell(u, v) - 2));
    },
    () => [0.05, 0.035, 0.025],
  );
  paint(
    box,
    (x, y) => {
      const [u, v] = local(x, y);
      return coverage(Math.max(Math.abs(u) - (14 - (-17 - v) * 0.9), Math.max(-30 - v, v + 16)));
    },
    () => [0.09, 0.065, 0.045],
  );
}
