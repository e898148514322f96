import type { Layers } from '../effects';
import type { Arena } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import { emptyPlane, largerOf, leave, product } from '../image/planeMath';
import type { DrawnRow } from '../shot/drawn';
import { combine } from './combine';
import type { Step } from './evaluate';
import { showClean } from './plateSteps';

/** A row that takes its subject apart, and what it gives at the frame. */
export interface Part {
  row: DrawnRow;
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
      let from = m;
      given.forEach(({ removal }, k) => {
        if (removal) from = leave(from, removal, arena, weights[k], out);
      });
      if (from === m) out.data.set(m.data);
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
    ([p, c, sigma, left, ...rest]: [Picture, Picture, number[], Plane, ...unknown[]], arena: Arena, owned) => {
      const trace = rest[parts.length] as Plane | undefined,
        given = rest.slice(0, parts.length) as Layers[],
        [only] = given;
      // Mostly one row takes one subject away, as a whole.
      if (given.length === 1 && weights[0] === 1 && only!.removal && !(trace && only!.fading))
        return showClean(p, c, sigma, only!.removal, frame, arena, owned(0) ? p : undefined);
      const mask = emptyPlane(p.width, p.height, arena);
      given.forEach(({ removal, fading }, k) => {
        if (removal) largerOf(mask, removal, arena, weights[k], mask);
        if (!trace || !fading) return;
        const faded = product(trace, fading, arena);
        leave(faded, left, arena, 1, faded);
        largerOf(mask, faded, arena, weights[k], mask);
        arena.give(faded);
      });
      const out = showClean(p, c, sigma, mask, frame, arena, owned(0) ? p : undefined);
      arena.give(mask);
      return out;
    },
  ) as Step<Picture>;
}
