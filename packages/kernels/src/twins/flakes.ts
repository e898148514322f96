import { curlTwin, ownTwin } from './noise';

type Numbers = ArrayLike<number>;
const unit = (x: number) => Math.min(1, Math.max(0, x));

export interface FlakeTwin {
  id: number;
  x: number;
  y: number;
  vx: number;
  vy: number;
  age: number;
}
/** One frame of one particle; `p` as in assembly/flakes.ts. */
export function moveTwin(f: FlakeTwin, p: Numbers, stirred = 1, weighs = 1): FlakeTwin {
  const seed = p[10]!,
    own = (channel: number) => ownTwin(seed, f.id, channel),
    cling = p[9]! * own(8) + 0.001,
    heavy = weighs * p[3]! * (0.6 + 0.8 * own(9)),
    begun = p[16] ? unit(f.age * p[16]) : 1,
    stir = p[2]! * stirred * begun * begun * (3 - 2 * begun),
    caught = 0.62 + 0.76 * own(10);
  let { x, y, vx, vy, age } = f;
  for (let half = 0; half < 2; half++, age += 0.5) {
    const t = unit((age - cling) / 9),
      hold = t * t * (3 - 2 * t),
      z = p[7 + half]!,
      [cx, cy] = curlTwin(x * p[6]!, y * p[6]!, z, seed + 11),
      [fx, fy] = curlTwin(x * p[6]! * 3.1, y * p[6]! * 3.1, z * 1.7, seed + 12),
      toX = (p[0]! * caught + stir * p[11]! * (cx + 0.4 * fx)) * hold * p[4]!,
      toY = (p[1]! * caught + stir * p[12]! * (cy + 0.4 * fy) + heavy) * hold * p[4]!;
    vx = toX + (vx - toX) * p[5]!;
    vy = toY + (vy - toY) * p[5]!;
    x += vx * 0.5;
    y += vy * 0.5;
  }
  if (!p[15]) return { id: f.id, x, y, vx, vy, age };
  const apart = p[14]! * own(41),
    floor = Math.max(p[13]! + (own(20) < 0.38 ? -apart : apart), f.y);
  if (f.vx === 0 && f.vy === 0) return { ...f, age: f.age + (p[15] === 1 ? 0.25 : 0) };
  return y >= floor ? { id: f.id, x, y: floor, vx: 0, vy: 0, age } : { id: f.id, x, y, vx, vy, age };
}

/** Cover of one shape (16 numbers, see assembly/flakes.ts) at the middle of a pixel. */
export function coverTwin(shape: Numbers, px: number, py: number): number {
  const [x, y, c, s, length, long, broad, hard, cover, , , droop] = Array.from(shape) as [
      ...[number, number, number, number, number, number, number, number, number, number, number, number],
    ],
    taper = shape[15]!;
  const dx = px + 0.5 - x,
    dy = py + 0.5 - y,
    a = Math.abs(dx * c + dy * s),
    u = (a - length) * long,
    v = (dy * c - dx * s + a * droop) * broad,
    signed = (dx * c + dy * s) * long,
    d = taper > 0 ? Math.max(Math.abs(signed), Math.abs(v) * (1 + taper) + taper * signed) : Math.hypot(u, v);
  return unit(0.5 - (d - 1) * hard) * cover;
}
/** All shapes of one side, in their order, over nothing. */
export function drawTwin(shapes: Float32Array<ArrayBufferLike>, behind: boolean, out: Float32Array, width: number, height: number): void {
  for (let k = 0; k < shapes.length; k += 16) {
    const shape = shapes.subarray(k, k + 16);
    if (!(shape[8]! > 0) || !Number.isFinite(shape[0]) || behind !== shape[9]! < 0) continue;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const cover = coverTwin(shape, x, y);
        for (let c = 0; c < 4; c++) {
          const at = (y * width + x) * 4 + c;
          out[at] = out[at]! * (1 - cover) + (c < 3 ? shape[12 + c]! : 1) * cover;
        }
      }
  }
}
