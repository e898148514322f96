import { kernelBytes } from './kernelBytes';

/** What the compiled module offers; see assembly/index.ts for units. */
export interface Kernels {
  over(front: number, back: number, out: number, count: number): void;
  copy(from: number, to: number, bytes: number): void;
  blurRows(
    src: number,
    dst: number,
    width: number,
    channels: number,
    y0: number,
    y1: number,
    taps: number,
    reach: number,
    line: number,
  ): void;
  blurColumns(src: number, dst: number, floats: number, height: number, y0: number, y1: number, taps: number, reach: number): void;
  halve(src: number, dst: number, width: number, height: number, channels: number, y0: number, y1: number, line: number): void;
  double(
    src: number,
    dst: number,
    w: number,
    h: number,
    channels: number,
    width: number,
    height: number,
    y0: number,
    y1: number,
    line: number,
  ): void;
  growOnce(src: number, dst: number, width: number, height: number, square: boolean, shrink: boolean, y0: number, y1: number): void;
  rootDifference(a: number, b: number, out: number, count: number): void;
  mixByMask(before: number, after: number, mask: number, out: number, count: number): void;
  addDifference(base: number, before: number, after: number, weight: number, out: number, count: number): void;
  screenLight(light: number, below: number, opacity: number, out: number, count: number): void;
  windowProducts(window: number, side: number, pattern: number, rows: number, columns: number, span: number, out: number): void;
}

let compiled: WebAssembly.Module | undefined;

function moduleOnce(): WebAssembly.Module {
  if (!compiled) {
    const text = atob(kernelBytes);
    const bytes = new Uint8Array(text.length);
    for (let i = 0; i < text.length; i++) bytes[i] = text.charCodeAt(i);
    compiled = new WebAssembly.Module(bytes);
  }
  return compiled;
}

/** Bytes of linear memory below this address belong to the kernels themselves. */
export const RESERVED_BYTES = 65536;

/**
 * Binds the kernels to a memory. The memory must be shared and at most 2 GiB.
 * @throws WebAssembly.LinkError when the memory is not shared or larger than the module allows.
 */
export function loadKernels(memory: WebAssembly.Memory): Kernels {
  const instance = new WebAssembly.Instance(moduleOnce(), {
    env: {
      memory,
      abort: () => {
        throw new Error('kernel aborted');
      },
    },
  });
  return instance.exports as unknown as Kernels;
}

export * from './twins';
