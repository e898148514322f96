import {
  Crew,
  kernelModule,
  loadKernels,
  RESERVED_BYTES,
  type BandKernel,
  type BandKernels,
  type BandThread,
  type Kernels,
} from '@wraithos/kernels';
import type { Picture, Plane, Raster } from './picture';

/** Threads that help with every kernel: how many, and how to start one (a browser worker, or a thread of Node). */
export interface Helpers {
  count: number;
  start(thread: BandThread): void;
}

/** Where an evaluation takes its working pictures from. Their contents are undefined until written. */
export interface Pictures {
  takePicture(width: number, height: number): Picture;
  takePlane(width: number, height: number): Plane;
  give(raster: Raster): void;
  /** Runs a kernel over `rows` of its result, on all threads that there are. Arguments are addresses and numbers. */
  run<K extends BandKernel>(kernel: K, rows: number, ...args: Parameters<BandKernels[K]>): void;
  /** The address of a table that stays for as long as the memory does; made when it is first asked for. */
  constant(key: string, make: () => ArrayLike<number>): number;
  readonly kernels: Kernels;
}

const PAGE = 65536;
const ALIGN = 64;
/** Kernels may read, but not write, this much behind a raster. */
const BEHIND = 16;
const MEBIBYTE = 1048576;
const MOST_BYTES = 2147483648;

/**
 * A working memory of fixed size for pictures, shared with the kernels. Freed blocks join their neighbours; the first gap that
 * fits is used, which keeps a frame's pictures close together. It never grows: asking for more than fits is an error that names
 * the size.
 */
export class Arena implements Pictures {
  readonly kernels: Kernels;
  readonly memory: WebAssembly.Memory;
  private gaps: { start: number; size: number }[];
  private readonly taken = new Map<number, number>();
  private readonly pinned = new Set<number>();
  private readonly constants = new Map<string, number>();
  private readonly crew: Crew | null;
  /** Most bytes in use at one time so far. */
  peak = 0;
  private used = 0;

  /**
   * @param bytes total size; rounded up to whole 64 KiB pages, at most 2 GiB.
   * @param helpers threads that share the work; without them the calling one does it alone.
   */
  constructor(bytes: number, helpers?: Helpers) {
    const pages = Math.min(32768, Math.ceil((bytes + RESERVED_BYTES) / PAGE));
    this.memory = new WebAssembly.Memory({ initial: pages, maximum: 32768, shared: true });
    this.kernels = loadKernels(this.memory);
    this.crew = helpers?.count ? new Crew(kernelModule(), this.memory, this.kernels, helpers.count, helpers.start) : null;
    this.gaps = [{ start: RESERVED_BYTES, size: pages * PAGE - RESERVED_BYTES }];
  }

  /** An arena for about 24 pictures of this size, 2 GiB at the most. */
  static forShot(width: number, height: number, helpers?: Helpers): Arena {
    return new Arena(Math.min(MOST_BYTES, Math.max(24 * width * height * 16, 64 * MEBIBYTE)), helpers);
  }

  run<K extends BandKernel>(kernel: K, rows: number, ...args: Parameters<BandKernels[K]>): void {
    if (this.crew && rows > 1) this.crew.run(kernel, rows, args);
    else (this.kernels[kernel] as (...given: unknown[]) => void)(...args, 0, rows);
  }

  constant(key: string, make: () => ArrayLike<number>): number {
    let address = this.constants.get(key);
    if (address === undefined) {
      const values = make(),
        size = Math.ceil((values.length * 4 + BEHIND) / ALIGN) * ALIGN,
        gap = this.gaps[this.gaps.length - 1];
      // At the far end, where it does not cut up the room for pictures.
      if (!gap || gap.size < size) throw new Error(`Arena.constant: no room for ${key}`);
      gap.size -= size;
      address = gap.start + gap.size;
      new Float32Array(this.memory.buffer, address, values.length).set(values);
      this.constants.set(key, address);
    }
    return address;
  }

  private take(length: number): { data: Float32Array<ArrayBufferLike>; address: number } {
    const size = Math.max(ALIGN, Math.ceil((length * 4 + BEHIND) / ALIGN) * ALIGN);
    const index = this.gaps.findIndex((gap) => gap.size >= size);
    if (index < 0)
      throw new Error(`Arena.take: no room for ${Math.round(size / MEBIBYTE)} MiB beside ${Math.round(this.used / MEBIBYTE)} MiB in use`);
    const gap = this.gaps[index]!,
      address = gap.start;
    if (gap.size === size) this.gaps.splice(index, 1);
    else this.gaps[index] = { start: gap.start + size, size: gap.size - size };
    this.taken.set(address, size);
    this.used += size;
    this.peak = Math.max(this.peak, this.used);
    return { data: new Float32Array(this.memory.buffer, address, length), address };
  }

  takePicture(width: number, height: number): Picture {
    return { kind: 'picture', width, height, ...this.take(width * height * 4) };
  }
  takePlane(width: number, height: number): Plane {
    return { kind: 'plane', width, height, ...this.take(width * height) };
  }

  /** Gives a raster back. Rasters from elsewhere are ignored, so that kept and working ones can be treated alike. */
  give(raster: Raster): void {
    const address = raster.address;
    if (address === undefined) return;
    const size = this.taken.get(address);
    if (size === undefined) throw new Error('Arena.give: this picture was given back already');
    this.taken.delete(address);
    this.used -= size;
    let at = this.gaps.findIndex((gap) => gap.start > address);
    if (at < 0) at = this.gaps.length;
    this.gaps.splice(at, 0, { start: address, size });
    const after = this.gaps[at + 1],
      self = this.gaps[at]!;
    if (after && self.start + self.size === after.start) {
      self.size += after.size;
      this.gaps.splice(at + 1, 1);
    }
    const before = this.gaps[at - 1];
    if (before && before.start + before.size === self.start) {
      before.size += self.size;
      this.gaps.splice(at, 1);
    }
  }

  /** Bytes of the whole memory for pictures. */
  get capacity(): number {
    return this.memory.buffer.byteLength - RESERVED_BYTES;
  }

  /** Keeps a raster through `reset`, until it is let go. */
  pin(raster: Raster): void {
    const size = raster.address === undefined ? undefined : this.taken.get(raster.address);
    if (size === undefined) throw new Error('Arena.pin: this picture is not from here');
    this.pinned.add(raster.address!);
  }
  isPinned(address: number): boolean {
    return this.pinned.has(address);
  }
  letGo(raster: Raster): void {
    this.pinned.delete(raster.address!);
    this.give(raster);
  }

  /** How many rasters are out, those not counted that are pinned. */
  get inUse(): number {
    return this.taken.size - this.pinned.size;
  }

  /** Gives back everything that is not pinned: after a frame, however it ended. */
  reset(): void {
    for (const address of [...this.taken.keys()])
      if (!this.pinned.has(address)) this.give({ kind: 'plane', width: 0, height: 0, data: new Float32Array(0), address });
  }
}
