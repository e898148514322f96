import { kernelBytes } from './kernelBytes';
import { scratchOf } from './layout';
import type { Kernels } from './names';

export * from './crew';
export { RESERVED_BYTES, SCRATCH_BYTES, MOST_THREADS } from './layout';
export { bandKernels, type BandKernel, type BandKernels, type Kernels } from './names';

let compiled: WebAssembly.Module | undefined;

/** The compiled module, made once. */
export function kernelModule(): WebAssembly.Module {
  if (!compiled) {
    const text = atob(kernelBytes);
    const bytes = new Uint8Array(text.length);
    for (let i = 0; i < text.length; i++) bytes[i] = text.charCodeAt(i);
    compiled = new WebAssembly.Module(bytes);
  }
  return compiled;
}

/**
 * Binds the kernels to a memory, as its first thread. The memory must be shared, at least RESERVED_BYTES and at most 2 GiB.
 * @throws WebAssembly.LinkError when the memory is not shared or larger than the module allows.
 */
export function loadKernels(memory: WebAssembly.Memory): Kernels {
  const kernels = new WebAssembly.Instance(kernelModule(), {
    env: {
      memory,
      abort: () => {
        throw new Error('kernel aborted');
      },
    },
  }).exports as unknown as Kernels;
  kernels.useScratch(scratchOf(0));
  return kernels;
}
