import { kernelBytes } from './kernelBytes';

/** What the compiled module offers; see assembly/index.ts for units. */
export interface Kernels {
  over(front: number, back: number, out: number, count: number): void;
  copy(from: number, to: number, bytes: number): void;
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

/** Plain twin of the kernel `over`, for its test and for reading: the same arithmetic in the same order, in float32. */
export function overTwin(
  front: Float32Array<ArrayBufferLike>,
  back: Float32Array<ArrayBufferLike>,
  out: Float32Array<ArrayBufferLike>,
): void {
  const f = Math.fround;
  for (let i = 0; i < front.length; i += 4) {
    const free = f(1 - front[i + 3]!);
    for (let c = 0; c < 4; c++) out[i + c] = f(front[i + c]! + f(back[i + c]! * free));
  }
}
