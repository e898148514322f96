import { linesAround } from '../matte/strokeArea';
import type { Plane } from '../image/picture';
import { rowValues, type DrawnRow } from '../shot/drawn';
import type { Shot } from '../shot/schema';
import type { Step } from './evaluate';
import type { Factor } from './factor';
import { keyOf } from './key';
import { sceneAt } from './rowPicture';
import { drawOf, factsOf } from './scene';
import type { Sources, Tracks } from './sources';
import { keysOf, readOf, wire } from './wiring';

/** One piece of the line in which the front of an arrival stands on a frame, whole-shot pixels. */
export interface FrontLine {
  frame: number;
  points: [number, number][];
}
/** Where there is no body the order is this: no front ever comes there. */
const NOWHERE = 1e9;
/** Coverage from which a pixel is body. */
const BODY = 0.5;

/** The order in which a row's arrival reaches the pixels of its body, as it stands at a frame; null where it is none, or misses what it reads. */
export function frontOrderStep(
  shot: Shot,
  tracks: Tracks,
  sources: Sources,
  row: DrawnRow,
  frame: number,
  factor: Factor,
): Step<Plane> | null {
  const e = row.effect,
    arrives = e?.arrives;
  if (!e || !arrives) return null;
  const scene = sceneAt(shot, tracks, sources, frame, factor),
    v = rowValues(row, frame, 1 / factor),
    wired = wire(scene, row, e, arrives.reads, frame, 1 / factor, null),
    facts = factsOf(scene, row, e, frame);
  if (wired.missing) return null;
  return {
    key: keyOf('front order', row.type, e.version, v, keysOf(wired), facts, factor),
    inputs: wired.steps,
    keep: 'never',
    run(values, arena) {
      const read = readOf(wired, values, 0) as { matte: Plane },
        order = arrives.order(drawOf(scene, factor, facts, arena), v, read as never);
      for (let p = 0; p < order.data.length; p++) if (read.matte.data[p]! <= BODY) order.data[p] = NOWHERE;
      return order;
    },
  };
}

/**
 * The lines within the body in which a front stands at some frames.
 * @param order as `frontOrderStep` gives it, at `factor` whole-shot pixels to a pixel of it. @param reached the order that has been reached on each frame.
 */
export function frontLinesIn(order: Plane, factor: number, reached: readonly { frame: number; order: number }[]): FrontLine[] {
  const { width, height, data } = order,
    passed = new Float32Array(width * height),
    // A line may be off its true place by a pixel, and is body on both sides there; along the edge of the body it is none.
    inBody = (x: number, y: number) => {
      const [ix, iy] = [Math.floor(x), Math.floor(y)];
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const [px, py] = [ix + dx, iy + dy];
          if (px < 0 || py < 0 || px >= width || py >= height || data[py * width + px]! >= NOWHERE) return false;
        }
      return true;
    };
  return reached.flatMap(({ frame, order: level }) => {
    // Half is the line itself; the slope around it is that of the order, so that it is found between pixels.
    for (let p = 0; p < passed.length; p++) passed[p] = data[p]! >= NOWHERE ? 0 : Math.min(1, Math.max(0, 0.5 + (level - data[p]!) * 20));
    const out: FrontLine[] = [];
    for (const { points } of linesAround(passed, width, height)) {
      let run: [number, number][] = [];
      const end = () => {
        if (run.length > 2) out.push({ frame, points: run });
        run = [];
      };
      for (const [x, y] of points)
        if (inBody(x, y)) run.push([x * factor, y * factor]);
        else end();
      end();
    }
    return out;
  });
}

/** The order that a row's front has reached on some shot frames; those outside of its range are left out. */
export const reachedOn = (row: DrawnRow, frames: readonly number[]): { frame: number; order: number }[] =>
  frames
    .filter((frame) => frame >= row.first && frame <= row.last)
    .map((frame) => ({ frame, order: row.effect!.arrives!.reached(rowValues(row, frame, 1)) }));
