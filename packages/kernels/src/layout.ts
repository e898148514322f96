/** Where things lie in the memory that kernels, threads and pictures share, in bytes from its beginning. */

/** The command that a crew works on (see crew.ts); below it lie the module's own constants. */
export const CONTROL = 32768;
/** Working memory of one thread: enough for a row of 32,000 pixels. */
export const SCRATCH_BYTES = 524288;
/** Threads that one memory can serve, the one that draws among them. */
export const MOST_THREADS = 8;
const SCRATCH = 65536;
export const scratchOf = (thread: number): number => SCRATCH + thread * SCRATCH_BYTES;
/** Everything below belongs to the kernels; pictures begin here. */
export const RESERVED_BYTES = SCRATCH + MOST_THREADS * SCRATCH_BYTES;
