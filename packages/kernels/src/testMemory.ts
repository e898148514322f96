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
