import { hypot, smoothstep } from '../image/exactMath';
import { noise2 } from '../image/noise';
import type { Picture, Plane } from '../image/picture';
import type { BeamValues } from './beamParams';
import { wayLength, type Way } from './beamWay';
import { fallOff } from './body';
import type { Canvas } from './describe';
import { lightAlong, type LightLine } from './lightAlong';
import type { Stroke } from './strokes';

export type Reach = Record<'head' | 'tail', readonly [opens: number, closes: number]>;
const glowing = (a: number): number => fallOff(a * a);

/** Lobes of the halo's breath that pass a place in a frame, and the length of one, halo widths. */
export const DRIFT = 0.12;
const LOBE = 1.7;
/** The width of the tip of a pointed start. */
const TIP = 0.12;
/** Places along a way at which its shape is worked out: finer than its pixels. */
const PLACES = 2048;
/**
 * How a beam is shaped along its way, from place to place: how far it has widened from its point, 0..1, and by how much its halo is narrower and
 * fainter there than at its widest. Worked out once a picture: noise for every pixel cost six times the rest.
 */
function alongWay(v: Look, long: number): { begins: Float64Array; breath: Float64Array } {
  const begins = new Float64Array(PLACES).fill(1),
    breath = new Float64Array(PLACES),
    lobes = long / Math.max(1, LOBE * v.halo);
  for (let k = 0; k < PLACES; k++) {
    const along = k / (PLACES - 1);
    if (v.narrow > 0) begins[k] = TIP + (1 - TIP) * smoothstep(0, v.narrow, along);
    if (v.breath > 0) breath[k] = -v.breath * noise2(along * lobes - v.drifts, 0.5, v.seed + 15);
  }
  return { begins, breath };
}

type Look = Pick<
  BeamValues,
  'core' | 'coreColour' | 'soft' | 'halo' | 'haloColour' | 'haloStrength' | 'taper' | 'narrow' | 'breath' | 'seed'
> & {
  /** How far its breath has drifted along, in lobes. */
  drifts: number;
};

/** Lays the light of the part between tail and head into `out`. */
export function drawWay(out: Picture, line: LightLine & Way, { head, tail }: Reach, v: Look, power: number, { pictures }: Canvas): void {
  const far = Math.max(v.halo * 1.1, v.core * (0.5 + v.soft)) + 1,
    most = line.moves ? 0.5 * Math.max(...Array.from(line.moves.x, (x, i) => Math.abs(x) + Math.abs(line.moves!.y[i]!))) : 0;
  lightAlong(
    out,
    line,
    {
      ...{ core: v.core, soft: v.soft, edge: 0.5, coreColour: v.coreColour, gain: 1.6, taper: v.taper, power, head, tail },
      halo: { width: 0.5 * v.halo, strength: v.haloStrength, colour: v.haloColour, narrows: v.narrow > 0 },
      along: alongWay(v, wayLength(line)),
      far: far + most,
      // What lies beyond a joint is the next piece's, but for the outside of a bend.
      joint: 0.3 * far,
    },
    pictures,
  );
}

/** Takes away what lies behind the subject of a beam that passes it: beyond the place where it crosses (or before it), measured along the straight way. */
export function holdBehind(
  light: Picture,
  matte: Plane,
  begin: readonly [number, number],
  finish: readonly [number, number],
  crosses: number,
  end: boolean,
): void {
  const { width, height, data } = light,
    dx = finish[0] - begin[0],
    dy = finish[1] - begin[1],
    part = 1 / Math.max(1e-6, dx * dx + dy * dy);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const m = matte.data[p]!;
      if (m <= 0) continue;
      const t = ((x + 0.5 - begin[0]) * dx + (y + 0.5 - begin[1]) * dy) * part,
        beyond = smoothstep(crosses - 0.02, crosses + 0.02, t),
        left = 1 - Math.min(1, m) * (end ? beyond : 1 - beyond),
        i = p * 4;
      data[i] = data[i]! * left;
      data[i + 1] = data[i + 1]! * left;
      data[i + 2] = data[i + 2]! * left;
    }
}

/** Places of something that moves by `moved` while the shutter is open, no farther apart than `step`. */
function placesOf([x, y]: readonly [number, number], moved: readonly [number, number] | null, step: number): [number, number][] {
  const n = moved ? Math.min(12, Math.max(1, Math.ceil(hypot(...moved) / step))) : 1;
  return Array.from({ length: n }, (_, k) => {
    const t = (k + 0.5) / n - 0.5;
    return [x + t * (moved?.[0] ?? 0), y + t * (moved?.[1] ?? 0)];
  });
}
/** Strands that move: as much light over the way that they go across themselves. */
export const movedStrands = (strands: Stroke[], moved: readonly [number, number] | null): Stroke[] =>
  strands.map((s) => {
    const n = s.x.length - 1,
      [dx, dy] = [s.x[n]! - s.x[0]!, s.y[n]! - s.y[0]!],
      across = moved ? Math.abs(moved[0] * dy - moved[1] * dx) / Math.max(1e-6, hypot(dx, dy)) : 0;
    return across > 0
      ? { ...s, width: [s.width[0] + across, s.width[1] + across], power: (s.power * s.width[0]) / (s.width[0] + across) }
      : s;
  });

/** Light where it strikes: a hot middle and a wide veil, gone at the radius; the mean of its places where it moves. */
export function drawImpact(
  out: Float32Array<ArrayBufferLike>,
  at: readonly [number, number],
  moved: readonly [number, number] | null,
  radius: number,
  power: number,
  v: Pick<Look, 'coreColour' | 'haloColour'>,
  canvas: Canvas,
): void {
  const places = placesOf(at, moved, Math.max(1, 0.1 * radius));
  for (const place of places) strike(out, place, radius, power / places.length, v, canvas);
}
function strike(
  out: Float32Array<ArrayBufferLike>,
  [cx, cy]: readonly [number, number],
  radius: number,
  power: number,
  v: Pick<Look, 'coreColour' | 'haloColour'>,
  { width, height }: Canvas,
): void {
  for (let y = Math.max(0, Math.floor(cy - radius)); y < Math.min(height, cy + radius); y++)
    for (let x = Math.max(0, Math.floor(cx - radius)); x < Math.min(width, cx + radius); x++) {
      const dx = x + 0.5 - cx,
        dy = y + 0.5 - cy,
        d = Math.sqrt(dx * dx + dy * dy) / radius;
      if (d >= 1) continue;
      const fade = 1 - smoothstep(0.6, 1, d),
        hot = 1.5 * glowing(d / 0.1) * fade,
        veil = (0.55 * glowing(d / 0.3) + 0.22 * glowing(d / 0.55)) * fade,
        o = (y * width + x) * 4;
      for (let c = 0; c < 3; c++) out[o + c]! += power * (hot * v.coreColour[c]! + veil * v.haloColour[c]!);
    }
}
