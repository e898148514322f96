import type { Layers } from '../effects';
import type { Arena } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import type { Row } from '../shot/schema';
import { combine } from './combine';
import type { Step } from './evaluate';
import { showClean } from './plateSteps';

/** A row that takes its subject apart, and what it gives at the frame. */
export interface Part {
  row: Row;
  layers: Step<Layers>;
}

const opacities = (parts: readonly Part[]): number[] => parts.map((part) => part.row.opacity / 100);

/** What is left of a subject's matte: its product with what each row leaves of it. */
export function remainingStep(matte: Step<Plane>, parts: readonly Part[]): Step<Plane> {
  const weights = opacities(parts);
  return combine(
    `remaining ${weights.join()}`,
    [matte, ...parts.map((p) => p.layers)],
    ([m, ...given]: [Plane, ...Layers[]], arena: Arena) => {
      const out = arena.takePlane(m.width, m.height);
      out.data.set(m.data);
      given.forEach(({ removal }, k) => {
        if (removal) for (let p = 0; p < out.data.length; p++) out.data[p]! *= 1 - removal.data[p]! * weights[k]!;
      });
      return out;
    },
  ) as Step<Plane>;
}

/**
 * The picture with the clean plate, grained like the plate, where rows have taken the subject away, and where its traces have faded
 * around what remains of its `body` (which is no trace itself).
 */
export function removedStep(
  picture: Step<Picture>,
  clean: { plate: Step<Picture>; level: Step<number[]> },
  body: Step<Plane>,
  parts: readonly Part[],
  traces: Step<Plane> | null,
  frame: number,
): Step<Picture> {
  const weights = opacities(parts);
  const inputs = [picture, clean.plate, clean.level, body, ...parts.map((p) => p.layers), ...(traces ? [traces] : [])];
  return combine(
    `removed ${frame} ${weights.join()}`,
    inputs,
    ([p, c, sigma, left, ...rest]: [Picture, Picture, number[], Plane, ...unknown[]], arena: Arena) => {
      const mask = arena.takePlane(p.width, p.height),
        m = mask.data,
        trace = rest[parts.length] as Plane | undefined;
      m.fill(0);
      (rest.slice(0, parts.length) as Layers[]).forEach(({ removal, fading }, k) => {
        const weight = weights[k]!;
        if (removal) for (let i = 0; i < m.length; i++) m[i] = Math.max(m[i]!, removal.data[i]! * weight);
        if (trace && fading)
          for (let i = 0; i < m.length; i++) m[i] = Math.max(m[i]!, trace.data[i]! * fading.data[i]! * (1 - left.data[i]!) * weight);
      });
      const out = showClean(p, c, sigma, mask, frame, arena);
      arena.give(mask);
      return out;
    },
  ) as Step<Picture>;
}
