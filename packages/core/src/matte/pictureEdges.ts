import type { Pictures } from '../image/arena';
import { blur } from '../image/blur';
import type { Picture, Plane } from '../image/picture';
import { growMatte } from './grow';

/** How far certain colours are looked for beyond the band, as a share of its half width: sigma of the window. */
const WINDOW = 0.8;
/** A mean of so few certain pixels around (a share of the window) says nothing. */
const FEW = 1e-3;
/** Deviations of both sides' colours that the contrast between them must pass to be believed by half. */
const DOUBT = 1.2;

/** Display colours where `weight` is, blurred: their means in the first three channels of `means`, their variance (of all channels) in `spread`. */
function coloursWhere(plate: Picture, weight: Plane, sigma: number, pictures: Pictures): { means: Picture; spread: Plane } {
  const { width, height } = plate,
    weighed = pictures.takePicture(width, height),
    squares = pictures.takePlane(width, height),
    [w, q, p, m] = [weighed.data, squares.data, plate.data, weight.data];
  for (let k = 0, i = 0; k < m.length; k++, i += 4) {
    const v = m[k]!;
    let sum = 0;
    for (let c = 0; c < 3; c++) {
      const d = Math.sqrt(Math.max(0, p[i + c]!));
      w[i + c] = v * d;
      sum += d * d;
    }
    w[i + 3] = v;
    q[k] = v * sum;
  }
  const means = blur(weighed, sigma, pictures),
    spread = blur(squares, sigma, pictures),
    [u, s] = [means.data, spread.data];
  pictures.give(weighed);
  pictures.give(squares);
  for (let k = 0, i = 0; k < m.length; k++, i += 4) {
    const all = u[i + 3]!;
    let of = 0;
    for (let c = 0; c < 3; c++) {
      u[i + c] = all > 0 ? u[i + c]! / all : 0;
      of += u[i + c]! * u[i + c]!;
    }
    s[k] = all > 0 ? Math.max(0, s[k]! / all - of) : 0;
  }
  return { means, spread };
}

/** The planes of a band along the edge of a matte: what is certainly inside it, and certainly outside, 0 or 1. The caller gives both back. */
function certain(matte: Plane, reach: number, pictures: Pictures): [inner: Plane, outer: Plane] {
  const [inner, outer] = [0, 1].map(() => {
    const plane = pictures.takePlane(matte.width, matte.height);
    plane.data.set(matte.data);
    return plane;
  }) as [Plane, Plane];
  growMatte(inner, -reach, pictures);
  growMatte(outer, reach, pictures);
  for (let i = 0; i < outer.data.length; i++) {
    inner.data[i] = inner.data[i]! > 0.98 ? 1 : 0;
    outer.data[i] = outer.data[i]! < 0.02 ? 1 : 0;
  }
  return [inner, outer];
}

/**
 * A matte whose edge follows the picture: within a band around it each pixel lies between the mean colour of what is certainly inside near it and that of what
 * is certainly outside, and the share of the way is its coverage. Where these two are alike (against their own spread and the grain), or there is no such
 * colour near, the matte stays as it is. Hair, cloth and blurred motion before an even background come out as they were mixed. The caller gives it back.
 * @param reach half the width of the band, pixels. @param noise contrast that counts as grain, 0..1 of the display range.
 */
export function atPictureEdges(plate: Picture, matte: Plane, reach: number, noise: number, pictures: Pictures): Plane {
  const { width, height } = plate,
    [inner, outer] = certain(matte, reach, pictures);
  const front = coloursWhere(plate, inner, WINDOW * reach, pictures),
    behind = coloursWhere(plate, outer, WINDOW * reach, pictures),
    out = pictures.takePlane(width, height),
    [f, b, p, o, m] = [front.means.data, behind.means.data, plate.data, out.data, matte.data],
    floor = noise * noise;
  for (let k = 0, i = 0; k < o.length; k++, i += 4) {
    if (inner.data[k] || outer.data[k]) {
      o[k] = m[k]!;
      continue;
    }
    let [along, length, contrast] = [0, 0, 0];
    for (let c = 0; c < 3; c++) {
      // Light mixes as light; how well two colours are told apart is a matter of the display.
      const front = f[i + c]!,
        back = b[i + c]!,
        way = front * front - back * back;
      along += (p[i + c]! - back * back) * way;
      length += way * way;
      contrast += (front - back) * (front - back);
    }
    const known = Math.min(1, f[i + 3]! / FEW, b[i + 3]! / FEW),
      doubt = DOUBT * DOUBT * (front.spread.data[k]! + behind.spread.data[k]! + 3 * floor),
      sure = known >= 1 && contrast > 0 ? contrast / (contrast + doubt) : 0,
      share = length > 0 ? Math.min(1, Math.max(0, along / length)) : 0;
    // Sure by much more than half it counts alone.
    const trust = Math.min(1, Math.max(0, 2 * sure - 0.5));
    o[k] = m[k]! + trust * (share - m[k]!);
  }
  for (const one of [inner, outer, front.means, front.spread, behind.means, behind.spread]) pictures.give(one);
  return out;
}
