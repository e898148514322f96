import { cos4, exp4, sin4, unitClamp } from './curves';
import { BEHIND_SHARE, own } from './ofParticle';
import { scratchAt } from './scratch';

/**
 * Where particles of a body throw their shadows on level ground, straight below each, counted in cells of two planes that are 0: of those that fly low, and of those higher than `high`
 * (parts of the body's height). Particles that came to lie throw it where they lie. `params` is 10 floats: seed, the ground's place, how far before and behind that particles come down
 * (pixels; what moveFlakes has as its band), height of the body, `high`, area of a particle in cells, cells a pixel, columns and rows of the planes, one in so many counts.
 */
export function countFallen(params: usize, id: usize, x: usize, y: usize, vx: usize, vy: usize, age: usize, life: usize, count: i32, low: usize, far: usize): void {
  const seed = <i32>load<f32>(params), ground = load<f32>(params, 4), band = load<f32>(params, 8), tall: f32 = 1 / load<f32>(params, 12), high = load<f32>(params, 16), area = load<f32>(params, 20), per = load<f32>(params, 24), w = <i32>load<f32>(params, 28), h = <i32>load<f32>(params, 32), every = <u32>load<f32>(params, 36);
  for (let i = 0; i < count; i++) {
    const at: usize = <usize>i << 2, number = load<u32>(id + at);
    if (number % every) continue;
    const py = load<f32>(y + at), lies = load<f32>(vx + at) == 0 && load<f32>(vy + at) == 0;
    let line = py;
    if (!lies) {
      const ids = i32x4.splat(<i32>number), apart = band * f32x4.extract_lane(own(seed, ids, 41), 0);
      line = ground + (f32x4.extract_lane(own(seed, ids, 20), 0) < BEHIND_SHARE ? -apart : apart);
    }
    const up = (line - py) * tall;
    if (!(up > -0.02)) continue;
    const cx = <i32>floor<f32>(load<f32>(x + at) * per), cy = <i32>floor<f32>(line * per);
    if (cx < 0 || cy < 0 || cx >= w || cy >= h) continue;
    const left: f32 = 1 - load<f32>(age + at) / load<f32>(life + at), cell = (up > high ? far : low) + (<usize>(cy * w + cx) << 2);
    store<f32>(cell, load<f32>(cell) + (area * max<f32>(0, min<f32>(1, 2.5 * left))) / (1 + up));
  }
}

/** Lists the particles whose age has not reached their life (as byte offsets in a lane) in their order; gives how many they are. */
export function findLiving(age: usize, life: usize, count: i32, living: usize): i32 {
  let n = 0;
  for (let i = 0; i < count; i++) {
    const at: usize = <usize>i << 2;
    store<i32>(living + (<usize>n << 2), i << 2);
    if (load<f32>(age + at) < load<f32>(life + at)) n++;
  }
  return n;
}
/**
 * Copies the particles that findLiving or findShown has listed, in their order, lane by lane: from lanes of `stride` numbers into lanes of `toStride`.
 * Bands of lanes.
 */
export function gatherLanes(from: usize, stride: i32, list: usize, n: i32, to: usize, toStride: i32, l0: i32, l1: i32): void {
  for (let lane = l0; lane < l1; lane++) {
    const base = from + (<usize>(lane * stride) << 2), out = to + (<usize>(lane * toStride) << 2);
    for (let i = 0; i < n; i++) store<i32>(out + (<usize>i << 2), load<i32>(base + <usize>load<i32>(list + (<usize>i << 2))));
  }
}
/** Lists the particles that a draft shows, a share of them chosen by their ids (as byte offsets in a lane); gives how many they are. */
export function findShown(id: usize, count: i32, seed: i32, share: f32, list: usize): i32 {
  const most = f32x4.splat(share);
  let n = 0;
  for (let i = 0; i < count; i += 4) {
    const shown = i32x4.bitmask(f32x4.le(own(seed, v128.load(id + (<usize>i << 2)), 19), most));
    for (let k = 0; k < 4; k++) {
      store<i32>(list + (<usize>n << 2), (i + k) << 2);
      n += <i32>(i + k < count) & (shown >> k);
    }
  }
  return n;
}

/** Bytes of a drawn shape: middle x y, cos and sin, half length and its reciprocal, reciprocal breadth, sharpness, cover, half box x y, winged; colour r g b; taper of a shard, 0 for what is round. */
export const SHAPE_BYTES: i32 = 64;

/** How far an ellipse reaches along one axis of the picture: its middle lies at `middle`, its half axis at `long`, times `slope`; the other at `wide`. */
@inline
function extent(slope: v128, middle: v128, long: v128, wide: v128): v128 {
  const a = f32x4.mul(slope, long);
  return f32x4.add(f32x4.abs(f32x4.mul(slope, middle)), f32x4.sqrt(f32x4.add(f32x4.mul(a, a), f32x4.mul(wide, wide))));
}

/** Stores four numbers of each of four shapes, which come number by number: those of one shape stand together. */
@inline
function turned(to: usize, a: v128, b: v128, c: v128, d: v128): void {
  const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5), cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5), ef = v128.shuffle<f32>(a, b, 2, 6, 3, 7), gh = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(to, v128.shuffle<f64>(ab, cd, 0, 2));
  v128.store(to + 64, v128.shuffle<f64>(ab, cd, 1, 3));
  v128.store(to + 128, v128.shuffle<f64>(ef, gh, 0, 2));
  v128.store(to + 192, v128.shuffle<f64>(ef, gh, 1, 3));
}

@inline
function shapeKinds(several: bool, params: usize, id: usize, x: usize, y: usize, vx: usize, vy: usize, age: usize, life: usize, red: usize, green: usize, blue: usize, shapes: usize, g0: i32, g1: i32): void {
  const seed = <i32>load<f32>(params), scale = f32x4.splat(load<f32>(params, 4)), size = load<f32>(params, 8) * load<f32>(params, 4), vary = load<f32>(params, 12), paleness = f32x4.splat(load<f32>(params, 16)), beat = f32x4.splat(load<f32>(params, 48)), share = f32x4.splat(load<f32>(params, 52)), scene = f32x4.splat(load<f32>(params, 56));
  const paleR = f32x4.splat(load<f32>(params, 20)), paleG = f32x4.splat(load<f32>(params, 24)), paleB = f32x4.splat(load<f32>(params, 28)), emberR = f32x4.splat(load<f32>(params, 36)), emberG = f32x4.splat(load<f32>(params, 40)), emberB = f32x4.splat(load<f32>(params, 44)), ember = f32x4.splat(load<f32>(params, 32));
  const dusts = load<f32>(params, 60), shardsTo = dusts + load<f32>(params, 64), chunksTo = shardsTo + load<f32>(params, 68), sparksTo = chunksTo + load<f32>(params, 72), depth = f32x4.splat(load<f32>(params, 76)), open = f32x4.splat(load<f32>(params, 80) * load<f32>(params, 4));
  const one = f32x4.splat(1), zero = f32x4.splat(0), half = f32x4.splat(0.5);
  for (let g = g0; g < g1; g++) {
    const at: usize = <usize>g << 4, ids = v128.load(id + at), years = v128.load(age + at), part = f32x4.div(years, v128.load(life + at));
    const left = unitClamp(f32x4.mul(f32x4.sub(one, part), f32x4.splat(2.5))), born = unitClamp(f32x4.mul(f32x4.add(years, half), half));
    const kind = several ? own(seed, ids, 31) : one, dust = f32x4.lt(kind, f32x4.splat(dusts)), shard = v128.andnot(f32x4.lt(kind, f32x4.splat(shardsTo)), dust), chunk = v128.and(f32x4.lt(kind, f32x4.splat(chunksTo)), f32x4.ge(kind, f32x4.splat(shardsTo))), spark = v128.and(f32x4.lt(kind, f32x4.splat(sparksTo)), f32x4.ge(kind, f32x4.splat(chunksTo))), streaked = v128.or(dust, spark), plain = f32x4.ge(kind, f32x4.splat(sparksTo));
    // Those before the subject come nearer to the camera, few of them much: larger, softer and fainter.
    const back = f32x4.lt(own(seed, ids, 20), share), d1 = several ? own(seed, ids, 32) : zero, d2 = f32x4.mul(d1, d1), near = v128.andnot(f32x4.mul(depth, f32x4.mul(d2, d2)), back);
    const bulk = f32x4.mul(f32x4.add(one, f32x4.mul(near, f32x4.splat(1.4))), v128.bitselect(f32x4.splat(0.5), v128.bitselect(f32x4.splat(1.3), v128.bitselect(f32x4.splat(2.2), v128.bitselect(f32x4.splat(0.3), one, spark), chunk), shard), dust));
    const r1 = own(seed, ids, 21), r2 = f32x4.mul(r1, r1);
    const sized = f32x4.mul(f32x4.mul(f32x4.mul(f32x4.add(f32x4.splat(1 - vary), f32x4.mul(f32x4.splat(vary), f32x4.add(f32x4.splat(0.3), f32x4.mul(f32x4.mul(r2, r2), f32x4.splat(2.6))))), f32x4.add(f32x4.splat(0.45), f32x4.mul(left, f32x4.splat(0.55)))), f32x4.splat(size)), bulk);
    const turn = f32x4.add(own(seed, ids, 22), f32x4.mul(f32x4.sub(own(seed, ids, 23), half), f32x4.mul(years, f32x4.splat(0.09))));
    const wing = f32x4.add(f32x4.splat(0.28), f32x4.mul(f32x4.abs(cos4(f32x4.add(f32x4.mul(f32x4.mul(years, beat), f32x4.add(f32x4.splat(0.7), f32x4.mul(own(seed, ids, 24), f32x4.splat(0.6)))), own(seed, ids, 25)))), f32x4.splat(0.72)));
    // Pale with age, lit by what lights the scene, flickering as the wings turn to the light.
    const u = f32x4.mul(f32x4.mul(unitClamp(f32x4.mul(years, f32x4.splat(1 / 14.0))), paleness), f32x4.add(f32x4.splat(0.75), f32x4.mul(own(seed, ids, 26), f32x4.splat(0.25)))), lit = f32x4.mul(f32x4.mul(scene, f32x4.add(f32x4.splat(0.55), f32x4.mul(f32x4.mul(wing, own(seed, ids, 27)), f32x4.splat(0.75)))), u);
    // Few flakes burn; most keep the colour that they came with.
    const burns = own(seed, ids, 29), b2 = f32x4.mul(burns, burns), hot = f32x4.mul(f32x4.mul(ember, f32x4.add(f32x4.splat(0.12), f32x4.mul(f32x4.mul(b2, b2), f32x4.splat(1.9)))), exp4(f32x4.neg(f32x4.div(years, f32x4.add(f32x4.splat(1.6), f32x4.mul(own(seed, ids, 28), f32x4.splat(3.4)))))));
    // Shards turn about their own length: broad or on edge, and lit by which way the face that shows looks.
    const spin = several ? f32x4.add(own(seed, ids, 34), f32x4.mul(years, f32x4.add(f32x4.splat(0.015), f32x4.mul(own(seed, ids, 33), f32x4.splat(0.05))))) : zero, tilt = cos4(spin), lean = sin4(spin), c0 = cos4(turn), s0 = sin4(turn);
    const faced = f32x4.add(f32x4.mul(lean, f32x4.sub(f32x4.mul(s0, f32x4.splat(0.48)), f32x4.mul(c0, f32x4.splat(0.62)))), f32x4.mul(tilt, f32x4.splat(0.62))), face = f32x4.pmax(zero, v128.xor(faced, v128.and(tilt, f32x4.splat(-0.0))));
    const shone = v128.bitselect(f32x4.add(f32x4.splat(0.42), f32x4.mul(face, f32x4.splat(1.05))), one, shard);
    const kept = v128.andnot(f32x4.mul(f32x4.mul(f32x4.add(one, f32x4.mul(u, f32x4.splat(0.35))), f32x4.sub(one, u)), shone), spark), paled = v128.andnot(f32x4.mul(lit, shone), spark);
    // Sparks are light to their end; they twinkle as they turn.
    const heat = v128.bitselect(f32x4.mul(f32x4.mul(f32x4.add(f32x4.splat(0.5), f32x4.mul(wing, f32x4.splat(1.6))), left), f32x4.pmax(one, ember)), hot, spark);
    // A flake thinner than a pixel keeps its light by covering less.
    const thin = f32x4.pmin(one, f32x4.mul(sized, f32x4.splat(1 / 0.7))), drawn = f32x4.pmax(sized, f32x4.splat(0.7)), winged = v128.and(f32x4.gt(sized, f32x4.splat(1.3)), plain);
    const goneX = f32x4.mul(v128.load(vx + at), open), goneY = f32x4.mul(v128.load(vy + at), open), gone = f32x4.sqrt(f32x4.add(f32x4.mul(goneX, goneX), f32x4.mul(goneY, goneY))), streak = v128.and(f32x4.mul(gone, half), streaked), moves = v128.and(streaked, f32x4.gt(gone, f32x4.splat(1e-3)));
    const plainLength = f32x4.mul(drawn, v128.bitselect(f32x4.mul(wing, f32x4.splat(0.62)), f32x4.add(f32x4.splat(0.55), f32x4.mul(wing, f32x4.splat(0.45))), winged)), shardBroad = f32x4.mul(drawn, f32x4.mul(f32x4.add(f32x4.splat(0.45), f32x4.mul(several ? own(seed, ids, 36) : zero, f32x4.splat(0.45))), f32x4.pmax(f32x4.splat(0.12), f32x4.abs(tilt))));
    const length = f32x4.add(v128.bitselect(f32x4.mul(drawn, f32x4.add(f32x4.splat(0.75), f32x4.mul(several ? own(seed, ids, 35) : zero, f32x4.splat(0.5)))), v128.bitselect(drawn, plainLength, v128.or(streaked, chunk)), shard), streak);
    const round = f32x4.mul(f32x4.pmax(f32x4.splat(0.55), f32x4.mul(drawn, f32x4.splat(0.42))), v128.bitselect(f32x4.splat(1 / 1.2), one, winged)), soft = v128.bitselect(f32x4.pmax(f32x4.splat(0.55), shardBroad), v128.bitselect(f32x4.splat(0.6), round, chunk), shard);
    const hard = f32x4.div(soft, f32x4.add(one, f32x4.mul(near, f32x4.splat(2.5)))), cornered = v128.bitselect(f32x4.splat(1.4143), one, shard), spread = f32x4.mul(cornered, f32x4.add(one, f32x4.div(half, hard)));
    const over = f32x4.add(length, v128.bitselect(f32x4.splat(0.3), f32x4.splat(0.25), winged)), broad = v128.bitselect(f32x4.add(shardBroad, f32x4.splat(0.25)), f32x4.mul(drawn, v128.bitselect(f32x4.splat(0.78), f32x4.splat(0.8), winged)), shard);
    // How far it can cover, in the picture: the box of an ellipse with these half axes, or of two sheared ones of which each is the other's mirror.
    const c = v128.bitselect(f32x4.div(goneX, gone), c0, moves), s = v128.bitselect(f32x4.div(goneY, gone), s0, moves), droop = v128.and(f32x4.splat(0.38), winged), middle = v128.and(length, winged), long = f32x4.mul(over, spread), wide = f32x4.mul(broad, spread);
    const right = f32x4.add(c, f32x4.mul(droop, s)), wrong = f32x4.sub(c, f32x4.mul(droop, s)), down = f32x4.sub(s, f32x4.mul(droop, c)), up = f32x4.add(s, f32x4.mul(droop, c)), ws = f32x4.mul(wide, s), wc = f32x4.mul(wide, c);
    const boxX = f32x4.pmax(extent(right, middle, long, ws), extent(wrong, middle, long, ws)), boxY = f32x4.pmax(extent(down, middle, long, wc), extent(up, middle, long, wc));
    // What is spread along its way or lies near covers less of what is behind it.
    const fainter = f32x4.mul(f32x4.sub(one, f32x4.mul(near, f32x4.splat(0.35))), v128.bitselect(f32x4.div(drawn, f32x4.add(drawn, streak)), v128.bitselect(f32x4.splat(0.55), one, chunk), dust));
    const cover = v128.and(f32x4.mul(f32x4.mul(f32x4.mul(left, born), thin), fainter), v128.and(f32x4.ge(sized, f32x4.splat(0.08)), f32x4.lt(years, v128.load(life + at))));
    const to = shapes + (<usize>g << 8);
    turned(to, f32x4.mul(v128.load(x + at), scale), f32x4.mul(v128.load(y + at), scale), c, s);
    turned(to + 16, middle, f32x4.div(one, over), f32x4.div(one, broad), hard);
    turned(to + 32, cover, v128.bitselect(f32x4.neg(boxX), boxX, back), boxY, droop);
    turned(
      to + 48,
      f32x4.add(f32x4.add(f32x4.mul(v128.load(red + at), kept), f32x4.mul(paleR, paled)), f32x4.mul(heat, emberR)),
      f32x4.add(f32x4.add(f32x4.mul(v128.load(green + at), kept), f32x4.mul(paleG, paled)), f32x4.mul(heat, emberG)),
      f32x4.add(f32x4.add(f32x4.mul(v128.load(blue + at), kept), f32x4.mul(paleB, paled)), f32x4.mul(heat, emberB)),
      several ? v128.and(f32x4.add(f32x4.splat(0.15), f32x4.mul(own(seed, ids, 37), f32x4.splat(0.7))), shard) : zero,
    );
  }
}

/**
 * What flakes look like at their age: one shape each, all numbers in the picture's pixels. A shape that is not to be seen has a cover of 0; its box
 * x is negative where it stands behind the subject. `params` is 24 floats: seed, scale, size, size variation, paleness, pale r g b, ember, ember r
 * g b, beat (turns a frame), share behind, brightness of the scene's light; shares of dust, shards, chunks and sparks (the rest are flakes), strength of
 * the depth, part of a frame that the shutter is open. Dust and sparks lie along their way, as long as it is while the shutter is open. Shards turn about
 * an axis of their own, light where they face the light from the upper left, and dark elsewhere.
 */
export function shapeFlakes(params: usize, id: usize, x: usize, y: usize, vx: usize, vy: usize, age: usize, life: usize, red: usize, green: usize, blue: usize, shapes: usize, g0: i32, g1: i32): void {
  // Where all are flakes as near as the body, nothing of the kinds is worked out.
  const several = load<f32>(params, 60) + load<f32>(params, 64) + load<f32>(params, 68) + load<f32>(params, 72) > 0 || load<f32>(params, 76) > 0;
  if (several) shapeKinds(true, params, id, x, y, vx, vy, age, life, red, green, blue, shapes, g0, g1);
  else shapeKinds(false, params, id, x, y, vx, vy, age, life, red, green, blue, shapes, g0, g1);
}

const TILE: i32 = 32;

/** Bit of a range's first row that says: it stands behind the subject. */
const BEHIND_BIT: i32 = 0x4000;
/** A range of no tile. */
const NOWHERE: u64 = 0xffff0000ffff0000;

/**
 * Tiles of 32 x 32 pixels that each shape touches: first and last column, first and last row, as four int16 (8 bytes); the first is after the last where
 * it touches none. Counting and sorting look at every shape more than once, and these are an eighth of it. Bands of shapes.
 */
export function tileRanges(shapes: usize, ranges: usize, width: i32, height: i32, i0: i32, i1: i32): void {
  const w = <f32>width, h = <f32>height;
  for (let i = i0; i < i1; i++) {
    const shape = shapes + (<usize>i << 6), x = load<f32>(shape), y = load<f32>(shape, 4), box = load<f32>(shape, 36), rx = abs<f32>(box), ry = load<f32>(shape, 40);
    let range = NOWHERE;
    if (load<f32>(shape, 32) > 0 && y + ry > 0 && y - ry < h && x + rx > 0 && x - rx < w) {
      const tx0 = max(0, <i32>(x - rx)) >> 5, tx1 = min(width - 1, <i32>(x + rx)) >> 5, ty0 = max(0, <i32>(y - ry)) >> 5, ty1 = min(height - 1, <i32>(y + ry)) >> 5;
      range = <u64>tx0 | (<u64>tx1 << 16) | (<u64>(box < 0 ? ty0 | BEHIND_BIT : ty0) << 32) | (<u64>ty1 << 48);
    }
    store<u64>(ranges + (<usize>i << 3), range);
  }
}

/**
 * How many shapes touch each tile, those before the subject first and then, in tiles of their own, those behind it: starts[t + 1]
 * is the count of tile t, starts[0] is 0. Tiles are in the order of rows; `ranges` is what tileRanges left. Bands are parts of the picture, `parts` in all,
 * of whole rows of tiles: each looks at every range, so few are best.
 */
export function countInTiles(ranges: usize, count: i32, starts: usize, parts: i32, width: i32, height: i32, p0: i32, p1: i32): void {
  const columns = (width + TILE - 1) >> 5, rows = (height + TILE - 1) >> 5, tiles = columns * rows, r0 = p0 * rows / parts, r1 = p1 * rows / parts;
  for (let side = 0; side <= tiles; side += tiles) memory.fill(starts + (<usize>(side + r0 * columns + 1) << 2), 0, <usize>((r1 - r0) * columns) << 2);
  if (!p0) store<i32>(starts, 0);
  for (let at = ranges, end = ranges + (<usize>count << 3); at < end; at += 8) {
    const tx0 = <i32>load<i16>(at), tx1 = <i32>load<i16>(at, 2), first = <i32>load<i16>(at, 4), side = first & BEHIND_BIT ? tiles : 0, ty0 = max(r0, first & ~BEHIND_BIT), ty1 = min(r1 - 1, <i32>load<i16>(at, 6));
    for (let ty = ty0; ty <= ty1; ty++) for (let tx = tx0; tx <= tx1; tx++) {
      const to = starts + (<usize>(side + ty * columns + tx + 1) << 2);
      store<i32>(to, load<i32>(to) + 1);
    }
  }
}
/** Turns counts into running starts: starts[t] is the place of tile t's first entry. Gives the number of entries. */
export function sumStarts(starts: usize, tiles: i32): i32 {
  let sum = 0;
  for (let t = 1; t <= tiles; t++) {
    const at = starts + (<usize>t << 2);
    sum += load<i32>(at);
    store<i32>(at, sum);
  }
  return sum;
}
/** Writes the entries: indices of shapes by tile, in their own order. Afterwards starts[t] is where tile t ends. Bands as in countInTiles. */
export function sortIntoTiles(ranges: usize, count: i32, starts: usize, entries: usize, parts: i32, width: i32, height: i32, p0: i32, p1: i32): void {
  const columns = (width + TILE - 1) >> 5, rows = (height + TILE - 1) >> 5, tiles = columns * rows, r0 = p0 * rows / parts, r1 = p1 * rows / parts;
  for (let i = 0; i < count; i++) {
    const at = ranges + (<usize>i << 3), tx0 = <i32>load<i16>(at), tx1 = <i32>load<i16>(at, 2), first = <i32>load<i16>(at, 4), side = first & BEHIND_BIT ? tiles : 0, ty0 = max(r0, first & ~BEHIND_BIT), ty1 = min(r1 - 1, <i32>load<i16>(at, 6));
    for (let ty = ty0; ty <= ty1; ty++) for (let tx = tx0; tx <= tx1; tx++) {
      const to = starts + (<usize>(side + ty * columns + tx) << 2), k = load<i32>(to);
      store<i32>(entries + (<usize>k << 2), i);
      store<i32>(to, k + 1);
    }
  }
}

/** Floats in a row of a tile's planes: a block of four that begins in the tile may end in the margin, which is never read. */
const PLANE_ROW: i32 = TILE + 4;
const PLANE_BYTES: usize = <usize>(PLANE_ROW * TILE) << 2;

/** Four pixels of RGBA as four planes of four, or back: `to` is red, and the other planes follow. */
@inline
function toPlanes(from: usize, to: usize): void {
  const a = v128.load(from), b = v128.load(from, 16), c = v128.load(from, 32), d = v128.load(from, 48), ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5), cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5), ef = v128.shuffle<f32>(a, b, 2, 6, 3, 7), gh = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(to, v128.shuffle<f64>(ab, cd, 0, 2));
  v128.store(to + PLANE_BYTES, v128.shuffle<f64>(ab, cd, 1, 3));
  v128.store(to + 2 * PLANE_BYTES, v128.shuffle<f64>(ef, gh, 0, 2));
  v128.store(to + 3 * PLANE_BYTES, v128.shuffle<f64>(ef, gh, 1, 3));
}
@inline
function fromPlanes(from: usize, to: usize, some: i32): void {
  const r = v128.load(from), g = v128.load(from + PLANE_BYTES), b = v128.load(from + 2 * PLANE_BYTES), a = v128.load(from + 3 * PLANE_BYTES), rg = v128.shuffle<f32>(r, g, 0, 4, 1, 5), ba = v128.shuffle<f32>(b, a, 0, 4, 1, 5), sg = v128.shuffle<f32>(r, g, 2, 6, 3, 7), sa = v128.shuffle<f32>(b, a, 2, 6, 3, 7);
  v128.store(to, v128.shuffle<f64>(rg, ba, 0, 2));
  if (some > 1) v128.store(to, v128.shuffle<f64>(rg, ba, 1, 3), 16);
  if (some > 2) v128.store(to, v128.shuffle<f64>(sg, sa, 0, 2), 32);
  if (some > 3) v128.store(to, v128.shuffle<f64>(sg, sa, 1, 3), 48);
}
/**
 * Half the length of the parts of four rows in which |(k dx + p, m dx + q)| < r, not a number where there is none; `a` is k k + m m, `part` is 1 / a.
 * The middle of such a part is -b / a with b = k p + m q.
 */
@inline
function halfSpans(a: f32, b: v128, p: v128, q: v128, r: f32, part: f32): v128 {
  const inside = f32x4.sub(f32x4.mul(b, b), f32x4.mul(f32x4.splat(a), f32x4.sub(f32x4.add(f32x4.mul(p, p), f32x4.mul(q, q)), f32x4.splat(r * r))));
  return f32x4.mul(f32x4.sqrt(inside), f32x4.splat(part));
}
/** The nearest whole number of one within two millions of 0, by the bits of a float whose last place is 1. */
@inline
function wholeNear(x: f32): i32 {
  return reinterpret<i32>(x + 12582912) - 0x4b400000;
}
/** Lays four pixels of one plane. A cover of 0 leaves what is there to the bit. */
@inline
function lay(at: usize, colour: v128, cover: v128): void {
  const under = v128.load(at);
  v128.store(at, f32x4.add(under, f32x4.mul(f32x4.sub(colour, under), cover)));
}

/** Shapes whose rows are looked for together, before any of them is drawn. */
const BATCH: i32 = 32;
/** Square of half the width, pixels, of what a block of four about its middle to the nearest pixel holds: a little below 2 x 2. */
const NARROW: f32 = 3.96;
/** Blocks of four pixels that a row of a small shape takes at the most: its whole box costs less than the search for what it covers of each row. */
const FEW: i32 = 2;

/**
 * For some shapes of a tile, the first pixel and the one after the last of each row that they can cover, in the tile's own pixels: for each shape
 * its address, first row and rows, 0, then the firsts of four rows and the lasts of four rows in turn. A small shape has its first column and one after its last in place of the 0
 * (16 bits each), a narrow one -1, and both nothing for their rows. Rows that a shape does not touch get none. Gives where the list ends.
 */
@inline
function findSpans(shapes: usize, entries: usize, begin: i32, end: i32, left: i32, top: i32, w: i32, h: i32, list: usize): usize {
  const lanes = f32x4(0.5, 1.5, 2.5, 3.5), farLeft = f32x4.splat(-1e9), farRight = f32x4.splat(1e9), least = i32x4.splat(0), most = i32x4.splat(w);
  // They lie far apart: touched one right after the other, they come into the cache together.
  let touched: i32 = 0;
  for (let e = begin; e < end; e++) touched |= load<i32>(shapes + (<usize>load<i32>(entries + (<usize>e << 2)) << 6));
  store<i32>(list, touched);
  for (let e = begin; e < end; e++) {
    const s = shapes + (<usize>load<i32>(entries + (<usize>e << 2)) << 6);
    const x: f32 = load<f32>(s) - <f32>left, y: f32 = load<f32>(s, 4) - <f32>top, rx = abs<f32>(load<f32>(s, 36)), ry = load<f32>(s, 40);
    const y0 = max(0, <i32>(y - ry)), y1 = min(h, <i32>ceil<f32>(y + ry)), x0 = max(0, <i32>(x - rx)), x1 = min(w, <i32>ceil<f32>(x + rx)), few = x1 - x0 <= FEW * 4;
    store<usize>(list, s);
    store<i32>(list, y0, 4);
    store<i32>(list, y1 - y0, 8);
    list += 16;
    const cosine = load<f32>(s, 8), sine = load<f32>(s, 12), long = load<f32>(s, 20), broad = load<f32>(s, 24), droop = load<f32>(s, 44);
    // Cover reaches as far as 1 + 1 / (2 hardness) half lengths; a shard lies within the ellipse about its corners. A wing is an ellipse in sheared coordinates; the other one is its mirror.
    const far: f32 = (1 + <f32>0.5 / load<f32>(s, 28)) * (load<f32>(s, 60) > 0 ? <f32>1.4143 : 1), k = cosine * long, m: f32 = (droop * cosine - sine) * broad, am: f32 = k * k + m * m, wings = droop > 0;
    // An ellipse is nowhere wider than along the row through its middle.
    const narrow = !wings && far * far < NARROW * am;
    store<i32>(list - 16, narrow ? -1 : few ? x0 | (x1 << 16) : 0, 12);
    if (narrow || few) continue;
    const pm: f32 = 1 / am;
    const lengths = v128.load32_splat(s, 16), longs = f32x4.splat(long), broads = f32x4.splat(broad), droops = f32x4.splat(droop), before = f32x4.splat(x - 0.5), after = f32x4.splat(x + 0.5);
    for (let rows = y0; rows < y1; rows += 4) {
      const dys = f32x4.add(f32x4.splat(<f32>rows - y), lanes), ays = f32x4.mul(dys, f32x4.splat(sine)), bys = f32x4.mul(dys, f32x4.splat(cosine));
      let p = f32x4.mul(f32x4.sub(ays, lengths), longs), q = f32x4.mul(f32x4.add(bys, f32x4.mul(droops, ays)), broads), b = f32x4.add(f32x4.mul(f32x4.splat(k), p), f32x4.mul(f32x4.splat(m), q));
      let reach = halfSpans(am, b, p, q, far, pm), middle = f32x4.mul(b, f32x4.splat(-pm));
      // pmin and pmax keep their first operand where the other is no number.
      let from = f32x4.pmin(farRight, f32x4.sub(middle, reach)), to = f32x4.pmax(farLeft, f32x4.add(middle, reach));
      if (wings) {
        const n: f32 = (-droop * cosine - sine) * broad, an: f32 = k * k + n * n, pn: f32 = 1 / an;
        p = f32x4.mul(f32x4.add(ays, lengths), longs); q = f32x4.mul(f32x4.sub(bys, f32x4.mul(droops, ays)), broads); b = f32x4.add(f32x4.mul(f32x4.splat(k), p), f32x4.mul(f32x4.splat(n), q));
        reach = halfSpans(an, b, p, q, far, pn); middle = f32x4.mul(b, f32x4.splat(-pn));
        from = f32x4.pmin(from, f32x4.sub(middle, reach)); to = f32x4.pmax(to, f32x4.add(middle, reach));
      }
      v128.store(list, i32x4.max_s(least, i32x4.trunc_sat_f32x4_s(f32x4.ceil(f32x4.add(before, from)))));
      v128.store(list, i32x4.min_s(most, i32x4.trunc_sat_f32x4_s(f32x4.floor(f32x4.add(after, to)))), 16);
      list += 32;
    }
  }
  return list;
}

/**
 * Lays four pixels of a shape that begin at `at` in a tile's planes. `middles` are the columns of their middles, whole numbers and a half in the picture: a pixel's bits are the same
 * whichever block of four it comes in.
 */
@inline
function layShape(at: usize, middles: v128, x: v128, ay: v128, by: v128, along: v128, across: v128, lengths: v128, longs: v128, broads: v128, droops: v128, taper: f32, hard: v128, cover: v128, red: v128, green: v128, blue: v128): void {
  const one = f32x4.splat(1), dx = f32x4.sub(middles, x), signed = f32x4.add(f32x4.mul(dx, along), ay), a = f32x4.abs(signed), v = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(dx, across), by), f32x4.mul(a, droops)), broads);
  let d: v128;
  if (taper > 0) {
    // Four straight sides: broad at one end and narrow at the other.
    const part = f32x4.mul(signed, longs), side = f32x4.add(f32x4.mul(f32x4.abs(v), f32x4.splat(1 + taper)), f32x4.mul(part, f32x4.splat(taper)));
    d = f32x4.sub(f32x4.pmax(f32x4.abs(part), side), one);
  } else {
    const u = f32x4.mul(f32x4.sub(a, lengths), longs);
    d = f32x4.sub(f32x4.sqrt(f32x4.add(f32x4.mul(u, u), f32x4.mul(v, v))), one);
  }
  const c = f32x4.mul(f32x4.pmin(one, f32x4.pmax(f32x4.splat(0), f32x4.sub(f32x4.splat(0.5), f32x4.mul(d, hard)))), cover);
  lay(at, red, c);
  lay(at + PLANE_BYTES, green, c);
  lay(at + 2 * PLANE_BYTES, blue, c);
  lay(at + 3 * PLANE_BYTES, one, c);
}

/** Draws the shapes of a list of findSpans into a tile's planes. */
@inline
function drawSpans(list: usize, end: usize, left: i32, top: i32, planes: usize): void {
  const lanes = f32x4(0.5, 1.5, 2.5, 3.5);
  while (list < end) {
    const s = load<usize>(list), y0 = load<i32>(list, 4), rows = load<i32>(list, 8), few = load<i32>(list, 12), y = load<f32>(s, 4), cosine = load<f32>(s, 8), sine = load<f32>(s, 12);
    const x = v128.load32_splat(s), along = f32x4.splat(cosine), across = f32x4.splat(-sine), lengths = v128.load32_splat(s, 16), longs = v128.load32_splat(s, 20), broads = v128.load32_splat(s, 24), hard = v128.load32_splat(s, 28), cover = v128.load32_splat(s, 32), droops = v128.load32_splat(s, 44), taper = load<f32>(s, 60), red = v128.load32_splat(s, 48), green = v128.load32_splat(s, 52), blue = v128.load32_splat(s, 56);
    let row = planes + (<usize>(y0 * PLANE_ROW) << 2);
    list += 16;
    if (few < 0) {
      // One block about the middle of each row holds all that the shape covers of it.
      const long = load<f32>(s, 20), broad = load<f32>(s, 24), k = cosine * long, m: f32 = -sine * broad, slope: f32 = -(k * (sine * long) + m * (cosine * broad)) / (k * k + m * m), fromLeft: f32 = load<f32>(s) - <f32>left - 2;
      let dy: f32 = <f32>(top + y0) + 0.5 - y;
      for (let r = 0; r < rows; r++, row += <usize>PLANE_ROW << 2, dy++) {
        const x0 = max(0, min(TILE, wholeNear(fromLeft + slope * dy)));
        layShape(row + (<usize>x0 << 2), f32x4.add(f32x4.splat(<f32>(left + x0)), lanes), x, f32x4.splat(dy * sine), f32x4.splat(dy * cosine), along, across, lengths, longs, broads, droops, taper, hard, cover, red, green, blue);
      }
      continue;
    }
    if (few) {
      const x0 = few & 0xffff, two = (few >> 16) - x0 > 4, first = f32x4.add(f32x4.splat(<f32>(left + x0)), lanes), second = f32x4.add(first, f32x4.splat(4));
      let at = row + (<usize>x0 << 2), dy: f32 = <f32>(top + y0) + 0.5;
      for (let r = 0; r < rows; r++, at += <usize>PLANE_ROW << 2, dy++) {
        const ay = f32x4.splat((dy - y) * sine), by = f32x4.splat((dy - y) * cosine);
        layShape(at, first, x, ay, by, along, across, lengths, longs, broads, droops, taper, hard, cover, red, green, blue);
        if (two) layShape(at + 16, second, x, ay, by, along, across, lengths, longs, broads, droops, taper, hard, cover, red, green, blue);
      }
      continue;
    }
    for (let r = 0; r < rows; r++) {
      const at4 = list + (<usize>(r & 3) << 2), x0 = load<i32>(at4), x1 = load<i32>(at4, 16), dy: f32 = <f32>(top + y0 + r) + 0.5 - y, ay = f32x4.splat(dy * sine), by = f32x4.splat(dy * cosine);
      for (let px = x0; px < x1; px += 4)
        layShape(row + (<usize>px << 2), f32x4.add(f32x4.splat(<f32>(left + px)), lanes), x, ay, by, along, across, lengths, longs, broads, droops, taper, hard, cover, red, green, blue);
      row += <usize>PLANE_ROW << 2;
      if ((r & 3) == 3) list += 32;
    }
    if (rows & 3) list += 32;
  }
}

/**
 * Draws the sorted shapes of one side tile by tile, premultiplied over nothing (every pixel of the picture is written)
 * or, `onto`, over what the picture holds. Each is an ellipse, or two drooping wings, of
 * soft edge. `ends` is what sortIntoTiles left. Bands are rows of tiles.
 *
 * A tile is worked on as four planes, so that four pixels are laid at once without a branch for each; the bits are those of laying pixel by pixel. In each
 * row only the part that the shape can cover is looked at. These parts are found for some shapes together before the first is drawn: how long each
 * loop is then lies ready, where a processor would guess wrong and wait for a square root.
 */
export function drawShapes(shapes: usize, ends: usize, entries: usize, behind: bool, onto: bool, out: usize, width: i32, height: i32, r0: i32, r1: i32): void {
  const columns = (width + TILE - 1) >> 5, side = behind ? columns * ((height + TILE - 1) >> 5) : 0, rowBytes: usize = <usize>width << 4, planes = scratchAt(), list = planes + (PLANE_BYTES << 2);
  for (let ty = r0; ty < r1; ty++) {
    const top = ty << 5, h = min(TILE, height - top);
    // In one piece: most tiles of most pictures have no shape.
    if (!onto) memory.fill(out + <usize>top * rowBytes, 0, <usize>h * rowBytes);
    for (let tx = 0; tx < columns; tx++) {
      const t = side + ty * columns + tx, begin = t ? load<i32>(ends + (<usize>(t - 1) << 2)) : 0, end = load<i32>(ends + (<usize>t << 2)), left = tx << 5, w = min(TILE, width - left), corner = out + <usize>top * rowBytes + (<usize>left << 4);
      if (begin == end) continue;
      if (!onto) memory.fill(planes, 0, PLANE_BYTES << 2);
      // The last tile's blocks of four may reach past its row, but not past the picture but in its last row.
      else for (let y = 0; y < h; y++) for (let x = 0; x < w; x += 4) toPlanes(corner + <usize>y * rowBytes + (<usize>x << 4), planes + (<usize>(y * PLANE_ROW + x) << 2));
      for (let e = begin; e < end; e += BATCH) drawSpans(list, findSpans(shapes, entries, e, min(end, e + BATCH), left, top, w, h, list), left, top, planes);
      for (let y = 0; y < h; y++) for (let x = 0; x < w; x += 4) fromPlanes(planes + (<usize>(y * PLANE_ROW + x) << 2), corner + <usize>y * rowBytes + (<usize>x << 4), w - x);
    }
  }
}
