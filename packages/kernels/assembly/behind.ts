/**
 * The backing as it would be behind a subject: what is backing for certain, its mean around each place, and the shadows and creases on it. In double precision, rounded where it is stored: what was keyed
 * before this had kernels stays the same to the bit. Bands of all are rows.
 */

@inline
function at(values: usize, lane: i32): f64 {
  return <f64>load<f32>(values + (<usize>lane << 2));
}
@inline
function rooted(values: usize, lane: i32): f64 {
  return sqrt<f64>(max<f64>(0, at(values, lane)));
}

/**
 * Distance of each pixel's colour difference from that of a backing (`blue`, `red`: its own less its luma, on root light), as a share of the backing's `strength`, smoothly from 0 at `low` to 1 at
 * `high`.
 */
export function chromaDistance(plate: usize, blue: f64, red: f64, strength: f64, low: f64, high: f64, out: usize, width: i32, y0: i32, y1: i32): void {
  for (let p = y0 * width, end = y1 * width; p < end; p++) {
    const from = plate + (<usize>p << 4), r = rooted(from, 0), g = rooted(from, 1), b = rooted(from, 2), y = 0.2126 * r + 0.7152 * g + 0.0722 * b, db = b - y - blue, dr = r - y - red;
    const x = (sqrt<f64>(db * db + dr * dr) / strength - low) / (high - low), t: f64 = x < 0 ? 0 : x > 1 ? 1 : x;
    store<f32>(out + (<usize>p << 2), <f32>(t * t * (3 - 2 * t)));
  }
}

/** A picture of what is backing for certain, by a matte in which it is at most `most`: its colours and 1, elsewhere 0. */
export function certainBacking(plate: usize, matte: usize, most: f64, out: usize, width: i32, y0: i32, y1: i32): void {
  for (let p = y0 * width, end = y1 * width; p < end; p++) {
    const m: f32 = at(matte, p) <= most ? 1 : 0, from = plate + (<usize>p << 4), to = out + (<usize>p << 4);
    for (let c: usize = 0; c < 12; c += 4) store<f32>(to + c, load<f32>(from + c) * m);
    store<f32>(to, m, 12);
  }
}
/** Turns a blurred certainBacking into the mean colour about each place, in place: one colour (`red`, `green`, `blue`) where less than a share of `trace` is known of it. */
export function meanBacking(soft: usize, red: f64, green: f64, blue: f64, trace: f64, width: i32, y0: i32, y1: i32): void {
  for (let p = y0 * width, end = y1 * width; p < end; p++) {
    const s = soft + (<usize>p << 4), near = at(s, 3), known = near / (near + trace), rest = 1 - known;
    store<f32>(s, <f32>(near > 0 ? (at(s, 0) / near) * known + red * rest : red));
    store<f32>(s, <f32>(near > 0 ? (at(s, 1) / near) * known + green * rest : green), 4);
    store<f32>(s, <f32>(near > 0 ? (at(s, 2) / near) * known + blue * rest : blue), 8);
    store<f32>(s, 1, 12);
  }
}

/**
 * What of a plate has the hue of the backing about it, at a brightness of `darkest` to `brightest` times its own; `hue` is how far it may be from it, squared, as a share of its brightness. Gives for each
 * pixel its brightness times its weight, its weight (again its brightness), 1, and 0; 0 where it is of another hue.
 */
export function ofItsHue(backing: usize, plate: usize, darkest: f64, brightest: f64, hue: f64, out: usize, width: i32, y0: i32, y1: i32): void {
  for (let p = y0 * width, end = y1 * width; p < end; p++) {
    const b = backing + (<usize>p << 4), from = plate + (<usize>p << 4), to = out + (<usize>p << 4), red = at(b, 0), green = at(b, 1), blue = at(b, 2), x = at(from, 0), y = at(from, 1), z = at(from, 2);
    const length = 1e-9 + red * red + green * green + blue * blue, t = (x * red + y * green + z * blue) / length, dx = x - t * red, dy = y - t * green, dz = z - t * blue, off = dx * dx + dy * dy + dz * dz;
    const its = t > darkest && t < brightest && off < hue * t * t * length, weight: f64 = its ? t : 0;
    store<f32>(to, <f32>(weight * t));
    store<f32>(to, <f32>weight, 4);
    store<f32>(to, its ? 1 : 0, 8);
    store<f32>(to, 0, 12);
  }
}
/** Darkens and brightens a backing, in place, to what a blurred ofItsHue says is near; not where less than a share of `trace` is known of it. */
export function shadeAsNear(backing: usize, near: usize, trace: f64, width: i32, y0: i32, y1: i32): void {
  for (let p = y0 * width, end = y1 * width; p < end; p++) {
    const b = backing + (<usize>p << 4), n = near + (<usize>p << 4), share = at(n, 2), weight = at(n, 1), t: f64 = weight > 0 ? 1 + (share / (share + trace)) * (at(n, 0) / weight - 1) : 1;
    for (let c = 0; c < 3; c++) store<f32>(b + (<usize>c << 2), <f32>(at(b, c) * t));
  }
}

/** Counts every `step`-th value of `count` by its absolute value in `bins` bins up to `most`, into whole numbers that are 0; gives how many fall into them. */
export function countSizes(values: usize, count: i32, step: i32, most: f64, bins: i32, counts: usize): i32 {
  let n = 0;
  for (let k = 0; k < count; k += step) {
    const bin = floor<f64>((abs<f64>(at(values, k)) / most) * <f64>bins);
    if (!(bin < <f64>bins)) continue;
    const to = counts + (<usize>(<i32>bin) << 2);
    store<i32>(to, load<i32>(to) + 1);
    n++;
  }
  return n;
}
