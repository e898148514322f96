/** All stamps of one side in their order, over nothing; see assembly/stamps.ts for the 16 numbers of a shape. */
export function stampTwin(
  shapes: Float32Array<ArrayBufferLike>,
  stamps: Float32Array<ArrayBufferLike>,
  behind: boolean,
  out: Float32Array,
  width: number,
  height: number,
): void {
  for (let k = 0; k < shapes.length; k += 16) {
    const s = shapes.subarray(k, k + 16),
      whole = new Int32Array(shapes.buffer, shapes.byteOffset + k * 4, 16),
      [x, y, uByX, uByY, vByX, vByY] = s as unknown as [number, number, number, number, number, number],
      first = whole[6]! / 4,
      side = whole[7]!;
    if (!(s[8]! > 0) || behind !== s[9]! < 0) continue;
    const texel = (u: number, v: number, channel: number) => stamps[first + (v * side + u) * 4 + channel]!;
    for (let py = 0; py < height; py++)
      for (let px = 0; px < width; px++) {
        const dx = px + 0.5 - x,
          dy = py + 0.5 - y,
          u = dx * uByX + dy * uByY + side / 2 - 0.5,
          v = dx * vByX + dy * vByY + side / 2 - 0.5;
        if (!(u > 0 && v > 0 && u < side - 1 && v < side - 1)) continue;
        const ui = Math.floor(u),
          vi = Math.floor(v),
          paint = [0, 1, 2, 3].map((channel) => {
            const top = texel(ui, vi, channel) + (texel(ui + 1, vi, channel) - texel(ui, vi, channel)) * (u - ui),
              low = texel(ui, vi + 1, channel) + (texel(ui + 1, vi + 1, channel) - texel(ui, vi + 1, channel)) * (u - ui);
            return (top + (low - top) * (v - vi)) * s[12 + channel]! * s[8]!;
          });
        for (let channel = 0; channel < 4; channel++) {
          const at = (py * width + px) * 4 + channel;
          out[at] = paint[channel]! + out[at]! * (1 - paint[3]!);
        }
      }
  }
}
