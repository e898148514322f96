/** `onFrame` hears how many frames are written; `signal` ends it; `alpha` takes the files' alpha along. */
export interface FilmOptions {
  onFrame?: (done: number) => void;
  signal?: AbortSignal;
  alpha?: boolean;
}
/**
 * Makes one film of PNG files in their order; it appears whole or not at all.
 * @param rate frames a second, as a fraction.
 */
export type FilmWriter = (
  path: string,
  files: readonly string[],
  rate: { num: number; den: number },
  options?: FilmOptions,
) => Promise<void>;
