import type { Effect, Layers, Params, Values } from '../effects';
import { blendOver, layLight } from '../image/blend';
import { twiceSize } from '../image/blur';
import type { Picture } from '../image/picture';
import { rowValues, type DrawnRow } from '../shot/drawn';
import type { Step } from './evaluate';
import { softened } from './filmed';
import { stateStep } from './history';
import { keyOf } from './key';
import { sizeOf } from './factor';
import { drawOf, factsOf, type Scene } from './scene';
import { keysOf, readOf, wire } from './wiring';

/** The pictures that one row gives at the frame, treated. */
export const layersStep = (scene: Scene, row: DrawnRow, below: Step<Picture>): Step<Layers> =>
  treated(scene, row, row.treatments, softened(scene, row, plainLayersStep(scene, row, below)));
/** Pictures changed by treatments, one after the other; `row` says where they stand. */
export const treated = (scene: Scene, row: DrawnRow, treatments: DrawnRow['treatments'], layers: Step<Layers>): Step<Layers> =>
  treatments.reduce((now, t) => treatedStep(scene, row, t, now), layers);

/** Pictures of a row that a treatment changes. */
const TREATED = ['changed', 'shade', 'layer', 'light', 'front', 'behind'] as const;

/** Names of inputs that an effect reads while it draws; those of quarter size are only for its past. */
const drawnInputs = (e: Effect): string[] => Object.keys(e.inputs).filter((name) => e.inputs[name]!.size !== 'quarter');

/** What a row gives, with every picture of it changed by an effect that changes what is below it. */
function treatedStep(scene: Scene, row: DrawnRow, treatment: DrawnRow['treatments'][number], layers: Step<Layers>): Step<Layers> {
  const e = treatment.drawnBy,
    as: DrawnRow = { ...row, effect: e, type: e.type, values: treatment.values, curves: {} },
    v = rowValues(as, scene.frame, 1 / scene.factor),
    belowName = Object.keys(e.inputs).find((name) => e.inputs[name]!.kind === 'below'),
    names = drawnInputs(e).filter((name) => name !== belowName),
    wired = wire(scene, as, e, names, scene.frame, 1 / scene.factor, null),
    facts = factsOf(scene, as, e, scene.frame);
  if (!belowName) return layers;
  return {
    key: keyOf('treated', e.type, e.version, v, keysOf(wired), facts, sizeOf(scene.shot, scene.factor), layers.key),
    inputs: [layers, ...wired.steps],
    keep: 'at the playhead',
    row: row.row,
    run([given, ...values]: [Layers, ...unknown[]], arena) {
      if (wired.missing || e.idle?.(v, 0, () => v)) return given;
      const { width, height } = sizeOf(scene.shot, scene.factor),
        out: Layers = { ...given };
      for (const name of TREATED) {
        const picture = given[name];
        if (!picture) continue;
        const whole = picture.width === width && picture.height === height ? picture : twiceSize(picture, width, height, arena),
          read = { ...(readOf(wired, values, 0) as object), [belowName]: whole } as never,
          { changed, light, layer } = e.render(drawOf(scene, scene.factor, facts, arena), v, read, undefined);
        let now = changed ?? whole;
        if (light) now = layLight(light, now, 'add', 1, arena);
        if (layer) now = blendOver(layer, now, 'normal', 1, arena);
        out[name] = now;
      }
      return out;
    },
  };
}

function plainLayersStep(scene: Scene, row: DrawnRow, below: Step<Picture>): Step<Layers> {
  const e = row.effect!,
    { shot, frame, factor } = scene,
    v: Values<Params> = rowValues(row, frame, 1 / factor),
    wired = wire(scene, row, e, drawnInputs(e), frame, 1 / factor, below),
    facts = factsOf(scene, row, e, frame),
    state = e.history ? stateStep(scene, row, e, frame) : null,
    takesBelow = Object.values(e.inputs).some((i) => i.kind === 'below');
  return {
    key: keyOf('layers', row.type, e.version, v, keysOf(wired), state?.key, facts, sizeOf(shot, factor)),
    inputs: [...wired.steps, ...(state ? [state] : [])],
    keep: takesBelow ? 'never' : 'at the playhead',
    row: row.row,
    run: (values, arena) =>
      wired.missing
        ? {}
        : e.render(drawOf(scene, factor, facts, arena), v, readOf(wired, values, 0), state ? values[values.length - 1] : undefined),
  };
}
