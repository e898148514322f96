import { smooth4 } from './curves';
import { latticeValues, slopes4at, slopesBetween, slopeX, slopeY } from './noise';
import { BEHIND_SHARE, own } from './ofParticle';

/** Seeds of the two octaves of turbulence, and how much finer the second one is (layLattice in core/particles has the same), and faster to change. */
const BROAD_SEED: i32 = 11;
const FINE_SEED: i32 = 12;
const FINER: f32 = 3.1;
const FINE_CHANGE: f32 = 1.7;

/** Bytes before the tables of a lattice: left, top, columns and rows of the broad octave's, then of the fine one's (whole numbers). */
const LATTICE_HEAD: usize = 32;

@inline
function tableRows(lattice: usize): i32 {
  return load<i32>(lattice, 12) + load<i32>(lattice, 28);
}
/** Where the table of an octave (0 broad, 1 fine) for a half step (0, 1) begins: broad and fine of the first half step, then of the second. */
@inline
function tableAt(lattice: usize, step: i32, octave: i32): usize {
  const broad = load<i32>(lattice, 8) * load<i32>(lattice, 12), fine = load<i32>(lattice, 24) * load<i32>(lattice, 28);
  return lattice + LATTICE_HEAD + (<usize>(step * (broad + fine) + octave * broad) << 3);
}

/**
 * Fills the tables of a lattice whose head is there: for each of its places the noise's values in the two layers between which the moment lies. Many particles share a place, and a
 * frame has one moment for each half step, so that values are hashed once a place and not eight times a particle. Columns are multiples of 4; bands are rows of all four tables.
 */
export function layLattice(params: usize, lattice: usize, r0: i32, r1: i32): void {
  const seed = <i32>load<f32>(params, 40), rows = tableRows(lattice), broadRows = load<i32>(lattice, 12);
  for (let r = r0; r < r1; r++) {
    const step = r >= rows ? 1 : 0, within = r - step * rows, octave = within >= broadRows ? 1 : 0, row = within - octave * broadRows;
    const head = lattice + (<usize>octave << 4), left = load<i32>(head), y = load<i32>(head, 4) + row, columns = load<i32>(head, 8), now = step ? load<f32>(params, 32) : load<f32>(params, 28), z = octave ? now * FINE_CHANGE : now;
    latticeValues(left, y, columns, <i32>floor<f32>(z), seed + (octave ? FINE_SEED : BROAD_SEED), tableAt(lattice, step, octave) + (<usize>(row * columns) << 3));
  }
}

/** The least and the greatest of the numbers in `groups` groups of four, laid into `out`. */
export function spanOf(lane: usize, groups: i32, out: usize): void {
  let least = f32x4.splat(Infinity), most = f32x4.splat(-Infinity);
  for (let g = 0; g < groups; g++) {
    const at = v128.load(lane + (<usize>g << 4));
    least = f32x4.pmin(least, at);
    most = f32x4.pmax(most, at);
  }
  least = f32x4.pmin(least, v128.shuffle<f64>(least, least, 1, 0));
  most = f32x4.pmax(most, v128.shuffle<f64>(most, most, 1, 0));
  store<f32>(out, min<f32>(f32x4.extract_lane(least, 0), f32x4.extract_lane(least, 1)));
  store<f32>(out, max<f32>(f32x4.extract_lane(most, 0), f32x4.extract_lane(most, 1)), 4);
}

/** Slopes of one octave at four places, into slopeX and slopeY: from its table where that reaches all four. */
@inline
function eddySlopes(lattice: usize, step: i32, octave: i32, x: v128, y: v128, z: f32, seed: i32): void {
  if (lattice) {
    const head = lattice + (<usize>octave << 4), columns = load<i32>(head, 8), fx = f32x4.floor(x), fy = f32x4.floor(y);
    const column = i32x4.sub(i32x4.trunc_sat_f32x4_s(fx), v128.load32_splat(head)), row = i32x4.sub(i32x4.trunc_sat_f32x4_s(fy), v128.load32_splat(head, 4));
    if (i32x4.all_true(v128.and(i32x4.lt_u(column, i32x4.splat(columns - 1)), i32x4.lt_u(row, i32x4.splat(load<i32>(head, 12) - 1))))) {
      const place = i32x4.add(i32x4.mul(row, i32x4.splat(columns)), column), table = tableAt(lattice, step, octave), down: usize = <usize>columns << 3;
      const p0 = table + (<usize>i32x4.extract_lane(place, 0) << 3), p1 = table + (<usize>i32x4.extract_lane(place, 1) << 3), p2 = table + (<usize>i32x4.extract_lane(place, 2) << 3), p3 = table + (<usize>i32x4.extract_lane(place, 3) << 3);
      slopesBetween(v128.load(p0), v128.load(p1), v128.load(p2), v128.load(p3), v128.load(p0 + down), v128.load(p1 + down), v128.load(p2 + down), v128.load(p3 + down), f32x4.sub(x, fx), f32x4.sub(y, fy), z);
      return;
    }
  }
  slopes4at(x, y, z, seed);
}

/**
 * One frame of light particles in moving air, in two half steps, in place. Arrays of float32 (id: whole numbers) are padded to a multiple of 4;
 * bands are groups of four particles. `params` is 17 floats: wind x y and strength of the turbulence (m/s), settling speed (m/s), pixels a frame
 * for a metre a second, what stays of a speed difference after half a frame, lattice steps a pixel of the eddies, their third coordinate now and a
 * half frame on, frames of clinging, the seed, how much of the turbulence is level and how much upright; where the ground lies, how far before or behind that the particles do (those
 * that stand behind the subject behind it), and what becomes of those that come to it: 0 there is no ground, 1 they lie still and age at a quarter of the speed, 2 they lie
 * still for good; and one part of the frames over which the turbulence takes hold, 0 where it has all at once (17 floats). Who lies has no speed at all. `stirred` is a number
 * 0..1 for each particle, by which the turbulence has it, and `weighs` is one by which its fall is multiplied; each is 0 where that is 1 for all.
 * `lattice` holds what layLattice laid for the same `params`; where it is 0, and outside of it, the noise is worked out anew for each particle, to the same bits.
 */
export function moveFlakes(params: usize, lattice: usize, id: usize, x: usize, y: usize, vx: usize, vy: usize, age: usize, stirred: usize, weighs: usize, g0: i32, g1: i32): void {
  const windX = f32x4.splat(load<f32>(params)), windY = f32x4.splat(load<f32>(params, 4)), strength = f32x4.splat(load<f32>(params, 8)), settle = f32x4.splat(load<f32>(params, 12)), pixels = f32x4.splat(load<f32>(params, 16)), stay = f32x4.splat(load<f32>(params, 20)), eddy = f32x4.splat(load<f32>(params, 24)), clings = f32x4.splat(load<f32>(params, 36)), seed = <i32>load<f32>(params, 40), level = f32x4.splat(load<f32>(params, 44)), upright = f32x4.splat(load<f32>(params, 48));
  const ground = f32x4.splat(load<f32>(params, 52)), band = f32x4.splat(load<f32>(params, 56)), lands = load<f32>(params, 60), onset = load<f32>(params, 64), slowly = f32x4.splat(lands == 1 ? 0.25 : 0), zero = f32x4.splat(0);
  const half = f32x4.splat(0.5), fine = f32x4.splat(FINER), faint = f32x4.splat(0.4), soon = f32x4.splat(1 / 9.0);
  for (let g = g0; g < g1; g++) {
    const at: usize = <usize>g << 4, ids = v128.load(id + at), cling = f32x4.add(f32x4.mul(clings, own(seed, ids, 8)), f32x4.splat(0.001));
    // Larger flakes are heavier, smaller ones are carried further.
    const plain = f32x4.mul(settle, f32x4.add(f32x4.splat(0.6), f32x4.mul(own(seed, ids, 9), f32x4.splat(0.8)))), heavy = weighs ? f32x4.mul(plain, v128.load(weighs + at)) : plain, caught = f32x4.add(f32x4.splat(0.62), f32x4.mul(own(seed, ids, 10), f32x4.splat(0.76)));
    let most = stirred ? f32x4.mul(strength, v128.load(stirred + at)) : strength;
    if (onset > 0) most = f32x4.mul(most, smooth4(f32x4.mul(v128.load(age + at), f32x4.splat(onset))));
    const strengthX = f32x4.mul(most, level), strengthY = f32x4.mul(most, upright);
    let px = v128.load(x + at), py = v128.load(y + at), ux = v128.load(vx + at), uy = v128.load(vy + at), now = v128.load(age + at);
    for (let step = 0; step < 2; step++) {
      const hold = smooth4(f32x4.mul(f32x4.sub(now, cling), soon)), z = step ? load<f32>(params, 32) : load<f32>(params, 28);
      const ax = f32x4.mul(px, eddy), ay = f32x4.mul(py, eddy);
      eddySlopes(lattice, step, 0, ax, ay, z, seed + BROAD_SEED);
      const cx = slopeY, cy = f32x4.neg(slopeX);
      eddySlopes(lattice, step, 1, f32x4.mul(ax, fine), f32x4.mul(ay, fine), z * FINE_CHANGE, seed + FINE_SEED);
      const airX = f32x4.mul(f32x4.add(f32x4.mul(windX, caught), f32x4.mul(strengthX, f32x4.add(cx, f32x4.mul(faint, slopeY)))), hold);
      const airY = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(windY, caught), f32x4.mul(strengthY, f32x4.sub(cy, f32x4.mul(faint, slopeX)))), heavy), hold);
      const toX = f32x4.mul(airX, pixels), toY = f32x4.mul(airY, pixels);
      ux = f32x4.add(toX, f32x4.mul(f32x4.sub(ux, toX), stay));
      uy = f32x4.add(toY, f32x4.mul(f32x4.sub(uy, toY), stay));
      px = f32x4.add(px, f32x4.mul(ux, half));
      py = f32x4.add(py, f32x4.mul(uy, half));
      now = f32x4.add(now, half);
    }
    if (lands > 0) {
      const oldX = v128.load(x + at), oldY = v128.load(y + at), oldAge = v128.load(age + at), lies = v128.and(f32x4.eq(v128.load(vx + at), zero), f32x4.eq(v128.load(vy + at), zero));
      const apart = f32x4.mul(band, own(seed, ids, 41)), own0 = f32x4.add(ground, v128.bitselect(f32x4.neg(apart), apart, f32x4.lt(own(seed, ids, 20), f32x4.splat(BEHIND_SHARE))));
      // What was below its ground to begin with (a boot before it) lies where it is.
      const floor = f32x4.pmax(own0, oldY), falls = v128.or(lies, f32x4.ge(py, floor));
      px = v128.bitselect(oldX, px, lies);
      py = v128.bitselect(v128.bitselect(oldY, floor, lies), py, falls);
      ux = v128.andnot(ux, falls);
      uy = v128.andnot(uy, falls);
      now = v128.bitselect(f32x4.add(oldAge, slowly), now, lies);
    }
    v128.store(x + at, px);
    v128.store(y + at, py);
    v128.store(vx + at, ux);
    v128.store(vy + at, uy);
    v128.store(age + at, now);
  }
}
