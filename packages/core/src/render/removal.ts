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

/** What stands in the base where a subject is gone, and how strong the grain is that it is given; none where its grain is its own. */
export interface Empty {
  plate: Step<Picture>;
  level: Step<number[]> | null;
}
const NO_GRAIN: Step<number[]> = { key: 'no grain', inputs: [], keep: 'never', run: () => [0, 0, 0] };

/** The picture emptied where any of these mattes says so. */
export function shownEmpty(picture: Step<Picture>, { plate, level }: Empty, where: readonly Step<Plane>[], frame: number): Step<Picture> {
  return combine(
    `emptied ${frame}`,
    [picture, plate, level ?? NO_GRAIN, ...where],
    ([p, c, sigma, ...masks]: [Picture, Picture, number[], ...Plane[]], arena: Arena, owned) => {
      const [first, ...rest] = masks as [Plane, ...Plane[]];
      let mask = first;
      for (const more of rest) mask = largerOf(mask, more, arena, 1, mask === first ? undefined : mask);
      const out = showClean(p, c, sigma, mask, frame, arena, owned(0) ? p : undefined);
      if (mask !== first) arena.give(mask);
      return out;
    },
  ) as Step<Picture>;
}

/**
 * The picture with the clean plate, grained like the plate, where rows have taken the subject away, and where its traces have faded
 * around what remains of its `body` (which is no trace itself).
 */
export function removedStep(
  picture: Step<Picture>,
  clean: Empty,
  body: Step<Plane>,
  parts: readonly Part[],
  traces: Step<Plane> | null,
  frame: number,
): Step<Picture> {
  const weights = opacities(parts);
  const inputs = [picture, clean.plate, clean.level ?? NO_GRAIN, body, ...parts.map((p) => p.layers), ...(traces ? [traces] : [])];
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
