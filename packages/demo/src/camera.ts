import { Arena, blur, encodeValue, exactMath, normal, type Picture } from '@wraithos/core/image';
import { HEIGHT, WIDTH } from './film';

const { smoothstep, hypot } = exactMath;

/** What the lens adds to linear light: bloom of the bright parts, falling off to the corners, and a filmic tone curve. In place. */
export function expose(picture: Picture, arena: Arena): void {
  const bright = arena.takePicture(WIDTH, HEIGHT);
  for (let i = 0; i < bright.data.length; i++) bright.data[i] = (i & 3) === 3 ? 0 : Math.max(0, picture.data[i]! - 0.55);
  const near = blur(bright, 6, arena),
    far = blur(bright, 24, arena),
    p = picture.data;
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i += 4) {
      const fall = (1 - 0.5 * smoothstep(0.32, 0.78, hypot((x + 0.5 - WIDTH / 2) / WIDTH, (y + 0.5 - HEIGHT / 2) / HEIGHT))) * 0.82;
      for (let c = 0; c < 3; c++) {
        const v = (p[i + c]! + 0.28 * near.data[i + c]! + 0.09 * far.data[i + c]!) * fall;
        p[i + c] = (v * (2.51 * v + 0.03)) / (v * (2.43 * v + 0.59) + 0.14); // rational fit of a film curve
      }
    }
  for (const raster of [bright, near, far]) arena.give(raster);
}

const table = Float32Array.from({ length: 4097 }, (_, i) => encodeValue(i / 4096));

/** Display-encoded 8-bit RGB with film grain of the frame's own seed; strength 0 gives none. */
export function develop(picture: Picture, frame: number, grain: number): Uint8Array {
  const out = new Uint8Array(WIDTH * HEIGHT * 3),
    p = picture.data;
  for (let n = 0, i = 0, o = 0; n < WIDTH * HEIGHT; n++, i += 4, o += 3) {
    const common = grain > 0 ? normal(n, frame, 9) : 0;
    for (let c = 0; c < 3; c++) {
      const x = Math.min(1, Math.max(0, p[i + c]!));
      const t = x * 4096,
        k = Math.floor(t),
        v = x < 0.01 ? encodeValue(x) : table[k]! + ((table[k + 1] ?? 1) - table[k]!) * (t - k);
      const g = grain > 0 ? grain * (0.005 + 0.004 * Math.sqrt(x)) * (0.6 * normal(n, frame, c) + 0.4 * common) : 0;
      out[o + c] = Math.max(0, Math.min(255, Math.round((v + g) * 255)));
    }
  }
  return out;
}
