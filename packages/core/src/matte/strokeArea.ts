import { exp } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import { emptyPlane } from '../image/planeMath';
import { paletteOf, type Shade } from './palette';
import { cellAt, emptySystem, giveSystem, solveMask } from './solveMask';

/** A stroke over what is inside or outside of the wanted area, pixels of the picture. */
export interface AreaStroke {
  inside: boolean;
  points: readonly (readonly [number, number])[];
  radius: number;
}

/** How strongly a stroke says what it is, and a pixel whose colour is like that under the strokes of one kind. */
const STROKE = 1000,
  COLOUR = 0.004;
/** How strongly the border of the picture says that it is outside: where strokes say what is, and where none does. */
const BORDER = [0.01, 0.05] as const;
/** The least link between two pixels, and the least contrast, 0..1 of the display range, that parts them. */
const LINK = 1e-4,
  CONTRAST = 0.015;
/** Shades of either kind, and how far from them a colour is still alike. */
const SHADES = 8,
  ALIKE = 0.03;

const squared = (v: number): number => v * v;

/** Marks the pixels under a stroke. */
function under({ points, radius }: AreaStroke, width: number, height: number, mark: (p: number) => void): void {
  const dot = (cx: number, cy: number) => {
    for (let y = Math.max(0, Math.floor(cy - radius)); y <= Math.min(height - 1, cy + radius); y++)
      for (let x = Math.max(0, Math.floor(cx - radius)); x <= Math.min(width - 1, cx + radius); x++)
        if (squared(x + 0.5 - cx) + squared(y + 0.5 - cy) <= radius * radius) mark(y * width + x);
  };
  points.forEach(([x, y], i) => {
    const [px, py] = points[i - 1] ?? [x, y],
      steps = Math.max(1, Math.ceil(Math.sqrt(squared(x - px) + squared(y - py)) / Math.max(0.5, radius)));
    for (let s = 0; s <= steps; s++) dot(px + ((x - px) * s) / steps, py + ((y - py) * s) / steps);
  });
}
const nearestShade = (shades: readonly Shade[], r: number, g: number, b: number): number => {
  let least = Infinity;
  for (const { colour, spread } of shades) {
    const d = (squared(r - colour[0]) + squared(g - colour[1]) + squared(b - colour[2])) / (3 * (spread * spread + ALIKE * ALIKE));
    if (d < least) least = d;
  }
  return least;
};

/**
 * The area that a few strokes mean, 0..1: where a walker who crosses edges of the picture unwillingly comes to an inside stroke first (Grady, "Random Walks for
 * Image Segmentation", 2006), with the colours under both kinds of strokes as a weak word for every pixel. Without an outside stroke the border of the picture
 * is outside.
 * @returns a value for each pixel, for the caller to give back; all 0 where nothing is said to be inside.
 */
export function areaOfStrokes({ width, height, data }: Picture, strokes: readonly AreaStroke[], pictures: Pictures): Plane {
  const n = width * height,
    said = new Int8Array(n),
    display = new Float32Array(3 * n);
  for (let k = 0; k < n; k++) for (let c = 0; c < 3; c++) display[3 * k + c] = Math.sqrt(Math.max(0, data[4 * k + c]!));
  for (const stroke of strokes) under(stroke, width, height, (p) => (said[p] = stroke.inside ? 1 : -1));
  if (!said.includes(1)) return emptyPlane(width, height, pictures);
  const shadesOf = (kind: number): Shade[] => {
    const list: number[] = [];
    for (let p = 0; p < n; p++) if (said[p] === kind) list.push(display[3 * p]!, display[3 * p + 1]!, display[3 * p + 2]!);
    return paletteOf(Float32Array.from(list), SHADES);
  };
  const [inner, outer] = [shadesOf(1), shadesOf(-1)],
    s = emptySystem(width, height, pictures);
  // How much neighbours differ anyway: grain and texture part nothing.
  let [sum, count] = [0, 0];
  const step = (p: number, q: number) =>
    squared(display[3 * p]! - display[3 * q]!) +
    squared(display[3 * p + 1]! - display[3 * q + 1]!) +
    squared(display[3 * p + 2]! - display[3 * q + 2]!);
  for (let p = 0; p + width < n; p += 7) {
    sum += Math.sqrt(step(p, p + width));
    count++;
  }
  const usual = Math.max(CONTRAST, (1.5 * sum) / Math.max(1, count)),
    link = (p: number, q: number) => LINK + exp(-step(p, q) / (2 * usual * usual));
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0, q = cellAt(s, 0, y); x < width; x++, p++, q++) {
      const say = (value: number, weight: number) => {
        s.said.data[q] = value * weight;
        s.weight.data[q] = weight;
      };
      if (x + 1 < width) s.right.data[q] = link(p, p + 1);
      if (y + 1 < height) s.below.data[q] = link(p, p + width);
      if (said[p] !== 0) say(said[p]! > 0 ? 1 : 0, STROKE);
      else if (x === 0 || y === 0 || x === width - 1 || y === height - 1) say(0, BORDER[outer.length ? 0 : 1]);
      else if (outer.length) {
        const [i, o] = [inner, outer].map((shades) =>
          exp(-nearestShade(shades, display[3 * p]!, display[3 * p + 1]!, display[3 * p + 2]!)),
        ) as [number, number];
        say((i + 1e-3) / (i + o + 2e-3), COLOUR * Math.abs(i - o));
      }
    }
  const out = solveMask(s, pictures, 12);
  giveSystem(s, pictures);
  return out;
}

/** A line around an area, closed, in pixels, and whether it surrounds a hole of it. */
export interface AreaLine {
  points: [number, number][];
  /** What it surrounds, square pixels. */
  area: number;
  hole: boolean;
}
/** Lines of a smaller area, square pixels, are left out. */
const LEAST_AREA = 24;
/**
 * The lines along which a grid of values passes 0.5 (marching squares), to fractions of a pixel; the middles of pixels lie at halves. Beyond the border
 * everything is outside. Large areas first.
 */
export function linesAround(values: Plane['data'], width: number, height: number): AreaLine[] {
  const at = (x: number, y: number) => (x < 0 || y < 0 || x >= width || y >= height ? 0 : values[y * width + x]!),
    /** Where each piece of line leads, by the edge of the grid on which it begins: 2 edges a corner. */
    leads = new Map<number, number>(),
    places = new Map<number, [number, number]>(),
    wide = width + 2,
    edge = (x: number, y: number, down: boolean): number => {
      const key = 2 * ((y + 1) * wide + (x + 1)) + (down ? 1 : 0);
      if (!places.has(key)) {
        const [a, b] = [at(x, y), down ? at(x, y + 1) : at(x + 1, y)],
          t = (0.5 - a) / (b - a);
        places.set(key, down ? [x + 0.5, y + 0.5 + t] : [x + 0.5 + t, y + 0.5]);
      }
      return key;
    };
  for (let y = -1; y < height; y++)
    for (let x = -1; x < width; x++) {
      const [tl, tr, br, bl] = [at(x, y) > 0.5, at(x + 1, y) > 0.5, at(x + 1, y + 1) > 0.5, at(x, y + 1) > 0.5],
        kind = (tl ? 8 : 0) + (tr ? 4 : 0) + (br ? 2 : 0) + (bl ? 1 : 0);
      if (kind === 0 || kind === 15) continue;
      const [top, left, bottom, right] = [
          () => edge(x, y, false),
          () => edge(x, y, true),
          () => edge(x, y + 1, false),
          () => edge(x + 1, y, true),
        ],
        put = (from: () => number, to: () => number) => leads.set(from(), to());
      // The area lies to the right of each line.
      if (kind === 1) put(bottom, left);
      else if (kind === 2) put(right, bottom);
      else if (kind === 3) put(right, left);
      else if (kind === 4) put(top, right);
      else if (kind === 5) {
        put(top, right);
        put(bottom, left);
      } else if (kind === 6) put(top, bottom);
      else if (kind === 7) put(top, left);
      else if (kind === 8) put(left, top);
      else if (kind === 9) put(bottom, top);
      else if (kind === 10) {
        put(left, top);
        put(right, bottom);
      } else if (kind === 11) put(right, top);
      else if (kind === 12) put(left, right);
      else if (kind === 13) put(bottom, right);
      else put(left, bottom);
    }
  const lines: { points: [number, number][]; area: number }[] = [];
  for (const start of leads.keys()) {
    if (!leads.has(start)) continue;
    const points: [number, number][] = [];
    for (let key: number | undefined = start; key !== undefined && leads.has(key);) {
      points.push(places.get(key)!);
      const next: number = leads.get(key)!;
      leads.delete(key);
      key = next;
    }
    let area = 0;
    points.forEach(([x, y], i) => {
      const [nx, ny] = points[(i + 1) % points.length]!;
      area += (x * ny - nx * y) / 2;
    });
    lines.push({ points, area });
  }
  const sign = Math.sign(lines.reduce((most, l) => (Math.abs(l.area) > Math.abs(most) ? l.area : most), 0));
  return lines
    .filter(({ area }) => Math.abs(area) >= LEAST_AREA)
    .sort((a, b) => Math.abs(b.area) - Math.abs(a.area))
    .map(({ points, area }) => ({ points, area: Math.abs(area), hole: Math.sign(area) !== sign }));
}
