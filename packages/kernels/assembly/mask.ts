/*
 * Masks on a grid that hold together (see solveMask in core/matte). Each plane of a system has a border of cells that hold to nothing: it begins with a row of them, each row with four,
 * and `stride` is a row with its borders (a multiple of 4, at least four more than the cells behind the first four). Nothing asks where it is.
 */

/**
 * Passes of successive over-relaxation, in place: v moves to (said + links * neighbours) * part, `over` times as far as that is away, where `part`, one over all that holds a cell, is
 * above 0. `said` is weight times what a cell says. Cells go by turns like the fields of a board, so that four of one colour are worked on at once and the order says nothing.
 *
 * All turns go down the grid together, each a row behind the one before it: a row's neighbours then are as they would be if each turn went over the whole grid first, and what is worked on stays
 * in the cache.
 */
export function relaxMask(v: usize, said: usize, right: usize, below: usize, part: usize, stride: i32, width: i32, height: i32, over: f32, passes: i32): void {
  const row: usize = <usize>stride << 2, turns = 2 * passes, end = (width + 3) & ~3;
  for (let lead = 0; lead < height + turns - 1; lead++)
    for (let turn = max(0, lead - height + 1), last = min(turns - 1, lead); turn <= last; turn++) {
      const first = <usize>(lead - turn + 1) * row + 16;
      relaxRow(v + first, said + first, right + first, below + first, part + first, row, end, f32x4.splat(over), lead & 1 ? i32x4(0, -1, 0, -1) : i32x4(-1, 0, -1, 0));
    }
}
/**
 * One colour of one row. The cell to the left of four is taken from what the four before them were, in a register: it is of the other colour and does not change in this turn, and to read it back
 * would make each four wait for those before it.
 */
@inline
function relaxRow(v: usize, said: usize, right: usize, below: usize, part: usize, row: usize, width: i32, far: v128, colour: v128): void {
  const little = f32x4.splat(1e-6), zero = f32x4.splat(0);
  let before = v128.load(v - 16);
  for (let x = 0; x < width; x += 4) {
    const at = <usize>x << 2, own = v128.load(v + at), p = v128.load(part + at);
    let sum = f32x4.add(v128.load(said + at), f32x4.mul(v128.load(right + at - 4), v128.shuffle<f32>(before, own, 3, 4, 5, 6)));
    sum = f32x4.add(sum, f32x4.mul(v128.load(right + at), v128.load(v + at + 4)));
    sum = f32x4.add(sum, f32x4.mul(v128.load(below + at - row), v128.load(v + at - row)));
    sum = f32x4.add(sum, f32x4.mul(v128.load(below + at), v128.load(v + at + row)));
    const next = f32x4.add(own, f32x4.mul(far, f32x4.sub(f32x4.mul(sum, p), own)));
    // Numbers too small for their format are slow to read.
    const kept = v128.and(next, f32x4.gt(f32x4.abs(next), little));
    v128.store(v + at, v128.bitselect(kept, own, v128.and(colour, f32x4.gt(p, zero))));
    before = own;
  }
}

/** One over all that holds each cell, 0 where nothing does. */
export function maskParts(weight: usize, right: usize, below: usize, part: usize, stride: i32, width: i32, height: i32): void {
  const row: usize = <usize>stride << 2, zero = f32x4.splat(0), one = f32x4.splat(1), end = (width + 3) & ~3;
  for (let y = 0; y < height; y++) {
    const first = <usize>(y + 1) * row + 16;
    for (let x = 0; x < end; x += 4) {
      const at = first + (<usize>x << 2), all = f32x4.add(f32x4.add(v128.load(weight + at), f32x4.add(v128.load(right + at - 4), v128.load(right + at))), f32x4.add(v128.load(below + at - row), v128.load(below + at)));
      v128.store(part + at, v128.and(f32x4.div(one, all), f32x4.gt(all, zero)));
    }
  }
}

/** A system at half the size: weights are summed, and what is said by them; two ways lead on side by side, each of them two steps long. `width` and `height` are those of the half. */
export function halveMask(said: usize, weight: usize, right: usize, below: usize, stride: i32, toSaid: usize, toWeight: usize, toRight: usize, toBelow: usize, toStride: i32, width: i32, height: i32): void {
  const row: usize = <usize>stride << 2;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const a = <usize>((2 * y + 1) * stride + 4 + 2 * x) << 2, b = a + row, to = <usize>((y + 1) * toStride + 4 + x) << 2;
      store<f32>(toSaid + to, load<f32>(said + a) + load<f32>(said + a, 4) + (load<f32>(said + b) + load<f32>(said + b, 4)));
      store<f32>(toWeight + to, load<f32>(weight + a) + load<f32>(weight + a, 4) + (load<f32>(weight + b) + load<f32>(weight + b, 4)));
      store<f32>(toRight + to, 0.5 * (load<f32>(right + a, 4) + load<f32>(right + b, 4)));
      store<f32>(toBelow + to, 0.5 * (load<f32>(below + b) + load<f32>(below + b, 4)));
    }
}
/** The values of a half-size grid, each for the four cells that it stands for. `width` and `height` are those of the finer one. */
export function doubleMask(half: usize, halfStride: i32, v: usize, stride: i32, width: i32, height: i32): void {
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) store<f32>(v + (<usize>((y + 1) * stride + 4 + x) << 2), load<f32>(half + (<usize>(((y >> 1) + 1) * halfStride + 4 + (x >> 1)) << 2)));
}
