import { fractalTwin, latticeNoiseTwin } from './noise';

type Numbers = ArrayLike<number>;
const unit = (x: number) => Math.min(1, Math.max(0, x));
const smooth = (x: number) => unit(x) * unit(x) * (3 - 2 * unit(x));

/** Order at the middle of a pixel, without and with its noise; `p` as in assembly/arrival.ts. */
export function orderTwin(px: number, py: number, p: Numbers): { plain: number; ragged: number } {
  const x = px * p[0]! + py * p[1]! + p[2]!,
    y = px * p[3]! + py * p[4]! + p[5]!,
    u = x - p[7]!,
    v = y - p[8]!,
    plain = (p[6]! > 0 ? Math.hypot(u, v) : u * p[9]! + v * p[10]!) * p[11]!,
    k = p[13]!,
    coarse = (fractalTwin(x * k, y * k, 3, p[14]!) - 0.5) * 2,
    fine = (fractalTwin(x * k * 3.7, y * k * 3.7, 2, p[14]! + 61) - 0.5) * 0.7;
  return { plain, ragged: plain + (coarse + fine) * p[12]! * p[11]! };
}
export const fadingTwin = (plain: number, progress: number): number => smooth(progress * 2.4 - unit(plain) * 1.4);

/** What a front makes of one pixel: how much is gone, and the skin's four channels. */
export function burnTwin(
  px: number,
  py: number,
  order: number,
  cover: number,
  matte: number,
  p: Numbers,
): { gone: number; skin: number[] } {
  if (!(cover > 0.001)) return { gone: 0, skin: [0, 0, 0, 0] };
  const gone = smooth((p[0]! - order + p[1]!) / (2 * p[1]!)),
    ahead = (order - p[0]!) / p[2]!;
  if (!(matte > 0.01 && gone < 1 && ahead <= 8)) return { gone: gone * cover, skin: [0, 0, 0, 0] };
  const wx = px * p[8]!,
    wy = py * p[8]!,
    grit = latticeNoiseTwin(wx / 3.1, wy / 3.1, p[9]! + 31) * 0.65 + latticeNoiseTwin(wx / 8, wy / 8, p[9]! + 37) * 0.35,
    stands = matte * (1 - gone),
    burn = Math.exp(-1.6 * (ahead - 0.35) ** 2) * (0.1 + 1.5 * grit * grit) * p[3]! * stands,
    black = unit(Math.exp(-Math.max(0, ahead) / 2.6) * p[7]! * (0.55 + 0.6 * grit)) * stands,
    heat = unit(1.2 - Math.abs(ahead - 0.3));
  return {
    gone: gone * cover,
    skin: [burn * p[4]! * 1.9, burn * p[5]! * (1.1 + 0.9 * heat), burn * p[6]! * (0.8 + 1.4 * heat * heat), black],
  };
}
