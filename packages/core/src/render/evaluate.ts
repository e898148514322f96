import type { Arena } from '../image/arena';
import { takeLike } from '../image/resize';
import { Residents } from './residents';
import { bytesOf, detach, type Raster } from '../image/picture';

/** What a step gives: rasters, alone or by name, and whatever else (particles, numbers) beside them. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- steps of all kinds share one graph; each knows its inputs' types
export type Value = any;

/** One thing that must be computed. Its key says all that it depends on, so equal keys are equal values. */
export interface Step<T = Value> {
  key: string;
  inputs: Step[];
  /**
   * What it is worth remembering for: the frames around it, further edits of this very frame whenever they come, or edits of the frame that somebody
   * looks at just now.
   */
  keep: 'never' | 'at the playhead' | 'for edits' | 'for frames';
  /** The row that its cost counts for. */
  row?: string;
  /**
   * `owned(i)` says that nobody else needs input i's rasters: the step may write into them, and give them as its own result. It may give any
   * input's raster as its result unchanged.
   */
  run(inputs: Value[], arena: Arena, owned: (i: number) => boolean): T | Promise<T>;
  /** Bytes that a value holds besides rasters. */
  bytes?(value: T): number;
}

export class Cancelled extends Error {
  constructor() {
    super('cancelled');
  }
}

const isRaster = (v: unknown): v is Raster =>
  typeof v === 'object' && v !== null && ((v as Raster).kind === 'picture' || (v as Raster).kind === 'plane');
function rastersIn(value: Value): Raster[] {
  if (isRaster(value)) return [value];
  return value && typeof value === 'object' && !ArrayBuffer.isView(value) ? Object.values(value).filter(isRaster) : [];
}
function mapRasters(value: Value, map: (raster: Raster) => Raster): Value {
  if (isRaster(value)) return map(value);
  if (rastersIn(value).length === 0) return value;
  if (Array.isArray(value)) return value.map((v: Value) => (isRaster(v) ? map(v) : v));
  return Object.fromEntries(Object.entries(value as object).map(([k, v]) => [k, isRaster(v) ? map(v) : v]));
}

/** Remembers values by key, the least recently used leaving first when a limit of bytes is passed. */
export class Store {
  private readonly entries = new Map<string, { value: Value; bytes: number }>();
  private total = 0;
  constructor(public limit: number) {}
  /** Takes another limit; what is too much for it leaves at once. */
  limitTo(bytes: number): void {
    this.limit = bytes;
    this.shrink();
  }
  get bytes(): number {
    return this.total;
  }
  get size(): number {
    return this.entries.size;
  }

  get(key: string): Value | undefined {
    const entry = this.entries.get(key);
    if (!entry) return undefined;
    this.entries.delete(key);
    this.entries.set(key, entry);
    return entry.value;
  }
  set(key: string, value: Value, bytes: number): void {
    if (bytes > this.limit || this.entries.has(key)) return;
    this.entries.set(key, { value, bytes });
    this.total += bytes;
    this.shrink();
  }
  private shrink(): void {
    for (const [old, entry] of this.entries) {
      if (this.total <= this.limit) break;
      this.entries.delete(old);
      this.total -= entry.bytes;
    }
  }
}

/** Numbers of one evaluation: steps that were run (by key), and milliseconds by row where a clock was given. */
export interface Report {
  ran: string[];
  cost: Record<string, number>;
}

/** Computes steps lazily: a remembered key is not computed again, and working rasters go back as soon as nobody needs them. */
export class Evaluator {
  private readonly residents: Residents;
  /**
   * @param edits remember what makes a further edit of a frame cheap; without it (a run of frames that nobody edits) only what
   * other frames use is remembered.
   */
  constructor(
    readonly arena: Arena,
    readonly store: Store,
    private readonly clock?: () => number,
    private readonly edits = true,
  ) {
    this.residents = new Residents(arena);
  }

  private remember(step: Step, value: Value): void {
    if (step.keep === 'for frames' && isRaster(value) && this.residents.keep(step.key, value)) return;
    this.store.set(step.key, mapRasters(value, detach), rastersIn(value).reduce((n, r) => n + bytesOf(r), 64) + (step.bytes?.(value) ?? 0));
  }

  /**
   * Computes `root` and hands it to `use`; the value's rasters belong to the arena again afterwards.
   * @param playhead somebody looks at this frame: what makes a further edit of it cheap is remembered too.
   * @throws Cancelled between steps, once `cancelled` says so; nothing stays taken.
   */
  async evaluate<T, R>(
    root: Step<T>,
    use: (value: T, report: Report, arena: Arena) => R,
    cancelled: () => boolean = () => false,
    playhead = true,
  ): Promise<R> {
    const report: Report = { ran: [], cost: {} },
      waiting = new Map<string, number>(),
      ready = new Map<string, Value>(),
      /** How many values hold a raster of the arena: a step may pass on what it was given. */
      holders = new Map<number, number>();
    const hold = (value: Value): void => {
      for (const { address } of rastersIn(value)) if (address !== undefined) holders.set(address, (holders.get(address) ?? 0) + 1);
    };
    // Both walks keep their own stack: what has a past is a chain as long as its row.
    const count = (from: Step): void => {
      for (const stack = [from]; stack.length;) {
        const step = stack.pop()!,
          seen = waiting.get(step.key);
        waiting.set(step.key, (seen ?? 0) + 1);
        if (seen !== undefined) continue;
        const kept = this.residents.get(step.key) ?? this.store.get(step.key);
        if (kept !== undefined) {
          ready.set(step.key, kept);
          hold(kept);
        } else stack.push(...step.inputs);
      }
    };
    const done = (step: Step): void => {
      const left = waiting.get(step.key)! - 1;
      waiting.set(step.key, left);
      if (left > 0) return;
      const value = ready.get(step.key);
      ready.delete(step.key);
      for (const raster of rastersIn(value)) {
        if (raster.address === undefined) continue;
        const others = holders.get(raster.address)! - 1;
        holders.set(raster.address, others);
        if (others === 0 && !this.arena.isPinned(raster.address)) this.arena.give(raster);
      }
    };
    /** True where this is the last use of an input, and no other value holds its rasters. */
    const isOwned = (step: Step): boolean =>
      waiting.get(step.key) === 1 &&
      rastersIn(ready.get(step.key)).every(
        ({ address }) => address !== undefined && holders.get(address) === 1 && !this.arena.isPinned(address),
      );
    /** A ready value with all of its rasters in the arena: remembered ones are copied in when they are first used. */
    const broughtIn = (key: string): Value => {
      const value = ready.get(key);
      if (rastersIn(value).every((raster) => raster.address !== undefined)) return value;
      const inside = mapRasters(value, (raster) => {
        if (raster.address !== undefined) return raster;
        const copy = takeLike(this.arena, raster);
        copy.data.set(raster.data);
        hold(copy);
        return copy;
      });
      ready.set(key, inside);
      return inside;
    };
    const run = async (step: Step): Promise<void> => {
      if (cancelled()) throw new Cancelled();
      const inputs = step.inputs.map((input) => broughtIn(input.key)),
        begun = this.clock?.() ?? 0,
        value = await step.run(inputs, this.arena, (i) => isOwned(step.inputs[i]!));
      if (this.clock && step.row) report.cost[step.row] = (report.cost[step.row] ?? 0) + this.clock() - begun;
      report.ran.push(step.key);
      hold(value);
      step.inputs.forEach(done);
      const worth =
        step.keep === 'for frames' || (this.edits && (step.keep === 'for edits' || (step.keep === 'at the playhead' && playhead)));
      if (worth) this.remember(step, value);
      ready.set(step.key, value);
    };
    const compute = async (from: Step): Promise<Value> => {
      for (const stack = [from]; stack.length;) {
        const step = stack[stack.length - 1]!;
        if (ready.get(step.key) !== undefined) {
          stack.pop();
          continue;
        }
        const missing = step.inputs.find((input) => ready.get(input.key) === undefined);
        if (missing) stack.push(missing);
        else await run(step);
      }
      return ready.get(from.key);
    };
    this.residents.begin();
    try {
      count(root);
      const value = (await compute(root)) as T;
      return use(value, report, this.arena);
    } finally {
      this.arena.reset();
    }
  }
}
