import { hypot } from '../image/exactMath';
import type { PatchPicture, SquareCutter } from '../motion/patches';

/** Says how much of each pixel of a square picture is person, 0..1, row by row. */
export interface PersonFinder {
  look(picture: PatchPicture): Promise<Float32Array>;
}
/** What was found on a frame: the square of the clip that was looked at, and how much of it is the person; null where nobody was. */
export interface FoundPerson {
  frame: number;
  /** Middle and side of that square, pixels of the clip. */
  at: [number, number];
  side: number;
  /** `PERSON_SIDE` pixels to a side, 0..1. */
  mask: Float32Array | null;
  /** Left, top, right and bottom of the person, pixels of the clip; null where nobody was found. */
  box: Box | null;
}
type Box = readonly [number, number, number, number];
export interface PersonSearch {
  clip: { width: number; height: number; frames: number };
  cut: SquareCutter;
  finder: PersonFinder;
  /** Where the person was pressed, clip pixels, and the frame of the clip. */
  at: readonly [number, number];
  frame: number;
  signal?: AbortSignal;
  tell(found: FoundPerson): void;
}

/** Side of the pictures that are looked at, pixels; the finder makes less of them itself. */
export const PERSON_SIDE = 512;
/** Coverage from which a pixel is person, and from which it is of the soft edge of one. */
const INSIDE = 0.5,
  EDGE = 0.06;
/** Room about a person, as a share of the longer side: how it was learned, and what a step moves; and where it was lost. */
const ROOM = 1.35,
  WIDER = 2.2;
/** A person of fewer pixels of the looked-at square is none. */
const LEAST = 120;
/** How far beside a person a press may be, pixels of the looked-at square. */
const BESIDE = 30;
/** How far a person may be from where it was on the frame before, pixels of the looked-at square. */
const STEP = 110;

/** The parts of a mask that hang together, the one that is wanted alone; null where there is none near. @param near a place in pixels of the mask. */
function partAt(mask: Float32Array, near: readonly [number, number], beside: number): { mask: Float32Array; box: Box } | null {
  const seen = new Int32Array(mask.length),
    parts: { pixels: number[]; least: number }[] = [];
  for (let first = 0; first < mask.length; first++) {
    if (seen[first] || mask[first]! < INSIDE) continue;
    const pixels = [first];
    let least = Infinity;
    seen[first] = parts.length + 1;
    for (let i = 0; i < pixels.length; i++) {
      const p = pixels[i]!,
        x = p % PERSON_SIDE,
        y = (p - x) / PERSON_SIDE;
      least = Math.min(least, hypot(x + 0.5 - near[0], y + 0.5 - near[1]));
      for (const q of [x > 0 ? p - 1 : -1, x + 1 < PERSON_SIDE ? p + 1 : -1, p - PERSON_SIDE, p + PERSON_SIDE])
        if (q >= 0 && q < mask.length && !seen[q] && mask[q]! >= INSIDE) {
          seen[q] = parts.length + 1;
          pixels.push(q);
        }
    }
    parts.push({ pixels, least });
  }
  // Of parts that are as near, the larger one: crumbs lie about a person.
  const nearest = parts.filter((p) => p.least <= beside && p.pixels.length >= LEAST).sort((a, b) => b.pixels.length - a.pixels.length)[0];
  return nearest ? alone(mask, nearest.pixels) : null;
}
/** A part of a mask with the soft edge about it, and nobody else. */
function alone(mask: Float32Array, pixels: readonly number[]): { mask: Float32Array; box: Box } {
  const out = new Float32Array(mask.length),
    queue = [...pixels];
  let [x0, y0, x1, y1] = [PERSON_SIDE, PERSON_SIDE, 0, 0];
  for (const p of pixels) {
    const x = p % PERSON_SIDE,
      y = (p - x) / PERSON_SIDE;
    out[p] = mask[p]!;
    x0 = Math.min(x0, x);
    y0 = Math.min(y0, y);
    x1 = Math.max(x1, x + 1);
    y1 = Math.max(y1, y + 1);
  }
  for (let i = 0; i < queue.length; i++) {
    const p = queue[i]!,
      x = p % PERSON_SIDE;
    for (const q of [x > 0 ? p - 1 : -1, x + 1 < PERSON_SIDE ? p + 1 : -1, p - PERSON_SIDE, p + PERSON_SIDE])
      if (q >= 0 && q < mask.length && !out[q] && mask[q]! > EDGE && mask[q]! < INSIDE) {
        out[q] = mask[q]!;
        queue.push(q);
      }
  }
  return { mask: out, box: [x0, y0, x1, y1] };
}

/**
 * Finds one person on every frame of a clip, from the frame on which it was pressed to the end and then to the start, in a square about where it was.
 * @throws an Error for people where nobody is at the place that was pressed.
 */
export async function findPerson({ clip, cut, finder, at, frame, signal, tell }: PersonSearch): Promise<FoundPerson[]> {
  const looked = async (
    f: number,
    square: { at: readonly [number, number]; side: number },
    near: readonly [number, number],
    beside: number,
  ): Promise<FoundPerson | null> => {
    const own: [number, number] = [Math.round(square.at[0]), Math.round(square.at[1])],
      side = Math.max(32, Math.round(square.side)),
      picture = await cut(f, own, side, PERSON_SIDE);
    if (!picture) return null;
    const k = side / PERSON_SIDE,
      [left, top] = [own[0] - side / 2, own[1] - side / 2],
      part = partAt(await finder.look(picture), [(near[0] - left) / k, (near[1] - top) / k], beside);
    return {
      frame: f,
      at: own,
      side,
      mask: part?.mask ?? null,
      box: part && [left + k * part.box[0], top + k * part.box[1], left + k * part.box[2], top + k * part.box[3]],
    };
  };
  const middle = ([l, t, r, b]: Box): [number, number] => [(l + r) / 2, (t + b) / 2],
    about = (box: Box, room: number) => ({ at: middle(box), side: room * Math.max(box[2] - box[0], box[3] - box[1]) });
  let begun: FoundPerson | null = null;
  for (const square of [
    { at: [clip.width / 2, clip.height / 2] as const, side: Math.max(clip.width, clip.height) },
    ...[1, 0.6, 0.35].map((share) => ({ at, side: share * clip.height })),
  ]) {
    begun = await looked(frame, square, at, BESIDE);
    if (begun?.box || signal?.aborted) break;
  }
  if (!begun?.box)
    throw new Error(
      'Nobody was found here. The finder knows filmed people, standing or sitting, from head to waist or whole. Press on the middle of the body, or ' +
        'go to a frame on which it is seen better; drawn figures and animals are isolated by difference, by a key or by outlines.',
    );
  // Once more from near by: that is the look that every other frame has.
  const first = await looked(frame, about(begun.box, ROOM), middle(begun.box), STEP),
    found = [first?.box ? first : begun];
  tell(found[0]!);
  for (const step of [1, -1]) {
    let last = found[0]!.box!,
      gone = 0;
    for (let f = frame + step; f >= 0 && f < clip.frames; f += step) {
      if (signal?.aborted) return sorted(found);
      const near = middle(last),
        here = gone < 3 ? await looked(f, about(last, ROOM), near, STEP) : null,
        again = here?.box ? here : await looked(f, about(last, WIDER), near, STEP);
      const one = again ?? { frame: f, at: [near[0], near[1]], side: 0, mask: null, box: null };
      if (one.box) {
        last = one.box;
        gone = 0;
      } else gone++;
      found.push(one);
      tell(one);
    }
  }
  return sorted(found);
}
const sorted = (found: FoundPerson[]): FoundPerson[] => found.sort((a, b) => a.frame - b.frame);

/** The height of the person on the picture, pixels: the middle one of all frames. */
export function personHeight(found: readonly FoundPerson[]): number {
  const heights = found.flatMap(({ box }) => (box ? [box[3] - box[1]] : [])).sort((a, b) => a - b);
  return Math.max(1, Math.round(heights[heights.length >> 1] ?? 1));
}
