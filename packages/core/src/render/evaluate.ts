import type { Arena } from '../image/arena';
import { bytesOf, detach, type Raster } from '../image/picture';

/** What a step gives: rasters, alone or by name, and whatever else (particles, numbers) beside them. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- steps of all kinds share one graph; each knows its inputs' types
export type Value = any;

/** One thing that must be computed. Its key says all that it depends on, so equal keys are equal values. */
export interface Step<T = Value> {
  key: string;
  inputs: Step[];
  /** What it is worth remembering for: the frames around it, or only further edits of this very frame. */
  keep: 'never' | 'for edits' | 'for frames';
  /** The row that its cost counts for. */
  row?: string;
  run(inputs: Value[], arena: Arena): T | Promise<T>;
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
function detachValue(value: Value): Value {
  if (isRaster(value)) return detach(value);
  if (rastersIn(value).length === 0) return value;
  return Object.fromEntries(Object.entries(value as object).map(([k, v]) => [k, isRaster(v) ? detach(v) : v]));
}

/** Remembers values by key, the least recently used leaving first when a limit of bytes is passed. */
export class Store {
  private readonly entries = new Map<string, { value: Value; bytes: number }>();
  private total = 0;
  constructor(readonly limit: number) {}
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
  /**
   * @param edits remember what makes a further edit of a frame cheap; without it (a run of frames that nobody edits) only what
   * other frames use is remembered.
   */
  constructor(
    readonly arena: Arena,
    readonly store: Store,
    private readonly clock?: () => number,
    private readonly edits = true,
  ) {}

  /**
   * Computes `root` and hands it to `use`; the value's rasters belong to the arena again afterwards.
   * @throws Cancelled between steps, once `cancelled` says so; nothing stays taken.
   */
  async evaluate<T, R>(root: Step<T>, use: (value: T, report: Report) => R, cancelled: () => boolean = () => false): Promise<R> {
    const report: Report = { ran: [], cost: {} },
      waiting = new Map<string, number>(),
      ready = new Map<string, Value>();
    // Both walks keep their own stack: what has a past is a chain as long as its row.
    const count = (from: Step): void => {
      for (const stack = [from]; stack.length;) {
        const step = stack.pop()!,
          seen = waiting.get(step.key);
        waiting.set(step.key, (seen ?? 0) + 1);
        if (seen !== undefined) continue;
        const kept = this.store.get(step.key);
        if (kept !== undefined) ready.set(step.key, kept);
        else stack.push(...step.inputs);
      }
    };
    const done = (step: Step): void => {
      const left = waiting.get(step.key)! - 1;
      waiting.set(step.key, left);
      if (left > 0) return;
      const value = ready.get(step.key);
      ready.delete(step.key);
      rastersIn(value).forEach((raster) => this.arena.give(raster));
    };
    const run = async (step: Step): Promise<void> => {
      if (cancelled()) throw new Cancelled();
      const inputs = step.inputs.map((input) => ready.get(input.key)),
        begun = this.clock?.() ?? 0,
        value = await step.run(inputs, this.arena);
      if (this.clock && step.row) report.cost[step.row] = (report.cost[step.row] ?? 0) + this.clock() - begun;
      report.ran.push(step.key);
      step.inputs.forEach(done);
      if (step.keep === 'for frames' || (step.keep === 'for edits' && this.edits))
        this.store.set(step.key, detachValue(value), rastersIn(value).reduce((n, r) => n + bytesOf(r), 64) + (step.bytes?.(value) ?? 0));
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
    try {
      count(root);
      const value = (await compute(root)) as T;
      return use(value, report);
    } finally {
      this.arena.reset();
    }
  }
}
