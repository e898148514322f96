import type { Effect, Facts, FrontStroke } from '../effects';
import type { Arena } from '../image/arena';
import type { Picture } from '../image/picture';
import { rowValues, type Drawn, type DrawnRow } from '../shot/drawn';
import type { Shot } from '../shot/schema';
import { cueFrames } from '../shot/when';
import { framesPerSecond } from '../time/rate';
import type { Step } from './evaluate';
import type { Mounts } from './frames';
import { sizeOf, type Factor } from './factor';
import type { Sources } from './sources';

/** States of one row from its first frame on, and all that they follow from but the frame. */
export interface Chain {
  from: string;
  steps: Step[];
}
/**
 * Chains by row. They outlive the document: planning a past anew for every nudge of a look took 40 ms and more, most of what a page waited for.
 */
export type Chains = Map<string, Chain>;

/** What steps of a frame are made from. */
export interface Scene {
  shot: Shot;
  drawn: Drawn;
  frame: number;
  factor: Factor;
  sources: Sources;
  mounts: Mounts;
  /** Chains of states of rows that were built before; null where none are kept. */
  chains: Chains | null;
  /** What a row draws over nothing, for mattes that are made of it; see rowPicture.ts. */
  rowPicture: (row: string, frame: number, factor: Factor) => Step<Picture>;
}

/** The strokes of a row with the progress that its own curve has on their frames: the front stands there on that frame, whatever the curve. */
function frontStrokes(row: DrawnRow): FrontStroke[] {
  return row.strokes.map(({ frame, points }) => ({
    progress: (rowValues(row, row.first + frame, 1) as { progress?: number }).progress ?? 0,
    points,
  }));
}

/** What an effect may know of its surroundings at a frame: no more than it names, so that its keys hold all of it. */
export function factsOf(scene: Scene, row: DrawnRow, e: Effect, frame: number): Partial<Facts> {
  const all: Facts = {
    frame,
    framesPerSecond: framesPerSecond(scene.shot.rate),
    frameInRow: frame - row.first,
    rowLength: row.length,
    subjectPixels: row.subjectPixels,
    subjectMetres: row.subjectMetres,
    traces: row.traces,
    strokes: (e.facts ?? []).includes('strokes') ? frontStrokes(row) : [],
    lines: (e.facts ?? []).includes('lines') ? row.strokes.map(({ frame: at, points }) => ({ frame: at, points })) : [],
    cues: (e.facts ?? []).includes('cues') ? cueFrames(scene.shot) : [],
    around: (e.facts ?? []).includes('around') ? [frame - 1, frame + 1].map((at) => rowValues(row, at, 1 / scene.factor)) : [],
  };
  return Object.fromEntries((e.facts ?? []).map((fact) => [fact, all[fact]]));
}
/** What an effect draws with: the arena, the size of the draft in pixels, pixels of it for each whole-shot pixel, and the facts that it names. */
export const drawOf = (scene: Scene, factor: Factor, facts: Partial<Facts>, arena: Arena) => {
  const { width, height } = sizeOf(scene.shot, factor);
  return { pictures: arena, width, height, scale: 1 / factor, ...facts } as never;
};
