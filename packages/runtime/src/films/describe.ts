/**
 * Makes one film of PNG files in their order; it appears whole or not at all.
 * @param rate frames a second, as a fraction.
 * @param options `onFrame` hears how many frames are written; `signal` ends it.
 */
export type FilmWriter = (
  path: string,
  files: readonly string[],
  rate: { num: number; den: number },
  options?: { onFrame?: (done: number) => void; signal?: AbortSignal },
) => Promise<void>;
