import { CONTROL, MOST_THREADS, scratchOf } from './layout';
import { bandKernels, type BandKernel, type BandKernels, type Kernels } from './names';

/** What a thread needs to help: posted to it by whoever starts it. */
export interface BandThread {
  module: WebAssembly.Module;
  memory: WebAssembly.Memory;
  names: readonly string[];
  control: number;
  scratch: number;
}

// Places in the control block, in 32-bit words: state of the command (even: closed, odd: open), who is inside, the kernel, bands in all, next band, bands done, rows, count of arguments.
const STATE = 0,
  INSIDE = 1,
  KERNEL = 2,
  BANDS = 3,
  NEXT = 4,
  DONE = 5,
  ROWS = 6,
  COUNT = 7;
/** Arguments follow as doubles. */
const ARGUMENTS = 64;
/** A kernel's rows are cut into this many bands: enough that nobody waits long for the last one. */
const MOST_BANDS = 12;

/**
 * Helps for ever: waits for a command, takes bands until none is left, waits again. It blocks its thread; whoever started it ends it. The
 * function uses nothing from outside itself, so that its source can be started as a program of its own.
 */
export function serveBands({ module, memory, names, control, scratch }: BandThread): void {
  const kernels = new WebAssembly.Instance(module, { env: { memory, abort: () => undefined } }).exports as Record<
    string,
    (...given: number[]) => void
  >;
  kernels.useScratch!(scratch);
  const words = new Int32Array(memory.buffer, control, 16),
    given = new Float64Array(memory.buffer, control + 64, 24);
  for (;;) {
    let state = Atomics.load(words, 0);
    // Waking up takes longer than many a kernel, and the next command mostly comes at once: so look for it a little before sleeping.
    for (let tries = 0; !(state & 1) && tries < 20000; tries++) state = Atomics.load(words, 0);
    if (!(state & 1)) {
      Atomics.wait(words, 0, state);
      continue;
    }
    Atomics.add(words, 1, 1);
    // The command may have ended between the two: then its arguments are not to be read.
    if (Atomics.load(words, 0) === state) {
      const kernel = kernels[names[words[2]!]!]!,
        bands = words[3]!,
        rows = words[6]!,
        own = Array.from(given.subarray(0, words[7]));
      for (let band = Atomics.add(words, 4, 1); band < bands; band = Atomics.add(words, 4, 1)) {
        kernel(...own, Math.floor((band * rows) / bands), Math.floor(((band + 1) * rows) / bands));
        if (Atomics.add(words, 5, 1) + 1 === bands) Atomics.notify(words, 5);
      }
    }
    Atomics.sub(words, 1, 1);
    // Closing follows at once, or when the slowest band is done.
    for (let tries = 0; Atomics.load(words, 0) === state && tries < 20000; tries++);
    Atomics.wait(words, 0, state);
  }
}

/**
 * Runs a kernel's bands on the calling thread and on helpers that share the memory. Bands give the same bits in any order, so the number of
 * helpers changes nothing but the time. The calling thread must be allowed to wait (a worker, or Node).
 */
export class Crew {
  private readonly words: Int32Array;
  private readonly given: Float64Array;
  private state = 0;

  /** @param start starts one helper; it may begin to help at any later time. */
  constructor(
    module: WebAssembly.Module,
    memory: WebAssembly.Memory,
    private readonly kernels: Kernels,
    helpers: number,
    start: (thread: BandThread) => void,
  ) {
    this.words = new Int32Array(memory.buffer, CONTROL, 16);
    this.given = new Float64Array(memory.buffer, CONTROL + ARGUMENTS, 24);
    for (let i = 1; i <= Math.min(helpers, MOST_THREADS - 1); i++)
      start({ module, memory, names: bandKernels, control: CONTROL, scratch: scratchOf(i) });
  }

  run<K extends BandKernel>(name: K, rows: number, args: Parameters<BandKernels[K]>): void {
    const { words, given } = this,
      bands = Math.min(rows, MOST_BANDS),
      kernel = this.kernels[name] as (...given: unknown[]) => void;
    words[KERNEL] = bandKernels.indexOf(name);
    words[BANDS] = bands;
    words[ROWS] = rows;
    words[COUNT] = args.length;
    args.forEach((value, i) => (given[i] = Number(value)));
    Atomics.store(words, NEXT, 0);
    Atomics.store(words, DONE, 0);
    this.state += 1;
    Atomics.store(words, STATE, this.state);
    Atomics.notify(words, STATE);
    for (let band = Atomics.add(words, NEXT, 1); band < bands; band = Atomics.add(words, NEXT, 1)) {
      kernel(...args, Math.floor((band * rows) / bands), Math.floor(((band + 1) * rows) / bands));
      Atomics.add(words, DONE, 1);
    }
    for (let done = Atomics.load(words, DONE), tries = 0; done < bands; done = Atomics.load(words, DONE))
      if (++tries > 3000) Atomics.wait(words, DONE, done, 1);
    // Closed again: late helpers are turned away, and those inside find no band left.
    this.state += 1;
    Atomics.store(words, STATE, this.state);
    while (Atomics.load(words, INSIDE) > 0);
  }
}
