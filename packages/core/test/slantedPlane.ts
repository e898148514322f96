import { exactMath, fractal2, newPlane, normal, seenAt, back, toCorners, type Homography, type Plane } from '../src/image';

type Point = readonly [number, number];

/** A flat, printed wall seen by a camera that goes around it, before a background that moves otherwise. */
export interface SlantedOptions {
  width: number;
  height: number;
  /** Angle of the wall to the picture at a frame, degrees about its upright, and how far it has moved. */
  at(frame: number): { degrees: number; x: number; y: number; scale?: number };
  grain?: number;
  flicker?: number;
  /** A round thing that passes in front: its middle and radius. */
  ball?: (frame: number) => readonly [number, number, number];
}
/** Size of the wall on itself, and the camera's distance, pixels. */
export const WALL = { width: 260, height: 180 },
  AWAY = 700;

/** Corners of the wall on the picture. */
export function wallCorners(options: SlantedOptions, frame: number): [Point, Point, Point, Point] {
  const { degrees, x, y, scale = 1 } = options.at(frame),
    a = exactMath.radians(degrees);
  return (
    [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ] as const
  ).map(([u, v]): Point => {
    const px = (u * WALL.width) / 2,
      py = (v * WALL.height) / 2,
      depth = AWAY + px * exactMath.sin(a);
    return [x + (scale * AWAY * px * exactMath.cos(a)) / depth, y + (scale * AWAY * py) / depth];
  }) as never;
}
/** Print of the wall: blotches, weave and hard strokes. */
const print = (u: number, v: number): number => {
  const stroke = exactMath.sin(u * 0.21 + 3 * fractal2(u / 50, v / 50, 2, 4)) * exactMath.sin(v * 0.17) > 0.55 ? 0.3 : 0;
  return 0.3 + 0.45 * fractal2(u / 31, v / 31, 3, 7) + 0.25 * (fractal2(u / 5, v / 5, 3, 12) - 0.5) + stroke;
};

/** Samples of the print for each of its pixels, to each side; drawn once, since it takes longer than all else. */
const FINE = 2;
let printed: Float32Array | null = null,
  ground: { width: number; data: Float32Array } | null = null;
function printAt(u: number, v: number): number {
  const wide = WALL.width * FINE,
    high = WALL.height * FINE;
  printed ??= Float32Array.from({ length: wide * high }, (_, i) => print(((i % wide) + 0.5) / FINE, (Math.floor(i / wide) + 0.5) / FINE));
  const x = Math.min(wide - 1.001, Math.max(0, u * FINE - 0.5)),
    y = Math.min(high - 1.001, Math.max(0, v * FINE - 0.5)),
    i = Math.floor(x),
    j = Math.floor(y),
    p = j * wide + i,
    above = printed[p]! + (x - i) * (printed[p + 1]! - printed[p]!),
    below = printed[p + wide]! + (x - i) * (printed[p + wide + 1]! - printed[p + wide]!);
  return above + (y - j) * (below - above);
}
/** What lies behind the wall, going by on its own. */
function behind(x: number, y: number, frame: number, height: number): number {
  const width = 600;
  if (!ground || ground.data.length < width * height)
    ground = {
      width,
      data: Float32Array.from(
        { length: width * height },
        (_, i) => 0.25 + 0.4 * fractal2((i % width) / 40, Math.floor(i / width) / 40, 4, 90),
      ),
    };
  const at = (((x - 3 * frame) % width) + width) % width;
  return ground.data[y * width + at]!;
}

/** One luma frame of it, display-encoded, 0..1. */
export function drawSlanted(frame: number, options: SlantedOptions): Plane {
  const { width, height, grain = 0, flicker = 0, ball } = options,
    plane = newPlane(width, height),
    m = toCorners(WALL.width, WALL.height, wallCorners(options, frame))!,
    undone = back(m) as Homography,
    gain = 1 + flicker * exactMath.sin(frame * 2.1),
    before = ball?.(frame);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const [u, v] = seenAt(undone, [x + 0.5, y + 0.5]).at,
        inside = u > 0 && v > 0 && u < WALL.width && v < WALL.height;
      let value = inside ? printAt(u, v) : behind(x, y, frame, height);
      if (before && exactMath.hypot(x + 0.5 - before[0], y + 0.5 - before[1]) < before[2])
        value = 0.1 + 0.3 * fractal2((x - before[0]) / 9, (y - before[1]) / 9, 3, 33);
      plane.data[p] = Math.min(1, Math.max(0, value * gain + (grain ? grain * normal(p, frame, 3) : 0)));
    }
  return plane;
}
