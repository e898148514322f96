import { teeth4 } from './curves';
import { coreNoise4 } from './noise';
import { scratchAt, storeSome } from './scratch';

/** The kinds of edge that a silhouette is pulled out to, as numbers. */
const TEETH: f32 = 1, VEIL: f32 = 2;

/**
 * How long the tongues are at each pixel of a box, as a share of how far they reach (`lengths`), and by how many pixels they lean (`leans`); see core/effects/pulled.ts. `params` is 10 floats: column and
 * row at which the box begins, size of a tongue (pixels), its phase, how far it has risen (tongues), raggedness, the most that it leans, kind (0 flames, 1 teeth, 2 a veil), seconds, the seed. Bands are rows.
 */
export function tonguesAt(params: usize, lengths: usize, leans: usize, width: i32, y0: i32, y1: i32): void {
  const left = load<f32>(params), top = load<f32>(params, 4), per: f32 = 1 / load<f32>(params, 8), phase = f32x4.splat(load<f32>(params, 12)), risen = load<f32>(params, 16), ragged = load<f32>(params, 20), leant = f32x4.splat(load<f32>(params, 24)), kind = load<f32>(params, 28), time = load<f32>(params, 32), seed = <i32>load<f32>(params, 36);
  const lanes = f32x4(0, 1, 2, 3), half = f32x4.splat(0.5), slow = f32x4.splat(1 / 1.7), least = f32x4.splat(0.02), rest = f32x4.splat(1 - ragged), part = f32x4.splat(2.1 * ragged);
  for (let y = y0; y < y1; y++) {
    const v = f32x4.splat((<f32>y + top) * per);
    for (let x = 0; x < width; x += 4) {
      const at: usize = <usize>(y * width + x) << 2, some = width - x, u = f32x4.mul(f32x4.add(f32x4.splat(<f32>x + left), lanes), f32x4.splat(per));
      let n: v128;
      if (kind == VEIL) n = coreNoise4(f32x4.add(u, phase), f32x4.add(f32x4.mul(v, half), f32x4.splat(risen * 0.6)), seed);
      else if (kind == TEETH) {
        const place = f32x4.add(f32x4.add(u, phase), f32x4.mul(f32x4.splat(0.15), coreNoise4(f32x4.splat(time * 2), f32x4.mul(u, f32x4.splat(1 / 3.0)), seed + 5)));
        n = f32x4.mul(teeth4(place), f32x4.add(f32x4.splat(0.75), f32x4.mul(half, coreNoise4(f32x4.mul(u, half), f32x4.splat(time * 1.7), seed + 6))));
      } else {
        const fine = coreNoise4(f32x4.mul(u, f32x4.splat(2.3)), f32x4.add(f32x4.mul(v, f32x4.splat(2.3)), f32x4.splat(risen * 1.8)), seed + 1);
        n = f32x4.add(f32x4.mul(f32x4.splat(0.65), coreNoise4(f32x4.add(u, phase), f32x4.add(v, f32x4.splat(risen)), seed)), f32x4.mul(f32x4.splat(0.35), fine));
      }
      const long = kind == VEIL ? f32x4.sub(f32x4.splat(1), f32x4.mul(f32x4.splat(0.6 * ragged), n)) : f32x4.pmax(least, f32x4.add(rest, f32x4.mul(part, f32x4.mul(n, n))));
      storeSome(lengths + at, long, some);
      storeSome(leans + at, f32x4.mul(leant, f32x4.sub(coreNoise4(f32x4.add(f32x4.mul(u, slow), phase), f32x4.add(f32x4.mul(v, slow), f32x4.splat(risen)), seed + 2), half)), some);
    }
  }
}

/** As fallOff4 of curves.ts, of one. */
@inline
function fallOff(x: f32): f32 {
  let t: f32 = max<f32>(0, 1 - x * 0.0625);
  t *= t;
  t *= t;
  t *= t;
  return t * t;
}
/**
 * A body (a plane) pulled in one direction (`dx` `dy`, one of them 0 and the other -1 or 1), so that what is left of it falls off with the way: each pixel takes what its neighbour towards the body has, leant aside, less what the
 * length of the tongue there takes away. What is more than `out` has goes into it. `reach` is how far a tongue of length 1 reaches, pixels.
 */
export function pullAlong(body: usize, lengths: usize, leans: usize, reach: f32, dx: i32, dy: i32, out: usize, width: i32, height: i32): void {
  const down = dy != 0, lines = down ? height : width, long = down ? width : height, last = long - 1, step: usize = <usize>(down ? 1 : width) << 2, apart: usize = <usize>(down ? width : 1) << 2, room: usize = <usize>(long + 4) << 2;
  let before = scratchAt(), now = before + room;
  memory.fill(before, 0, room);
  for (let i = 0; i < lines; i++) {
    let at: usize = <usize>(dx + dy < 0 ? lines - 1 - i : i) * apart, own = load<f32>(before), one = own;
    for (let j = 0; j < long; j++, at += step) {
      const next = load<f32>(before + (<usize>min(last, j + 1) << 2));
      let v = load<f32>(body + at);
      if (max<f32>(max<f32>(one, own), next) > 0.01) {
        const k: f32 = min<f32>(<f32>last, max<f32>(0, <f32>j + load<f32>(leans + at))), k0 = <i32>k, t: f32 = k - <f32>k0, a = load<f32>(before + (<usize>k0 << 2)), b = load<f32>(before + (<usize>min(last, k0 + 1) << 2));
        v = max<f32>(v, (a + (b - a) * t) * fallOff(1 / (reach * load<f32>(lengths + at))));
      }
      store<f32>(now + (<usize>j << 2), v);
      if (v > load<f32>(out + at)) store<f32>(out + at, v);
      one = own;
      own = next;
    }
    const swap = before;
    before = now;
    now = swap;
  }
}
