import type { Effect, Facts, Input, Layers, Params, Values } from '../effects';
import type { Arena } from '../image/arena';
import { blendOver, layLight } from '../image/blend';
import { twiceSize } from '../image/blur';
import type { Picture } from '../image/picture';
import { pictureFrame, type Frame } from '../motion/frame';
import { rowValues, type Drawn, type DrawnRow } from '../shot/drawn';
import type { Shot } from '../shot/schema';
import { framesPerSecond } from '../time/rate';
import { combine } from './combine';
import type { Step } from './evaluate';
import type { FrameOf } from './frames';
import { matteStep } from './matteSteps';
import { elementStep, keyOf, plateStep, sizeOf, type Factor } from './plateSteps';
import type { Sources } from './sources';

/** What steps of a frame are made from. */
export interface Scene {
  shot: Shot;
  drawn: Drawn;
  frame: number;
  factor: Factor;
  sources: Sources;
  frameOf: FrameOf;
  /** Chains of states of the shot's rows that were built for other frames; null where none are kept. */
  chains: Map<string, Step[]> | null;
}

/** A particle state is remembered every so many frames: enough to make a seek cheap, few enough to stay small. */
const CHECKPOINT = 6;

/** What an effect may know of its surroundings at a frame: no more than it names, so that its keys hold all of it. */
function factsOf(scene: Scene, row: DrawnRow, e: Effect, frame: number): Partial<Facts> {
  const all: Facts = {
    frame,
    framesPerSecond: framesPerSecond(scene.shot.rate),
    frameInRow: frame - row.first,
    rowLength: row.length,
    subjectPixels: row.subjectPixels,
    subjectMetres: row.subjectMetres,
    traces: row.traces,
  };
  return Object.fromEntries((e.facts ?? []).map((fact) => [fact, all[fact]]));
}
const drawOf = (scene: Scene, factor: Factor, facts: Partial<Facts>, arena: Arena) => {
  const { width, height } = sizeOf(scene.shot, factor);
  return { pictures: arena, width, height, scale: 1 / factor, ...facts } as never;
};

/** The step of one input that is a raster, or null where the shot has none. */
function inputStep(
  scene: Scene,
  row: DrawnRow,
  input: Input,
  frame: number,
  below: Step<Picture> | null,
  times: readonly number[],
): Step | null {
  const { shot, sources, frameOf } = scene,
    factor: Factor = input.size === 'quarter' ? 4 : scene.factor;
  switch (input.kind) {
    case 'below':
      return below;
    case 'plate':
      return row.plate && plateStep(shot, row.plate, frame, factor, sources);
    case 'clean':
      return row.clean && plateStep(shot, row.clean, frame, factor, sources);
    case 'matte':
      return row.source === null ? null : matteStep(shot, shot.mattes[row.source]!, frame, factor, sources, frameOf);
    case 'element':
      return row.element && elementStep(row.element, sources);
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
interface Wired {
  steps: Step[];
  names: string[];
  ready: Record<string, unknown>;
  missing: boolean;
}
/** @param scale pixels for each whole-shot pixel, of the frames that the effect gets. */
function wire(
  scene: Scene,
  row: DrawnRow,
  e: Effect,
  names: readonly string[],
  frame: number,
  scale: number,
  below: Step<Picture> | null,
): Wired {
  const out: Wired = { steps: [], names: [], ready: {}, missing: false },
    v = rowValues(row, frame, 1),
    times = e.times?.(v, frame, row.first) ?? [],
    without: readonly string[] = e.without?.(v) ?? [];
  for (const name of names) {
    const input = e.inputs[name]!;
    if (input.kind === 'mount' || input.kind === 'aim') {
      const id = without.includes(name) ? null : row[input.kind],
        found: Frame | null = id ? scene.frameOf(id, frame) : null;
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
const readOf = (wired: Wired, values: unknown[], offset: number) =>
  ({ ...wired.ready, ...Object.fromEntries(wired.names.map((name, i) => [name, values[offset + i]])) }) as never;
/** Everything of what an effect reads, for a key. */
const keysOf = (wired: Wired) => [wired.ready, wired.names, wired.steps.map((s) => s.key)];

/** State of what has a past, at a frame: the state one frame earlier, moved on. It sees only the parameters that it names, and they key it. */
function stateStep(scene: Scene, row: DrawnRow, e: Effect, frame: number): Step {
  const history = e.history!,
    pick = (v: object) => Object.fromEntries(history.uses.map((name) => [name, (v as Record<string, unknown>)[name]])) as never;
  // Built upwards from the row's first frame, so that the chain is a loop and not a deep call; a later frame goes on from an earlier one's chain.
  const chain = scene.chains?.get(row.id) ?? [
    { key: keyOf('start', row.type, e.version), inputs: [], keep: 'never' as const, run: () => history.start() },
  ];
  scene.chains?.set(row.id, chain);
  for (let f = row.first + chain.length - 1; f <= frame; f++) {
    const v = pick(rowValues(row, f, 1)),
      before = f > row.first ? pick(rowValues(row, f - 1, 1)) : ({ ...(v as object), ...history.before } as never),
      wired = wire(scene, row, e, history.reads(v, before), f, 1, null),
      facts = factsOf(scene, row, e, f),
      previous = chain[chain.length - 1]!;
    chain.push({
      key: keyOf('state', row.type, e.version, previous.key, v, before, keysOf(wired), facts),
      inputs: [previous, ...wired.steps],
      keep: f % CHECKPOINT === 0 ? 'for frames' : 'never',
      bytes: (value) => history.bytes(value as never),
      run: (values, arena) =>
        wired.missing ? values[0] : history.step(values[0] as never, v, before, readOf(wired, values, 1), drawOf(scene, 4, facts, arena)),
    });
  }
  // Frames that only lead up to this one are not its cost; its own state makes the next frame cheap.
  return { ...chain[Math.max(0, frame - row.first + 1)]!, keep: 'for frames', row: row.row };
}

/** The pictures that one row gives at the frame, treated. */
export const layersStep = (scene: Scene, row: DrawnRow, below: Step<Picture>): Step<Layers> =>
  row.treatments.reduce((layers, t) => treatedStep(scene, row, t, layers), plainLayersStep(scene, row, below));

/** Pictures of a row that a treatment changes. */
const TREATED = ['changed', 'layer', 'light', 'front', 'behind'] as const;

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
