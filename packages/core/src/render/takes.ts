import { atan2, PI } from '../image/exactMath';
import type { Arena } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import { motionField } from '../motion/between';
import type { Point } from '../motion/frame';
import { placedRange } from '../shot/when';
import type { Clip, Shot } from '../shot/schema';
import type { FrameRenderer } from './renderFrame';

/*
 * Two takes of one place against each other: how far apart they are in time, in the picture, and in light. What is measured are the clips as they stand
 * in the shot now, so what comes out is what has to be changed.
 */

/** Frames of the shot at which a clip is looked at: where it plays, within reason. */
const MOST_FRAMES = 2000;
/** Side of the squares into which a picture is summed for its likeness over time, pixels of the quarter size. */
const SQUARE = 8;

/** A clip's frames over the shot's time, each a few numbers: what moves in it, without what stands still. */
interface Course {
  first: number;
  frames: Float32Array[];
}
async function courseOf(renderer: FrameRenderer, shot: Shot, clip: Clip, tell?: (done: number) => void): Promise<Course> {
  const [from, end] = placedRange(shot, clip),
    to = Math.min(end ?? shot.last, from + MOST_FRAMES - 1),
    frames: Float32Array[] = [];
  for (let frame = from; frame <= to; frame++) {
    frames.push(
      await renderer.renderFrame({ shot, frame, factor: 4, plain: clip.id, playhead: false }, ({ data, width, height }) => {
        const columns = Math.ceil(width / SQUARE),
          out = new Float32Array(columns * Math.ceil(height / SQUARE));
        for (let y = 0, i = 0; y < height; y++)
          for (let x = 0; x < width; x++, i += 4)
            out[Math.floor(y / SQUARE) * columns + Math.floor(x / SQUARE)]! += Math.sqrt(
              Math.max(0, 0.2126 * data[i]! + 0.7152 * data[i + 1]! + 0.0722 * data[i + 2]!),
            );
        return out;
      }),
    );
    tell?.(frames.length / (to - from + 1));
  }
  // The light of a whole frame and what stands still say nothing of when it is.
  const length = frames[0]!.length,
    still = new Float32Array(length);
  for (const f of frames) {
    const mean = f.reduce((n, v) => n + v, 0) / length;
    for (let i = 0; i < length; i++) f[i]! -= mean;
    for (let i = 0; i < length; i++) still[i]! += f[i]! / frames.length;
  }
  for (const f of frames) for (let i = 0; i < length; i++) f[i]! -= still[i]!;
  return { first: from, frames };
}

/** How alike two takes are when one begins so many frames later. */
export interface Likeness {
  /** Frames by which the take has to be moved. */
  by: number;
  /** -1 to 1: how alike what moves in them is then; near 0 where they have nothing in common. */
  likeness: number;
}
/** Share of the shorter take that has to lie over the other. */
const COMMON = 0.4;

/**
 * The offset at which what moves in a clip is most like what moves in another, over all frames that they have in common.
 * @returns null where nothing moves in one of them.
 */
export async function bestOffset(
  renderer: FrameRenderer,
  shot: Shot,
  clip: Clip,
  other: Clip,
  tell?: (done: number) => void,
): Promise<Likeness | null> {
  const a = await courseOf(renderer, shot, other, (done) => tell?.(done / 2)),
    b = await courseOf(renderer, shot, clip, (done) => tell?.(0.5 + done / 2)),
    n = a.frames.length,
    m = b.frames.length,
    least = Math.max(2, Math.ceil(COMMON * Math.min(n, m))),
    power = (f: Float32Array) => f.reduce((sum, v) => sum + v * v, 0),
    [pa, pb] = [a.frames.map(power), b.frames.map(power)];
  // What is left where nothing moves is rounding.
  if ([pa, pb].some((of) => of.every((p) => p < 1e-6 * a.frames[0]!.length))) return null;
  let best: Likeness | null = null;
  // `lag` is the frame of the other at which the first of this one stands.
  for (let lag = least - m; lag <= n - least; lag++) {
    let both = 0,
      ea = 0,
      eb = 0;
    for (let i = Math.max(0, lag); i < Math.min(n, lag + m); i++) {
      const f = a.frames[i]!,
        g = b.frames[i - lag]!;
      for (let k = 0; k < f.length; k++) both += f[k]! * g[k]!;
      ea += pa[i]!;
      eb += pb[i - lag]!;
    }
    if (ea * eb <= 1e-12) continue;
    const likeness = both / Math.sqrt(ea * eb),
      by = a.first + lag - b.first;
    if (!best || likeness > best.likeness + 1e-9 || (likeness > best.likeness - 1e-9 && Math.abs(by) < Math.abs(best.by)))
      best = { by, likeness };
  }
  return best;
}

/** A clip at a shot frame, at half the size, kept outside of the arena. */
async function seen(renderer: FrameRenderer, shot: Shot, clip: Clip, frame: number, factor: 2 | 4): Promise<Picture> {
  return renderer.renderFrame({ shot, frame, factor, plain: clip.id, playhead: false }, (p) => ({ ...p, data: Float32Array.from(p.data) }));
}
/** Light as square roots, with the middle and the spread of another picture's. */
function evened(picture: Picture, arena: Arena): Plane {
  const out = arena.takePlane(picture.width, picture.height),
    d = picture.data,
    o = out.data;
  let sum = 0,
    squares = 0;
  for (let p = 0, i = 0; p < o.length; p++, i += 4) {
    const v = Math.sqrt(Math.max(0, 0.2126 * d[i]! + 0.7152 * d[i + 1]! + 0.0722 * d[i + 2]!));
    o[p] = v;
    sum += v;
    squares += v * v;
  }
  const mean = sum / o.length,
    spread = Math.sqrt(Math.max(1e-8, squares / o.length - mean * mean));
  for (let p = 0; p < o.length; p++) o[p] = 0.5 + (0.2 * (o[p]! - mean)) / spread;
  return out;
}

/** How a take has to be moved, turned and sized so that what stands still in it comes to lie on what stands still in another. */
export interface Standing {
  /** Where the middle of the picture goes, whole-shot pixels. */
  shift: Point;
  /** Degrees clockwise, and times its size. */
  turn: number;
  size: number;
  /** Share of the picture that agrees with it to a pixel. */
  agrees: number;
}
const ROUNDS = 12;
/**
 * Place, turn and size of a clip against another at a frame, from the motion of every part of the picture from the one to the other. What moves for itself
 * (the character) agrees with nothing and counts for next to nothing (Geman and McClure's weights, made stricter in each round).
 */
export async function placeAgainst(renderer: FrameRenderer, shot: Shot, clip: Clip, other: Clip, frame: number): Promise<Standing> {
  const { arena } = renderer.evaluator,
    own = await seen(renderer, shot, clip, frame, 2),
    against = await seen(renderer, shot, other, frame, 2),
    // Only now: what is taken from the arena before a frame is drawn is gone afterwards.
    from = evened(own, arena),
    to = evened(against, arena),
    { columns, rows, step, shift } = motionField(from, to, arena),
    structure = new Float32Array(columns * rows);
  // Where there is nothing to be seen nothing is known.
  for (let r = 0, i = 0; r < rows; r++)
    for (let c = 0; c < columns; c++, i++) {
      let lights = 0;
      for (let y = r * step; y < Math.min(from.height - 1, (r + 1) * step); y++)
        for (let x = c * step; x < Math.min(from.width - 1, (c + 1) * step); x++) {
          const p = y * from.width + x;
          lights += Math.abs(from.data[p + 1]! - from.data[p]!) + Math.abs(from.data[p + from.width]! - from.data[p]!);
        }
      structure[i] = Math.min(1, lights / (step * step * 0.05));
    }
  const middle: Point = [from.width / 2, from.height / 2];
  arena.give(from);
  arena.give(to);
  // x' = a x - b y + e, y' = b x + a y + f, about the middle of the picture.
  let [a, b, e, f] = [1, 0, 0, 0];
  let wide = 32;
  for (let round = 0; round < ROUNDS; round++, wide = Math.max(0.7, wide * 0.6)) {
    let [w, wx, wy, wu, wv, r2, re, im] = [0, 0, 0, 0, 0, 0, 0, 0];
    const each = (use: (k: number, x: number, y: number, u: number, v: number) => void) => {
      for (let r = 0, i = 0; r < rows; r++)
        for (let c = 0; c < columns; c++, i++) {
          const x = (c + 0.5) * step - middle[0],
            y = (r + 0.5) * step - middle[1],
            u = x + shift[2 * i]!,
            v = y + shift[2 * i + 1]!,
            dx = a * x - b * y + e - u,
            dy = b * x + a * y + f - v,
            k = wide / (wide * wide + dx * dx + dy * dy);
          use(structure[i]! * k * k * wide * wide, x, y, u, v);
        }
    };
    each((k, x, y, u, v) => {
      w += k;
      wx += k * x;
      wy += k * y;
      wu += k * u;
      wv += k * v;
    });
    if (w < 1e-6) break;
    const [mx, my, mu, mv] = [wx / w, wy / w, wu / w, wv / w];
    each((k, x, y, u, v) => {
      const [px, py, qx, qy] = [x - mx, y - my, u - mu, v - mv];
      r2 += k * (px * px + py * py);
      re += k * (px * qx + py * qy);
      im += k * (px * qy - py * qx);
    });
    if (r2 < 1e-6) break;
    [a, b] = [re / r2, im / r2];
    [e, f] = [mu - a * mx + b * my, mv - b * mx - a * my];
  }
  let agree = 0,
    all = 0;
  for (let r = 0, i = 0; r < rows; r++)
    for (let c = 0; c < columns; c++, i++) {
      const x = (c + 0.5) * step - middle[0],
        y = (r + 0.5) * step - middle[1],
        dx = a * x - b * y + e - x - shift[2 * i]!,
        dy = b * x + a * y + f - y - shift[2 * i + 1]!;
      all += structure[i]!;
      if (dx * dx + dy * dy < 1) agree += structure[i]!;
    }
  return { shift: [2 * e, 2 * f], turn: (atan2(b, a) * 180) / PI, size: Math.sqrt(a * a + b * b), agrees: all > 0 ? agree / all : 0 };
}

/**
 * Gains of red, green and blue light that bring a clip to another's light at a frame: the middle one of what its pixels ask for, so that what differs in
 * itself (the character) has no say.
 */
export async function lightAgainst(
  renderer: FrameRenderer,
  shot: Shot,
  clip: Clip,
  other: Clip,
  frame: number,
): Promise<[number, number, number]> {
  const from = await seen(renderer, shot, clip, frame, 4),
    to = await seen(renderer, shot, other, frame, 4);
  return [0, 1, 2].map((c) => {
    const asked: number[] = [];
    for (let i = c; i < from.data.length; i += 4) {
      const [p, q] = [from.data[i]!, to.data[i]!];
      // What is black or burnt out says nothing of the light.
      if (p > 0.004 && q > 0.004 && p < 0.9 && q < 0.9) asked.push(q / p);
    }
    asked.sort((p, q) => p - q);
    return asked[asked.length >> 1] ?? 1;
  }) as [number, number, number];
}
