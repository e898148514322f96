import { exp } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import { sampled } from '../image/sampled';
import { followed, motionField, shiftAt, type Field } from '../motion/between';

/** A frame beside the one that is refined: its matte as it is so far, and its picture at half of the clip's size. */
export interface NearFrame {
  matte: Plane;
  half: Picture;
}
/** Pixels of the half picture around the edge that are measured: what moves further in a frame is not followed. */
const AROUND = 40;
/** Difference of the pictures, square roots of light, at which a frame says little of a place; and coverage within which values agree. */
const UNLIKE = 0.045,
  AGREES = 0.22;
/** What every frame says at the least, so that a place which no frame resembles keeps its own value. */
const LEAST = 1e-3;

/** The part of a half picture in which the mattes have an edge, or differ: left, top, width and height; null where there is none. */
function aroundEdges(planes: readonly Plane[], half: Picture): [number, number, number, number] | null {
  const { width, height } = planes[0]!;
  let [x0, y0, x1, y1] = [width, height, -1, -1];
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const own = planes[0]!.data[p]!;
      let edge = own > 0.01 && own < 0.99;
      for (let i = 1; !edge && i < planes.length; i++) edge = Math.abs(planes[i]!.data[p]! - own) > 0.02;
      if (!edge) continue;
      if (x < x0) x0 = x;
      if (x > x1) x1 = x;
      if (y < y0) y0 = y;
      if (y > y1) y1 = y;
    }
  if (x1 < x0) return null;
  const k = half.width / width,
    left = Math.max(0, Math.floor(x0 * k) - AROUND),
    top = Math.max(0, Math.floor(y0 * k) - AROUND);
  return [
    left,
    top,
    Math.min(half.width, Math.ceil((x1 + 1) * k) + AROUND) - left,
    Math.min(half.height, Math.ceil((y1 + 1) * k) + AROUND) - top,
  ];
}
function cut(plane: Plane, [left, top, width, height]: readonly [number, number, number, number], pictures: Pictures): Plane {
  const out = pictures.takePlane(width, height);
  for (let y = 0; y < height; y++)
    out.data.set(plane.data.subarray((top + y) * plane.width + left, (top + y) * plane.width + left + width), y * width);
  return out;
}
/**
 * A matte held still against its neighbours in time, in place: each neighbour's matte is brought here by the motion of the picture, and what the frames
 * agree on (the mean of those near their weighted median) counts. A frame says less where its picture, brought here, looks another way.
 * @param half the picture of the matte's own frame, of half the clip's size. @param near the frames beside it. @param strength share of the change, 0..1.
 */
export function steadied(matte: Plane, half: Picture, near: readonly NearFrame[], strength: number, pictures: Pictures): Plane {
  const box = near.length ? aroundEdges([matte, ...near.map((n) => n.matte)], half) : null;
  if (!box) return matte;
  const [left, top, width, height] = box,
    cutLight = (picture: Picture) => {
      const light = followed(picture, pictures),
        part = cut(light, box, pictures);
      pictures.give(light);
      return part;
    },
    own = cutLight(half),
    others = near.map((n) => {
      const light = cutLight(n.half);
      return { matte: n.matte, light, field: motionField(own, light, pictures) as Field };
    }),
    k = half.width / matte.width,
    values = new Float32Array(others.length + 1),
    weights = new Float32Array(others.length + 1),
    x0 = Math.floor(left / k),
    y0 = Math.floor(top / k),
    x1 = Math.min(matte.width, Math.ceil((left + width) / k)),
    y1 = Math.min(matte.height, Math.ceil((top + height) / k)),
    { data } = matte;
  for (let y = y0; y < y1; y++)
    for (let x = x0, p = y * matte.width + x0; x < x1; x++, p++) {
      const [hx, hy] = [(x + 0.5) * k - left, (y + 0.5) * k - top],
        here = sampled(own, hx, hy);
      values[0] = data[p]!;
      weights[0] = 1;
      for (let i = 0; i < others.length; i++) {
        const { light, field, matte: other } = others[i]!,
          [sx, sy] = shiftAt(field, hx, hy),
          off = (sampled(light, hx + sx, hy + sy) - here) / UNLIKE;
        values[i + 1] = sampled(other, x + 0.5 + sx / k, y + 0.5 + sy / k);
        weights[i + 1] = LEAST + exp(-0.5 * off * off);
      }
      data[p] = values[0] + strength * (agreed(values, weights) - values[0]);
    }
  for (const plane of [own, ...others.map((o) => o.light)]) pictures.give(plane);
  return matte;
}
/** The mean of the values near their weighted median. */
function agreed(values: Float32Array, weights: Float32Array): number {
  let total = 0;
  for (let i = 0; i < weights.length; i++) total += weights[i]!;
  // A handful of values: the median is that one of which less than half of the weight lies to either side.
  let median = values[0]!;
  for (let i = 0; i < values.length; i++) {
    let below = 0,
      above = 0;
    for (let j = 0; j < values.length; j++)
      if (values[j]! < values[i]!) below += weights[j]!;
      else if (values[j]! > values[i]!) above += weights[j]!;
    if (below <= total / 2 && above <= total / 2) {
      median = values[i]!;
      break;
    }
  }
  let sum = 0,
    weight = 0;
  for (let i = 0; i < values.length; i++) {
    const d = (values[i]! - median) / AGREES;
    if (d < -1 || d > 1) continue;
    const w = weights[i]! * (1 - d * d);
    sum += w * values[i]!;
    weight += w;
  }
  return sum / weight;
}
