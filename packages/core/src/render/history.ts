import type { Step } from './evaluate';
import { valuesAt, type Effect, type Params } from '../effects';
import type { DrawnRow } from '../shot/drawn';
import type { Shot } from '../shot/schema';
import { keyOf } from './key';
import { drawOf, factsOf, type Scene } from './scene';
import { keysOf, readOf, wire } from './wiring';

/** A particle state is remembered every so many frames: enough to make a seek cheap, few enough to stay small. */
const CHECKPOINT = 6;

/** What every state of a shot may follow from: clips, and where things are on them. */
const surroundings = new WeakMap<Shot, string>();
function surroundingsOf(shot: Shot): string {
  let text = surroundings.get(shot);
  if (text === undefined) {
    const { width, height, rate, clips, tracks, mounts, mattes } = shot;
    surroundings.set(shot, (text = JSON.stringify([width, height, rate, clips, tracks, mounts, mattes])));
  }
  return text;
}
/** All that the states of a row follow from, but the frame: where it is equal, so are they. */
function followsFrom(shot: Shot, row: DrawnRow, uses: readonly string[]): string {
  const own = uses.map((name) => [row.values[name], row.curves[name], row.curves[`${name}.x`], row.curves[`${name}.y`]]);
  const of = JSON.stringify([
    ...[row.type, row.version, row.first, row.length, own, row.mount, row.aim, row.source, row.pattern],
    ...[row.element?.id, row.plate?.id, row.clean?.id, row.subjectPixels, row.subjectMetres, row.traces],
    // What a stroke is worth hangs on the curve of the progress, which a past with strokes names.
    row.strokes,
  ]);
  return of + surroundingsOf(shot);
}

const subsets = new WeakMap<Effect, Params>();
/** The parameters that the past of an effect sees. */
function paramsOf(e: Effect): Params {
  let params = subsets.get(e);
  if (!params) subsets.set(e, (params = Object.fromEntries(e.history!.uses.map((name) => [name, e.params[name]!]))));
  return params;
}

/** State of what has a past, at a frame: the state one frame earlier, moved on. It sees only the parameters that it names, and they key it. */
export function stateStep(scene: Scene, row: DrawnRow, e: Effect, frame: number): Step {
  const history = e.history!,
    params = paramsOf(e),
    values = (f: number) => valuesAt(params, row.values, row.curves, f - row.first, 1) as never,
    // Which inputs it reads is said by its own `reads`, by the values that it sees; which frames it shows may hang on any of its values.
    past = e.without ? { ...e, without: undefined } : e,
    from = followsFrom(scene.shot, row, e.times ? Object.keys(e.params) : history.uses);
  let chain = scene.chains?.get(row.id);
  if (chain?.from !== from) {
    chain = { from, steps: [{ key: keyOf('start', row.type, e.version), inputs: [], keep: 'never', run: () => history.start() }] };
    scene.chains?.set(row.id, chain);
  }
  // Built upwards from the row's first frame, so that the chain is a loop and not a deep call; a later frame goes on from an earlier one's chain.
  const { steps } = chain,
    next = row.first + steps.length - 1;
  let last = next <= frame && next > row.first ? values(next - 1) : null;
  for (let f = next; f <= frame; f++) {
    const v = values(f),
      before = last ?? ({ ...(v as object), ...history.before } as never),
      wired = wire(scene, row, past, history.reads(v, before), f, 1, null),
      facts = factsOf(scene, row, e, f),
      previous = steps[steps.length - 1]!;
    steps.push({
      // The key of the state before holds the values before.
      key: keyOf(previous.key, v, last === null && before, keysOf(wired), facts),
      inputs: [previous, ...wired.steps],
      keep: f % CHECKPOINT === 0 ? 'for frames' : 'never',
      bytes: (value) => history.bytes(value as never),
      run: (given, arena) =>
        wired.missing ? given[0] : history.step(given[0] as never, v, before, readOf(wired, given, 1), drawOf(scene, 4, facts, arena)),
    });
    last = v;
  }
  // Frames that only lead up to this one are not its cost; its own state makes the next frame cheap.
  return { ...steps[Math.max(0, frame - row.first + 1)]!, keep: 'for frames', row: row.row };
}
