import type { Effect, Input } from '../effects';
import type { Picture } from '../image/picture';
import { pictureFrame, type Frame } from '../motion/frame';
import { momentsOf } from '../placing';
import { appearanceOf, carrierOfClip } from '../shot/appearance';
import { rowValues, type DrawnRow } from '../shot/drawn';
import { cueFrames } from '../shot/when';
import { combine } from './combine';
import type { Step } from './evaluate';
import { matteStep } from './matteSteps';
import { type Factor } from './factor';
import { appearsStep, elementStep, momentStep, plateStep } from './plateSteps';
import type { Scene } from './scene';

/** The step of one input that is a raster, or null where the shot has none. */
function inputStep(
  scene: Scene,
  row: DrawnRow,
  input: Input,
  frame: number,
  below: Step<Picture> | null,
  times: readonly number[],
): Step | null {
  const { shot, sources } = scene,
    factor: Factor = input.size === 'quarter' ? 4 : scene.factor;
  switch (input.kind) {
    case 'below':
      return below;
    case 'plate':
      return (
        row.plate &&
        appearsStep(
          shot,
          row.plate,
          appearanceOf(shot, row.plate, frame, carrierOfClip(shot, row.plate.id, row.subject?.id)),
          factor,
          sources,
        )
      );
    case 'clean':
      return row.clean && plateStep(shot, row.clean, frame, factor, sources);
    case 'matte':
      return row.source === null ? null : matteStep(scene, shot.mattes[row.source]!, frame, factor, row.subject?.id);
    case 'pattern':
      return row.pattern === null ? null : matteStep(scene, shot.mattes[row.pattern]!, frame, factor, row.subject?.id);
    case 'element':
      return row.element && elementStep(row.element, sources);
    case 'moment':
      return (
        row.element &&
        momentStep(shot, row.element, momentsOf(row.values, row.curves, frame - row.first, row.element, shot.rate), factor, sources)
      );
    case 'plates':
    case 'mattes': {
      const one = { ...input, kind: input.kind === 'plates' ? ('plate' as const) : ('matte' as const) },
        steps = times.map((at) => {
          const step = inputStep(scene, row, one, at, below, times);
          // The same picture is wanted again a few frames on.
          return step && { ...step, keep: 'for frames' as const };
        });
      return steps.some((s) => !s) ? null : combine(`list ${steps.length}`, steps as Step[], (values: unknown[]) => values);
    }
    case 'mount':
    case 'aim':
      return null;
  }
}

/** What an effect reads at a frame: steps to be computed, by name, and what is known at once. */
export interface Wired {
  steps: Step[];
  names: string[];
  ready: Record<string, unknown>;
  missing: boolean;
}
/**
 * Looks up what an effect reads at a shot frame.
 * @param scale pixels for each whole-shot pixel, of the frames of reference that the effect gets.
 */
export function wire(
  scene: Scene,
  row: DrawnRow,
  e: Effect,
  names: readonly string[],
  frame: number,
  scale: number,
  below: Step<Picture> | null,
): Wired {
  const out: Wired = { steps: [], names: [], ready: {}, missing: false },
    v = e.times || e.without ? rowValues(row, frame, 1) : null,
    times = (v && e.times?.(v, frame, row.first, cueFrames(scene.shot))) ?? [],
    without: readonly string[] = (v && e.without?.(v)) ?? [];
  for (const name of names) {
    const input = e.inputs[name]!;
    if (input.kind === 'mount' || input.kind === 'aim') {
      const id = without.includes(name) ? null : row[input.kind],
        found: Frame | null = id
          ? scene.mounts.at(
              id,
              input.at === 'start' ? row.first : input.at === 'before' ? frame - 1 : input.at === 'next' ? frame + 1 : frame,
              row.subject?.id,
            )
          : null;
      if (!found && !input.optional) out.missing = true;
      out.ready[name] = (found ?? pictureFrame(e.origin, scene.shot.width, scene.shot.height)).resized(scale);
      continue;
    }
    const step = without.includes(name) ? null : inputStep(scene, row, input, frame, below, times);
    if (step) {
      out.steps.push(step);
      out.names.push(name);
    } else {
      out.ready[name] = null;
      if (!input.optional) out.missing = true;
    }
  }
  return out;
}
/** The inputs of an effect by name, once its steps have run; `values` has theirs from `offset` on. */
export const readOf = (wired: Wired, values: unknown[], offset: number) =>
  ({ ...wired.ready, ...Object.fromEntries(wired.names.map((name, i) => [name, values[offset + i]])) }) as never;
/** Everything of what an effect reads, for a key. */
export const keysOf = (wired: Wired) => [wired.ready, wired.names, wired.steps.map((s) => s.key)];
