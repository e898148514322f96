import type { Arena } from '../image/arena';
import { pow } from '../image/exactMath';
import type { Picture } from '../image/picture';
import type { Display } from '../image/transfer';

/** What of a picture is looked at. */
export const lookChannels = ['colour', 'red', 'green', 'blue', 'luminance', 'alpha', 'out of range'] as const;
export type LookChannel = (typeof lookChannels)[number];
/** How a picture is looked at; nothing of it comes into a render. */
export interface Look {
  channel: LookChannel;
  /** Stops by which it is shown brighter. */
  exposure: number;
  /** Values are shown as their power of 1 / gamma. */
  gamma: number;
  /** The curve of the display that it is shown on. */
  display: Display;
}
export const AS_IT_IS: Look = { channel: 'colour', exposure: 0, gamma: 1, display: 'srgb' };
export const isAsItIs = (look: Look): boolean =>
  look.channel === 'colour' && look.exposure === 0 && look.gamma === 1 && look.display === 'srgb';

/** Rust where a value lies above 1, verdigris where one lies below 0: linear light. */
const ABOVE = [0.78, 0.17, 0.1],
  BELOW = [0.16, 0.57, 0.49],
  /** Values this close to the ends of the range are rounding. */
  ROUNDING = 1e-4;
const STEPS = 4096,
  /** Values beyond this are shown as this. */
  BRIGHTEST = 64;

/** Powers by a table over the square root, which is fine enough near black. */
function powers(gamma: number): (v: number) => number {
  const table = Float32Array.from({ length: STEPS + 2 }, (_, i) => pow(BRIGHTEST * (i / STEPS) * (i / STEPS), 1 / gamma));
  return (v) => {
    if (!(v > 0)) return 0;
    const at = Math.sqrt(Math.min(v, BRIGHTEST) / BRIGHTEST) * STEPS,
      i = Math.floor(at);
    return table[i]! + (table[i + 1]! - table[i]!) * (at - i);
  };
}

/** A picture as it is looked at: opaque where it is not in colour. The same one where it is looked at as it is. */
export function lookedAt(picture: Picture, look: Look, arena: Arena): Picture {
  if (isAsItIs({ ...look, display: 'srgb' })) return picture;
  const { width, height, data } = picture,
    out = arena.takePicture(width, height),
    to = out.data,
    gain = pow(2, look.exposure),
    { channel } = look,
    curve = look.gamma === 1 ? null : powers(look.gamma),
    shown = (v: number) => (curve ? curve(v * gain) : v * gain),
    single = { red: 0, green: 1, blue: 2, alpha: 3 }[channel as 'red' | 'green' | 'blue' | 'alpha'] as number | undefined;
  for (let i = 0; i < data.length; i += 4) {
    const r = data[i]!,
      g = data[i + 1]!,
      b = data[i + 2]!;
    if (channel === 'colour') {
      to[i] = shown(r);
      to[i + 1] = shown(g);
      to[i + 2] = shown(b);
      to[i + 3] = data[i + 3]!;
      continue;
    }
    to[i + 3] = 1;
    if (channel === 'out of range') {
      const most = Math.max(r, g, b),
        least = Math.min(r, g, b),
        mark = most > 1 + ROUNDING ? ABOVE : least < -ROUNDING ? BELOW : null,
        grey = 0.35 * shown(0.2126 * r + 0.7152 * g + 0.0722 * b);
      to[i] = mark ? mark[0]! : grey;
      to[i + 1] = mark ? mark[1]! : grey;
      to[i + 2] = mark ? mark[2]! : grey;
      continue;
    }
    // Alpha is a share, not light: it is shown as it is, so that a half looks like a half.
    const value = single === undefined ? 0.2126 * r + 0.7152 * g + 0.0722 * b : data[i + single]!,
      grey = single === 3 ? value * value * (0.8 * value + 0.2) : shown(value);
    to[i] = to[i + 1] = to[i + 2] = grey;
  }
  return out;
}
