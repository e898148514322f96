import { hypot } from '../image/exactMath';
import type { Plane } from '../image/picture';
import type { TrackSample } from './pointTracker';

/** What is kept of a frame to find moments: its brightness by cells, and in all (display-encoded, 0..1). */
export interface FrameLook {
  cells: Float32Array;
  mean: number;
}
const COLUMNS = 32,
  ROWS = 18;
/** Looks at the luma of a frame. */
export function lookAtFrame({ width, height, data }: Plane): FrameLook {
  const cells = new Float32Array(COLUMNS * ROWS);
  let sum = 0;
  for (let r = 0, i = 0; r < ROWS; r++)
    for (let c = 0; c < COLUMNS; c++, i++) {
      const x0 = Math.floor((c * width) / COLUMNS),
        x1 = Math.max(x0 + 1, Math.floor(((c + 1) * width) / COLUMNS)),
        y0 = Math.floor((r * height) / ROWS),
        y1 = Math.max(y0 + 1, Math.floor(((r + 1) * height) / ROWS));
      let cell = 0;
      for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) cell += data[y * width + x]!;
      cells[i] = cell / ((x1 - x0) * (y1 - y0));
      sum += cells[i]!;
    }
  return { cells, mean: sum / cells.length };
}

const PATCH = 9;
/** A patch about a tracked place, as wide as the track's pattern, for telling when what is there changes its look. */
export function patchAt({ width, height, data }: Plane, x: number, y: number, side: number): Float32Array {
  const out = new Float32Array(PATCH * PATCH);
  for (let j = 0, k = 0; j < PATCH; j++)
    for (let i = 0; i < PATCH; i++, k++) {
      const px = Math.min(width - 1, Math.max(0, Math.floor(x + ((i + 0.5) / PATCH - 0.5) * side))),
        py = Math.min(height - 1, Math.max(0, Math.floor(y + ((j + 0.5) / PATCH - 0.5) * side)));
      out[k] = data[py * width + px]!;
    }
  return out;
}

/** A track with what was seen about it, by frames of its clip; a patch is null where the place is not known. */
export interface SeenTrack {
  name: string;
  samples: readonly TrackSample[];
  patches: readonly (Float32Array | null)[];
}
export const momentKinds = ['cut', 'flash', 'light changes', 'landing', 'stop', 'blink'] as const;
/** A moment that was found: at which frame of the clip, what it is, and why it was taken for that. */
export interface FoundMoment {
  kind: (typeof momentKinds)[number];
  frame: number;
  reason: string;
  /** How much it stands out, for the order in which moments are shown. */
  strength: number;
}

const median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1] ?? 0;
/** How far two frames are apart once they are equally bright: more light is no other picture. */
function difference(a: FrameLook, b: FrameLook): number {
  const gain = a.mean > 0.01 && b.mean > 0.01 ? b.mean / a.mean : 1;
  return a.cells.reduce((sum, v, i) => sum + Math.abs(v * gain - b.cells[i]!), 0) / a.cells.length;
}
/** How alike two patches are in pattern, -1..1, whatever their brightness and contrast. */
export function alike(a: Float32Array, b: Float32Array): number {
  const n = a.length,
    ma = a.reduce((s, v) => s + v, 0) / n,
    mb = b.reduce((s, v) => s + v, 0) / n;
  let ab = 0,
    aa = 0,
    bb = 0;
  for (let i = 0; i < n; i++) {
    const u = a[i]! - ma,
      v = b[i]! - mb;
    ab += u * v;
    aa += u * u;
    bb += v * v;
  }
  return aa > 1e-9 && bb > 1e-9 ? ab / Math.sqrt(aa * bb) : 0;
}
const perCent = (share: number): string => `${Math.round(100 * share)} %`;

/** Change of a frame against the one before that is a cut: this much of full brightness on the mean, and this many times the usual one. */
const CUT = 0.06,
  CUT_TIMES = 5;
/** Rise of brightness that is a flash, and for how many frames it lasts at the most. */
const FLASH = 0.04,
  FLASH_FRAMES = 8;
/** Change of brightness that stays: this share, over this many frames. */
const LIGHT = 0.08,
  LIGHT_FRAMES = 24,
  /** Frames whose mean is a level. */
  LEVEL = 6;

function lookMoments(looks: readonly FrameLook[]): FoundMoment[] {
  const out: FoundMoment[] = [],
    steps = looks.map((look, i) => (i ? difference(look, looks[i - 1]!) : 0)),
    usual = median(steps.slice(1)),
    flashed = new Set<number>(),
    level = (from: number, to: number) => median(looks.flatMap((look, i) => (i >= from && i < to && !flashed.has(i) ? [look.mean] : [])));
  // Flashes first: brighter than what is before and after; what follows leaves them out.
  for (let i = 1; i < looks.length; i++) {
    if (flashed.has(i)) continue;
    const before = level(i - LEVEL, i);
    if (looks[i]!.mean - before < FLASH || looks[i]!.mean - looks[i - 1]!.mean < FLASH / 2) continue;
    let end = i + 1;
    while (end < looks.length && end - i <= FLASH_FRAMES && looks[end]!.mean - before > FLASH / 3) end++;
    if (end >= looks.length || end - i > FLASH_FRAMES) continue;
    const most = Math.max(...looks.slice(i, end).map((l) => l.mean)) - before;
    for (let k = i; k <= end; k++) flashed.add(k);
    out.push({ kind: 'flash', frame: i, reason: `the picture is ${perCent(most)} brighter for ${end - i} frames`, strength: most });
  }
  const cuts: number[] = [];
  for (let i = 1; i < looks.length; i++) {
    if (flashed.has(i) || steps[i]! < CUT || steps[i]! < CUT_TIMES * Math.max(usual, 0.004)) continue;
    // A cut is one step: the frames about it change as little as always.
    if (Math.max(steps[i - 1] ?? 0, steps[i + 1] ?? 0) > steps[i]! / 2) continue;
    cuts.push(i);
    out.push({ kind: 'cut', frame: i, reason: `all of the picture changes in one frame (${perCent(steps[i]!)})`, strength: 1 + steps[i]! });
  }
  for (let i = LEVEL; i + LEVEL < looks.length; i++) {
    const before = level(i - LEVEL, i);
    if (before < 0.01 || Math.abs(looks[i]!.mean / before - 1) < LIGHT / 4 || flashed.has(i)) continue;
    const end = Math.min(looks.length - LEVEL, i + LIGHT_FRAMES),
      after = level(end, end + LEVEL),
      change = after / before - 1;
    // The first frame of a change that goes on in the same sense and stays.
    if (Math.abs(change) < LIGHT || Math.sign(change) !== Math.sign(looks[i]!.mean - before)) continue;
    if (cuts.some((cut) => cut > i - LEVEL && cut <= end)) continue;
    out.push({
      kind: 'light changes',
      frame: i,
      reason: `it becomes ${perCent(Math.abs(change))} ${change > 0 ? 'brighter' : 'darker'} and stays so`,
      strength: Math.abs(change) / 2,
    });
    i = end + LEVEL;
  }
  return out;
}

/** Pixels a frame that are a motion, and the share of it that is none. */
const MOVES = 2.5,
  RESTS = 0.2,
  /** Frames that a rest lasts. */
  REST_FRAMES = 4;

function motionMoments({ name, samples }: SeenTrack): FoundMoment[] {
  const out: FoundMoment[] = [],
    at = new Map(samples.filter((s) => s.x !== null && s.state !== 'lost' && s.state !== 'weak').map((s) => [s.frame, s])),
    /** Mean way of a frame over some frames; null where one of them is not known. */
    way = (from: number, to: number): [number, number] | null => {
      const a = at.get(from),
        b = at.get(to);
      return a && b ? [(b.x! - a.x!) / (to - from), (b.y! - a.y!) / (to - from)] : null;
    };
  let last = -Infinity;
  for (const { frame } of samples) {
    const before = way(frame - 3, frame),
      after = way(frame, frame + REST_FRAMES);
    if (!before || !after || frame - last < 2 * REST_FRAMES) continue;
    const was = hypot(before[0], before[1]),
      is = hypot(after[0], after[1]);
    if (was < MOVES) continue;
    // Just before, it was still moving: this is the frame at which it comes to rest.
    const step = way(frame - 1, frame);
    if (!step || hypot(step[0], step[1]) < was / 3) continue;
    const falls = before[1] > MOVES && before[1] > 1.5 * Math.abs(before[0]);
    if (falls && after[1] < RESTS * before[1]) {
      last = frame;
      out.push({
        kind: 'landing',
        frame,
        reason: `${name} falls by ${before[1].toFixed(1)} px a frame and lands`,
        strength: before[1] / 20,
      });
    } else if (is < RESTS * was) {
      last = frame;
      out.push({ kind: 'stop', frame, reason: `${name} moves by ${was.toFixed(1)} px a frame and stops`, strength: was / 40 });
    }
  }
  return out;
}

/** A blink lasts this many frames, and looks this much less like the open eye. */
const BLINK_LEAST = 2,
  BLINK_MOST = 12,
  UNLIKE = 0.55;

function blinkMoments({ name, patches }: SeenTrack): FoundMoment[] {
  const seen = patches.filter((p) => p !== null);
  if (seen.length < 12) return [];
  const usual = Float32Array.from({ length: seen[0]!.length }, (_, i) => median(seen.map((p) => p[i]!))),
    likeness = patches.map((p) => (p ? alike(p, usual) : null)),
    typical = median(likeness.filter((v) => v !== null)),
    out: FoundMoment[] = [];
  if (typical < 0.6) return out;
  for (let i = 1; i < likeness.length; i++) {
    const shut = (k: number) => likeness[k] !== undefined && (likeness[k] === null || likeness[k]! < UNLIKE * typical);
    if (!shut(i) || shut(i - 1)) continue;
    let end = i + 1;
    while (end < likeness.length && shut(end)) end++;
    const known = likeness.slice(i, end).some((v) => v !== null);
    // It was open before and is open again.
    if (known && end < likeness.length && end - i >= BLINK_LEAST && end - i <= BLINK_MOST)
      out.push({ kind: 'blink', frame: i, reason: `${name} looks other than usual for ${end - i} frames, and is back`, strength: 0.3 });
    i = end;
  }
  return out;
}

/** Moments of one kind nearer than this to each other are one. */
const APART = 4;
/**
 * Moments of a clip that somebody may want a cue at, measured on its pictures and tracks, in order of frames.
 * @param looks of all of its frames.
 */
export function findMoments(looks: readonly FrameLook[], tracks: readonly SeenTrack[] = []): FoundMoment[] {
  const cuts = lookMoments(looks),
    all = [...cuts, ...tracks.flatMap(motionMoments), ...tracks.flatMap(blinkMoments)].sort((a, b) => b.strength - a.strength),
    kept: FoundMoment[] = [];
  for (const moment of all) if (!kept.some((k) => k.kind === moment.kind && Math.abs(k.frame - moment.frame) < APART)) kept.push(moment);
  return kept.sort((a, b) => a.frame - b.frame);
}
