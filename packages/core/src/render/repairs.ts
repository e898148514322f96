import type { Arena } from '../image/arena';
import { brushAt, brushShare, nearBrush } from '../image/brush';
import { clamp } from '../image/exactMath';
import type { Picture } from '../image/picture';
import type { Clip, Repair, Shot } from '../shot/schema';
import type { Step } from './evaluate';
import { keyOf } from './key';
import type { Factor } from './factor';
import { readKey, readStep } from './readStep';
import type { Sources } from './sources';

/** The clip and frame that a stroke takes its pixels from; null where there is none. */
function sourceOf(clips: Shot['clips'], clip: Clip, at: number, repair: Repair): { clip: Clip; frame: number } | null {
  const from = repair.clip ? clips[repair.clip] : clip;
  if (!from) return null;
  const frame = clip.frames === 1 ? repair.frame : from.frames === 1 ? 0 : at + repair.frame;
  return { clip: from, frame: clamp(frame, 0, from.frames - 1) };
}

/** The ring about a stroke whose light is compared, as a part of its radius. */
const RING = 0.8;

/** Lays one stroke onto a picture, in place. `from` is what its pixels come from, of the same shape. */
function lay(picture: Picture, from: Picture, repair: Repair, factor: number): void {
  const { width, height, data } = picture,
    k = 1 / factor,
    brush = brushAt(repair, k),
    { radius } = brush,
    [ox, oy] = [Math.round(repair.offset[0] * k), Math.round(repair.offset[1] * k)],
    near = nearBrush(brush, width, height, radius * RING);
  if (!near) return;
  const [x0, y0, x1, y1] = near.box;
  const wide = x1 - x0 + 1,
    shares = new Float32Array(wide * (y1 - y0 + 1)),
    own = [0, 0, 0],
    others = [0, 0, 0],
    placeIn = (x: number, y: number) => (clamp(y + oy, 0, from.height - 1) * from.width + clamp(x + ox, 0, from.width - 1)) * 4;
  for (let y = y0, i = 0; y <= y1; y++)
    for (let x = x0; x <= x1; x++, i++) {
      const d = near.distance[i]!;
      shares[i] = brushShare(d, brush);
      if (!repair.matched || d < radius || d > radius * (1 + RING)) continue;
      const p = (y * width + x) * 4,
        q = placeIn(x, y);
      for (let c = 0; c < 3; c++) {
        own[c]! += data[p + c]!;
        others[c]! += from.data[q + c]!;
      }
    }
  const gains = own.map((sum, c) => (repair.matched && sum > 0 && others[c]! > 0 ? clamp(sum / others[c]!, 0.25, 4) : 1));
  for (let y = y0, i = 0; y <= y1; y++)
    for (let x = x0; x <= x1; x++, i++) {
      const share = shares[i]!;
      if (share <= 0) continue;
      const p = (y * width + x) * 4,
        q = placeIn(x, y);
      for (let c = 0; c < 3; c++) data[p + c] = data[p + c]! + (from.data[q + c]! * gains[c]! - data[p + c]!) * share;
      data[p + 3] = data[p + 3]! + (from.data[q + 3]! - data[p + 3]!) * share;
    }
}

/**
 * One frame of a clip as light, in its own shape, at a draft size, with its repairs: each stroke lays pixels of another place, frame or clip over it,
 * in the order in which they were painted. Sources are read as they were filmed.
 */
export function repairedStep(clips: Shot['clips'], clip: Clip, at: number, factor: Factor, sources: Sources): Step<Picture> {
  const own = readStep(clip, at, factor, sources);
  if (!clip.repairs.length) return own;
  const laid = clip.repairs.flatMap((repair) => {
      const from = sourceOf(clips, clip, at, repair);
      return from && from.clip.width === clip.width && from.clip.height === clip.height ? [{ repair, from }] : [];
    }),
    reads = laid.map(({ from }) => readStep(from.clip, from.frame, factor, sources));
  return {
    key: keyOf(
      'repaired',
      own.key,
      laid.map(({ repair, from }) => [repair, readKey(from.clip, from.frame)]),
    ),
    keep: own.keep,
    inputs: [own, ...reads],
    run([picture, ...froms]: Picture[], arena: Arena, owned) {
      let out = picture!;
      if (!owned(0)) {
        out = arena.takePicture(picture!.width, picture!.height);
        out.data.set(picture!.data);
      }
      laid.forEach(({ repair }, i) => lay(out, froms[i]!, repair, factor));
      return out;
    },
  };
}
