import { clamp, cos, exp, sin, PI } from '../image/exactMath';
import { uniform } from '../image/random';
import type { Picture } from '../image/picture';
import type { Flakes } from './flakes';

/** How flakes look. Sizes in whole-shot pixels (half the span of the wings), colours linear. */
export interface FlakeLook {
  seed: number;
  scale: number;
  size: number;
  sizeVariation: number;
  /** 0 keeps the colour of the pixel it left, 1 takes `pale`. */
  paleness: number;
  pale: [number, number, number];
  ember: number;
  emberColour: [number, number, number];
  beat: number;
  /** Which side of the subject: each flake stands before or behind by its own depth. */
  side: 'front' | 'behind';
  /** Brightness of the light that falls on flakes here, from the plate's light mount; 1 where nothing says otherwise. */
  lit(x: number, y: number): number;
}

/** Share of the flakes that stand behind the subject. */
const BEHIND = 0.38;

/**
 * Draws flakes as small two-winged shapes that turn and beat, in the order of their ids, premultiplied over what the picture
 * holds. Young ones glow (ember): that part is light without coverage. They fade and shrink over their last third.
 */
export function drawFlakes(flakes: Flakes, look: FlakeLook, out: Picture): void {
  const { seed, scale } = look,
    { width, height, data } = out;
  for (let i = 0; i < flakes.count; i++) {
    const id = flakes.id[i]!,
      behind = uniform(seed, id, 20) < BEHIND;
    if (behind !== (look.side === 'behind')) continue;
    const age = flakes.age[i]!,
      part = age / flakes.life[i]!,
      left = clamp((1 - part) / 0.4, 0, 1),
      born = clamp((age + 0.5) / 2, 0, 1);
    const r1 = uniform(seed, id, 21),
      vary = look.sizeVariation;
    const size = look.size * (1 - vary + vary * (0.3 + 2.6 * r1 * r1 * r1 * r1)) * (0.45 + 0.55 * left) * scale;
    if (size < 0.08) continue;
    const x = flakes.x[i]! * scale,
      y = flakes.y[i]! * scale,
      reach = size * 1.7 + 1.2;
    if (x + reach < 0 || y + reach < 0 || x - reach > width || y - reach > height) continue;
    const angle = (uniform(seed, id, 22) + (uniform(seed, id, 23) - 0.5) * age * 0.09) * 2 * PI,
      c = cos(angle),
      s = sin(angle);
    const wing = 0.28 + 0.72 * Math.abs(cos(age * look.beat * (0.7 + 0.6 * uniform(seed, id, 24)) + uniform(seed, id, 25) * 6.3));
    // Pale with age, lit by what lights the scene, flickering as the wings turn to the light.
    const u = clamp(age / 14, 0, 1) * look.paleness * (0.75 + 0.25 * uniform(seed, id, 26)),
      lit = look.lit(flakes.x[i]!, flakes.y[i]!) * (0.55 + 0.75 * wing * uniform(seed, id, 27));
    // Few flakes burn; most keep the colour that they came with.
    const burns = uniform(seed, id, 29),
      hot = look.ember * (0.12 + 1.9 * burns * burns * burns * burns) * exp(-age / (1.6 + 3.4 * uniform(seed, id, 28)));
    const fade = left * born,
      own = 1 + 0.35 * u;
    const red = flakes.red[i]! * own * (1 - u) + look.pale[0] * lit * u,
      green = flakes.green[i]! * own * (1 - u) + look.pale[1] * lit * u,
      blue = flakes.blue[i]! * own * (1 - u) + look.pale[2] * lit * u;
    const hr = hot * look.emberColour[0],
      hg = hot * look.emberColour[1],
      hb = hot * look.emberColour[2];
    // A flake thinner than a pixel keeps its light by covering less.
    const thin = Math.min(1, size / 0.7),
      drawn = Math.max(size, 0.7),
      winged = size > 1.3;
    const hw = winged ? drawn * 0.62 * wing : drawn * (0.55 + 0.45 * wing),
      soft = 1 / Math.max(0.55, drawn * 0.42);
    for (let py = Math.max(0, Math.floor(y - reach)); py < Math.min(height, Math.ceil(y + reach)); py++)
      for (let px = Math.max(0, Math.floor(x - reach)); px < Math.min(width, Math.ceil(x + reach)); px++) {
        const dx = px + 0.5 - x,
          dy = py + 0.5 - y,
          a = dx * c + dy * s,
          b = -dx * s + dy * c;
        let d: number;
        if (winged) {
          const e = (Math.abs(a) - hw) / (hw + 0.3),
            f = (b + Math.abs(a) * 0.38) / (drawn * 0.78);
          d = Math.sqrt(e * e + f * f) - 1;
        } else {
          const e = a / (hw + 0.25),
            f = b / (drawn * 0.8);
          d = Math.sqrt(e * e + f * f) - 1;
        }
        const cover = clamp(0.5 - d / soft / (winged ? 1.2 : 1), 0, 1) * fade * thin;
        if (cover <= 0) continue;
        const o = (py * width + px) * 4,
          free = 1 - cover;
        data[o] = data[o]! * free + (red + hr) * cover;
        data[o + 1] = data[o + 1]! * free + (green + hg) * cover;
        data[o + 2] = data[o + 2]! * free + (blue + hb) * cover;
        data[o + 3] = data[o + 3]! * free + cover;
      }
  }
}
