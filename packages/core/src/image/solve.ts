/**
 * Solves a symmetric system of `n` equations by Cholesky's way; null where it does not say enough.
 * @param h its matrix by rows, of which the lower half counts: it is overwritten. @param b its right side.
 */
export function solved(h: Float64Array, b: Float64Array, n: number): Float64Array | null {
  for (let j = 0; j < n; j++) {
    let d = h[j * n + j]!;
    for (let k = 0; k < j; k++) d -= h[j * n + k]! * h[j * n + k]!;
    if (!(d > 1e-9)) return null;
    const root = Math.sqrt(d);
    h[j * n + j] = root;
    for (let i = j + 1; i < n; i++) {
      let s = h[i * n + j]!;
      for (let k = 0; k < j; k++) s -= h[i * n + k]! * h[j * n + k]!;
      h[i * n + j] = s / root;
    }
  }
  const out = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    let s = b[i]!;
    for (let k = 0; k < i; k++) s -= h[i * n + k]! * out[k]!;
    out[i] = s / h[i * n + i]!;
  }
  for (let i = n - 1; i >= 0; i--) {
    let s = out[i]!;
    for (let k = i + 1; k < n; k++) s -= h[k * n + i]! * out[k]!;
    out[i] = s / h[i * n + i]!;
  }
  return out;
}
