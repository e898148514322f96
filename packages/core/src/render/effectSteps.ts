import { drawnBy, effectOf, valuesAt, type Draw, type Effect, type Input, type Layers, type Values } from '../effects';
import type { Picture } from '../image/picture';
import type { Arena } from '../image/arena';
import { framesPerSecond } from '../time/rate';
import { clipWithRole, rowRange } from '../shot/query';
import { rowIdOf } from '../shot/expand';
import type { Row, Shot, Subject, Treatment } from '../shot/schema';
import { blendOver, layLight } from '../image/blend';
import { twiceSize } from '../image/blur';
import type { Step } from './evaluate';
import { matteStep, type PoseOf } from './matteSteps';
import { combine } from './combine';
import { elementStep, keyOf, plateStep, sizeOf, type Factor } from './plateSteps';
import type { Sources } from './sources';

/** What steps of a frame are made from. */
export interface Scene {
  shot: Shot;
  frame: number;
  factor: Factor;
  sources: Sources;
  poseOf: PoseOf;
  /** Chains of states of the shot's rows that were built for other frames; null where none are kept. */
  chains: Map<string, Step[]> | null;
}

/** A particle state is remembered every so many frames: enough to make a seek cheap, few enough to stay small. */
const CHECKPOINT = 6;

const subjectOf = (shot: Shot, row: Row): Subject | undefined =>
  row.subject ? shot.subjects[row.subject] : Object.values(shot.subjects)[0];

/** Whether traces of the row's subject (shadow, light) are known, so that they can fade with it. */
function hasTraces(shot: Shot, row: Row): boolean {
  const traces = subjectOf(shot, row)?.traces;
  return !!traces && !!shot.mattes[traces];
}

export function rowValues(shot: Shot, row: Row, frame: number, scale: number): Values<Record<string, never>> {
  return valuesAt(effectOf(row.effect)!.params, row.values, row.curves, frame - rowRange(shot, row)[0], scale) as Values<
    Record<string, never>
  >;
}

/** True where a row changes nothing at this frame and its step is left out. */
export function isIdle(shot: Shot, row: Row, frame: number): boolean {
  const e = effectOf(row.effect)!,
    first = rowRange(shot, row)[0];
  if (row.opacity <= 0) return true;
  return e.idle?.(rowValues(shot, row, frame, 1) as never, frame - first, (f) => rowValues(shot, row, first + f, 1) as never) ?? false;
}

function drawOf(scene: Scene, factor: Factor, frame: number, row: Row, arena: Arena): Draw {
  const size = sizeOf(scene.shot, factor),
    subject = subjectOf(scene.shot, row);
  return {
    pictures: arena,
    frame,
    width: size.width,
    height: size.height,
    scale: 1 / factor,
    framesPerSecond: framesPerSecond(scene.shot.rate),
    subjectPixels: subject?.pixels ?? scene.shot.height * 0.55,
    subjectMetres: subject?.metres ?? 1.7,
    frameInRow: frame - rowRange(scene.shot, row)[0],
    rowLength: row.length,
    traces: hasTraces(scene.shot, row),
  };
}

/** The step of one input, or null where the shot has none. Mounts are no step: they are known at once. */
function inputStep(
  scene: Scene,
  row: Row,
  input: Input,
  frame: number,
  below: Step<Picture> | null,
  times: readonly number[],
): Step | null {
  const { shot, sources, poseOf } = scene,
    factor: Factor = input.size === 'quarter' ? 4 : scene.factor,
    subject = subjectOf(shot, row);
  switch (input.kind) {
    case 'below':
      return below;
    case 'plate': {
      const clip = (subject ? shot.clips[subject.clip] : undefined) ?? clipWithRole(shot, 'performance');
      return clip ? plateStep(shot, clip, frame, factor, sources) : null;
    }
    case 'clean': {
      const clip = clipWithRole(shot, 'clean');
      return clip ? plateStep(shot, clip, frame, factor, sources) : null;
    }
    case 'matte': {
      const id = row.source ?? subject?.matte,
        matte = id ? shot.mattes[id] : undefined;
      return matte ? matteStep(shot, matte, frame, factor, sources, poseOf) : null;
    }
    case 'element': {
      const clip = row.clip ? shot.clips[row.clip] : undefined;
      return clip ? elementStep(clip, sources) : null;
    }
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

interface Wired {
  steps: Step[];
  names: string[];
  ready: Record<string, unknown>;
  missing: boolean;
}
function wire(scene: Scene, row: Row, e: Effect, names: readonly string[], frame: number, below: Step<Picture> | null): Wired {
  const out: Wired = { steps: [], names: [], ready: {}, missing: false },
    first = rowRange(scene.shot, row)[0],
    v = rowValues(scene.shot, row, frame, 1) as never,
    times = e.times?.(v, frame, first) ?? [],
    without: readonly string[] = e.without?.(v) ?? [];
  for (const name of names) {
    const input = e.inputs[name]!;
    if (without.includes(name)) {
      out.ready[name] = null;
      continue;
    }
    if (input.kind === 'mount' || input.kind === 'aim') {
      const id = row[input.kind];
      out.ready[name] = id ? scene.poseOf(id, frame) : null;
      if (!input.optional && !out.ready[name]) out.missing = true;
      continue;
    }
    const step = inputStep(scene, row, input, frame, below, times);
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
const readOf = (wired: Wired, values: unknown[], offset: number) => ({
  ...wired.ready,
  ...Object.fromEntries(wired.names.map((name, i) => [name, values[offset + i]])),
});

/** State of what has a past, at a frame: the state one frame earlier, moved on. Only the parameters that it uses key it. */
function stateStep(scene: Scene, row: Row, e: Effect, frame: number): Step {
  const { shot } = scene,
    history = e.history!,
    [first] = rowRange(shot, row),
    subject = subjectOf(shot, row),
    pick = (v: object) => history.uses.map((name) => (v as Record<string, unknown>)[name]);
  // Built upwards from the row's first frame, so that the chain is a loop and not a deep call; a later frame goes on from an earlier one's chain.
  const chain = scene.chains?.get(row.id) ?? [
    { key: keyOf('start', row.effect), inputs: [], keep: 'never' as const, run: () => history.start() },
  ];
  scene.chains?.set(row.id, chain);
  for (let f = first + chain.length - 1; f <= frame; f++) {
    const v = rowValues(shot, row, f, 1),
      before = f > first ? rowValues(shot, row, f - 1, 1) : ({ ...v, ...history.before } as typeof v);
    const wired = wire(scene, row, e, history.reads(v as never, before as never), f, null),
      previous = chain[chain.length - 1]!;
    chain.push({
      key: keyOf(
        'state',
        row.effect,
        e.version,
        // The air moves on with the shot's frames, so a row that begins later has another past.
        f,
        previous.key,
        pick(v),
        wired.ready,
        wired.steps.map((s) => s.key),
        subject && [subject.pixels, subject.metres],
        shot.rate,
      ),
      inputs: [previous, ...wired.steps],
      keep: f % CHECKPOINT === 0 ? 'for frames' : 'never',
      bytes: (value) => history.bytes(value as never),
      run: (values, arena) =>
        wired.missing
          ? values[0]
          : history.step(
              values[0] as never,
              v as never,
              before as never,
              readOf(wired, values, 1) as never,
              drawOf(scene, 4, f, row, arena),
            ),
    });
  }
  // Frames that only lead up to this one are not its cost; its own state makes the next frame cheap.
  return { ...chain[Math.max(0, frame - first + 1)]!, keep: 'for frames', row: rowIdOf(row.id) };
}

/** The pictures that one row gives at the frame, treated. */
export function layersStep(scene: Scene, row: Row, below: Step<Picture>): Step<Layers> {
  return row.treatments
    .filter((t) => !t.muted && drawnBy(t))
    .reduce((layers, t) => treatedStep(scene, row, t, layers), plainLayersStep(scene, row, below));
}

/** Pictures of a row that a treatment changes. */
const TREATED = ['changed', 'layer', 'light', 'front', 'behind'] as const;

/** What a row gives, with every picture of it changed by an effect that changes what is below it. */
function treatedStep(scene: Scene, row: Row, treatment: Treatment, layers: Step<Layers>): Step<Layers> {
  const e = effectOf(treatment.effect)!,
    asRow: Row = { ...row, effect: treatment.effect, values: treatment.values, curves: {}, treatments: [], twins: [] },
    v = rowValues(scene.shot, asRow, scene.frame, 1 / scene.factor),
    names = Object.keys(e.inputs),
    belowName = names.find((name) => e.inputs[name]!.kind === 'below'),
    wired = wire(
      scene,
      asRow,
      e,
      names.filter((name) => name !== belowName && e.inputs[name]!.size !== 'quarter'),
      scene.frame,
      null,
    );
  if (!belowName) return layers;
  return {
    key: keyOf(
      'treated',
      treatment.effect,
      e.version,
      v,
      wired.ready,
      wired.steps.map((s) => s.key),
      layers.key,
      scene.frame,
    ),
    inputs: [layers, ...wired.steps],
    keep: 'at the playhead',
    row: rowIdOf(row.id),
    run([given, ...values]: [Layers, ...unknown[]], arena) {
      if (wired.missing || e.idle?.(v as never, 0, () => v as never)) return given;
      const draw = drawOf(scene, scene.factor, scene.frame, asRow, arena),
        out: Layers = { ...given };
      for (const name of TREATED) {
        const picture = given[name];
        if (!picture) continue;
        const whole =
            picture.width === draw.width && picture.height === draw.height ? picture : twiceSize(picture, draw.width, draw.height, arena),
          { changed, light, layer } = e.render(
            draw,
            v as never,
            { ...readOf(wired, values, 0), [belowName]: whole } as never,
            undefined as never,
          );
        let now = changed ?? whole;
        if (light) now = layLight(light, now, 'add', 1, arena);
        if (layer) now = blendOver(layer, now, 'normal', 1, arena);
        out[name] = now;
      }
      return out;
    },
  };
}

function plainLayersStep(scene: Scene, row: Row, below: Step<Picture>): Step<Layers> {
  const e = effectOf(row.effect)!,
    { shot, frame, factor } = scene,
    v = rowValues(shot, row, frame, 1 / factor);
  const wired = wire(
    scene,
    row,
    e,
    Object.keys(e.inputs).filter((name) => e.inputs[name]!.size !== 'quarter'),
    frame,
    below,
  );
  const state = e.history ? stateStep(scene, row, e, frame) : null,
    size = sizeOf(shot, factor);
  const takesBelow = Object.values(e.inputs).some((i) => i.kind === 'below');
  return {
    key: keyOf(
      'layers',
      row.effect,
      e.version,
      v,
      wired.ready,
      wired.steps.map((s) => s.key),
      state?.key,
      frame,
      size,
      hasTraces(shot, row),
      e.timed ? [frame - rowRange(shot, row)[0], row.length] : null,
    ),
    inputs: [...wired.steps, ...(state ? [state] : [])],
    keep: takesBelow ? 'never' : 'at the playhead',
    row: rowIdOf(row.id),
    run(values, arena) {
      if (wired.missing) return {};
      return e.render(
        drawOf(scene, factor, frame, row, arena),
        v as never,
        readOf(wired, values, 0) as never,
        (state ? values[values.length - 1] : undefined) as never,
      );
    },
  };
}
