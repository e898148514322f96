import { valuesAt, type Curves } from '../effects';
import { drawnRows, type DrawnRow } from '../shot/drawn';
import type { Row, Shot } from '../shot/schema';

const MIB = 1048576,
  GIB = 1073741824;
/** Bytes that a renderer may take where nobody says otherwise. */
export const USUAL_ALLOWANCE = 4 * GIB;
/** The arena can be this large; see `Arena.forShot`, which takes 24 pictures where they fit. */
const ARENA = 2 * GIB;
/** Pictures that a usual frame has in hand at one time (measured: 7 to 11). */
const PICTURES = 12;
/** Bytes of a program and of remembered steps, beside pictures and particles. */
const BESIDE = 300 * MIB + 512 * MIB;
/** Bytes of one particle (`Flakes`): ten lanes of four bytes, kept three times over while they move on by a frame. */
const PARTICLE = 120;

const gibibytes = (bytes: number): string => (bytes / GIB).toFixed(1);
const thousands = (n: number): string => String(Math.round(n)).replace(/\B(?=(\d{3})+$)/g, ',');

/** The largest stored values of a row: of each number, what it is or what its curve reaches. */
function largest(row: DrawnRow): Row['values'] {
  const values = { ...row.values };
  for (const [name, { points }] of Object.entries(row.curves as Curves))
    if (typeof values[name] === 'number') values[name] = Math.max(values[name] as number, ...points.map((p) => p.value));
  return values;
}

/** The most particles that a row (one place of it) can have alive at once. */
export function mostAlive(shot: Shot, row: DrawnRow): number {
  const { effect, subject } = row;
  if (!effect?.alive) return 0;
  return effect.alive(valuesAt(effect.params, largest(row), {}, 0, 1), {
    // A body is rarely wider than half of its height, and never larger than the picture.
    area: Math.min(shot.width * shot.height, subject ? 0.5 * subject.pixels * subject.pixels : Infinity),
    framesPerSecond: shot.rate.num / shot.rate.den,
    frames: row.length,
  });
}

/** Bytes that drawing a shot takes at the most, worked out from its document alone. */
export function memoryNeed(shot: Shot): {
  bytes: number;
  pictures: number;
  particles: number;
  crowded: { row: DrawnRow; alive: number } | null;
} {
  let particles = 0,
    crowded: { row: DrawnRow; alive: number } | null = null;
  for (const row of drawnRows(shot).rows) {
    if (row.never !== null) continue;
    const alive = mostAlive(shot, row);
    particles += alive;
    if (alive > (crowded?.alive ?? 0)) crowded = { row, alive };
  }
  const pictures = PICTURES * 16 * shot.width * shot.height;
  return { bytes: pictures + particles * PARTICLE + BESIDE, pictures, particles, crowded };
}

/**
 * Why a shot cannot be drawn with what is allowed, known before anything is begun; null where it can.
 * @param allowed bytes for one renderer.
 */
export function needProblem(shot: Shot, allowed = USUAL_ALLOWANCE): { text: string; fix: string; row?: string } | null {
  const need = memoryNeed(shot);
  if (need.pictures > ARENA)
    return {
      text: `Drawing ${shot.code} needs ${gibibytes(need.bytes)} GiB, and ${gibibytes(Math.min(allowed, ARENA + BESIDE))} are allowed: at ${shot.width} x ${shot.height} its pictures alone take ${gibibytes(need.pictures)} GiB.`,
      fix: 'Make the shot smaller; 4096 x 2160 can be drawn.',
    };
  const { crowded } = need,
    arena = Math.min(ARENA, Math.max(24 * 16 * shot.width * shot.height, 64 * MIB));
  if (crowded && crowded.alive * PARTICLE > 0.6 * arena)
    return {
      row: crowded.row.row,
      text: `${crowded.row.name} may have ${thousands(crowded.alive)} particles alive at once, and ${thousands((0.6 * arena) / PARTICLE)} can be drawn at this size.`,
      fix: 'Lower its rate or density, or its life.',
    };
  if (need.bytes > allowed)
    return {
      ...(crowded ? { row: crowded.row.row } : {}),
      text: `Drawing ${shot.code} needs ${gibibytes(need.bytes)} GiB, and ${gibibytes(allowed)} are allowed: ${thousands(need.particles)} particles may be alive at once.`,
      fix: 'Lower rates, densities or lives, or use fewer twins.',
    };
  return null;
}
