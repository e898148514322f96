import { loadKernels, RESERVED_BYTES } from './index';

/** For tests: a memory with kernels bound to it, and arrays in it that are taken one after another. */
export function testMemory(seed: number) {
  const memory = new WebAssembly.Memory({ initial: 200, maximum: 32768, shared: true });
  let next = RESERVED_BYTES,
    state = seed;
  return {
    memory,
    kernels: loadKernels(memory),
    /** Takes everything back: before each test. */
    fresh: (): void => {
      next = RESERVED_BYTES;
    },
    /** A repeatable number from 0 up to 1. */
    random: (): number => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296,
    /** Float32 numbers, 16-byte aligned, with a few of guard behind them. */
    floats(count: number, value: (i: number) => number = () => -77): { at: number; data: Float32Array<ArrayBufferLike> } {
      const at = next;
      next += Math.ceil((count * 4 + 64) / 16) * 16;
      const data = new Float32Array(memory.buffer, at, count);
      for (let i = 0; i < count; i++) data[i] = value(i);
      return { at, data };
    },
  };
}

/** Sizes of pictures that kernels are tried on: smaller than a vector, odd, and some of both. */
export const sizes: [number, number][] = [
  [1, 1],
  [3, 2],
  [5, 7],
  [33, 18],
];
/** The greatest difference of two lists of numbers. */
export const off = (a: ArrayLike<number>, b: ArrayLike<number>): number => Math.max(0, ...Array.from(a, (v, i) => Math.abs(v - b[i]!)));
/** Works in two bands, the lower one first: bands depend on nothing of each other. */
export const banded = (rows: number, work: (y0: number, y1: number) => void): void => {
  work(rows >> 1, rows);
  work(0, rows >> 1);
};
