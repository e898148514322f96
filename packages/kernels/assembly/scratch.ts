/** Where this instance's own working memory begins: each thread has one, so that bands never share a line. */
let scratch: usize = 0;

/** Gives the instance its working memory (SCRATCH_BYTES long, 64-byte aligned). Must be called before any other kernel. */
export function useScratch(at: usize): void {
  scratch = at;
}

@inline
export function scratchAt(): usize {
  return scratch;
}

/** Stores the first `some` lanes (four at the most): the end of a row must not write into the next one. */
@inline
export function storeSome(at: usize, v: v128, some: i32): void {
  if (some >= 4) {
    v128.store(at, v);
    return;
  }
  store<f32>(at, f32x4.extract_lane(v, 0));
  if (some > 1) store<f32>(at, f32x4.extract_lane(v, 1), 4);
  if (some > 2) store<f32>(at, f32x4.extract_lane(v, 2), 8);
}
