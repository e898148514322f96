import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import { partOf } from '../image/resize';
import type { Plane } from '../image/picture';
import { EDGES, tonguesOf, type Moment, type Tongues } from './pulled';
import type { Box } from '../image/extent';

/** Coverage from which a pixel is of the body. */
const IN = 0.5;
/** Farther than any picture. */
const FAR = 16000;
/** How far the pattern of an aura flows before it begins anew, in tongues. */
const FLOW = 2;

/**
 * A body in a box of a plane, and how many columns and rows each pixel lies from its nearest place (to the right of it and below it: above 0); FAR where there is no body. `light` is what is drawn
 * out of it. Planes of the box.
 */
export interface SkinField {
  body: Plane;
  dx: Plane;
  dy: Plane;
  light: Plane;
  box: Box;
}

/**
 * The nearest places of a body about it: two passes in which each cell of 2 x 2 pixels takes over what its neighbours know (Danielsson, Euclidean distance mapping, 1980), so that they are off by less than two
 * pixels; every pixel by itself took four times as long. The way to that place is the body's normal there. The caller gives the planes back.
 */
export function skinField(plane: Plane, box: Box, pictures: Pictures): SkinField {
  const [x0, y0, x1, y1] = box,
    width = x1 - x0,
    height = y1 - y0,
    body = partOf(plane, { x: x0, y: y0, width, height }, pictures),
    [dx, dy, light] = [0, 1, 2].map(() => pictures.takePlane(width, height)) as [Plane, Plane, Plane],
    [w, h] = [(width + 1) >> 1, (height + 1) >> 1],
    [a, b] = [new Int16Array(w * h).fill(FAR), new Int16Array(w * h).fill(FAR)],
    m = body.data;
  for (let y = 0, p = 0; y < h; y++)
    for (let x = 0; x < w; x++, p++) {
      const at = 2 * y * width + 2 * x,
        right = 2 * x + 1 < width ? 1 : 0,
        below = 2 * y + 1 < height ? width : 0;
      if (m[at]! >= IN || m[at + right]! >= IN || m[at + below]! >= IN || m[at + right + below]! >= IN) a[p] = b[p] = 0;
    }
  spread(a, b, w, h);
  // Out in pixels by a kernel: two short numbers of a cell to a float of a plane.
  const cells = [a, b].map((ways) => {
    const plane = pictures.takePlane((ways.length + 1) >> 1, 1);
    new Int16Array(plane.data.buffer, plane.data.byteOffset, ways.length).set(ways);
    return plane;
  });
  withAddresses(pictures, [...cells, body, dx, dy], (ax, by, skin, toX, toY) =>
    pictures.run('spreadWays', height, ax!, by!, w, FAR, skin!, IN, toX!, toY!, width),
  );
  cells.forEach((plane) => pictures.give(plane));
  return { body, dx, dy, light, box };
}
/** Lets every cell know its nearest place, from those that are 0 and 0; in place. */
function spread(a: Int16Array, b: Int16Array, w: number, h: number): void {
  const take = (p: number, q: number, sx: number, sy: number) => {
    const qx = a[q]!,
      px = a[p]!,
      py = b[p]!;
    if (qx === FAR || (px === 0 && py === 0)) return;
    const nx = qx + sx,
      ny = b[q]! + sy;
    if (nx * nx + ny * ny < px * px + py * py) {
      a[p] = nx;
      b[p] = ny;
    }
  };
  for (const way of [1, -1] as const) {
    const [from, to] = way > 0 ? [0, h] : [h - 1, -1];
    for (let y = from; y !== to; y += way) {
      if (y - way >= 0 && y - way < h)
        for (let x = 0, p = y * w, q = p - way * w; x < w; x++, p++, q++) {
          take(p, q, 0, way);
          if (x > 0) take(p, q - 1, 1, way);
          if (x + 1 < w) take(p, q + 1, -1, way);
        }
      for (let x = 1; x < w; x++) take(y * w + x, y * w + x - 1, 1, 0);
      for (let x = w - 2; x >= 0; x--) take(y * w + x, y * w + x + 1, -1, 0);
    }
  }
}
export const giveField = ({ body, dx, dy, light }: SkinField, pictures: Pictures): void => {
  for (const plane of [body, dx, dy, light]) pictures.give(plane);
};

/**
 * One copy of an aura that is drawn out along the normals of the outline, into `light` of the field.
 * @param at pixels of the plane for each pixel of the values, seconds, the copy, pixels of the whole shot a metre, and the body's motion in pixels of the plane a frame.
 */
export function offSkin(
  field: SkinField,
  v: Tongues & { trail: number },
  at: Moment & { motion: readonly [number, number] },
  pictures: Pictures,
): void {
  const { size, phase, far, risen } = tonguesOf(v, at),
    params = pictures.takePlane(20, 1),
    flows = [0, 1].flatMap((k) => {
      const turn = risen * 0.7 + 0.5 * k,
        begun = Math.floor(turn),
        gone = turn - begun;
      return [gone * FLOW, phase + 5.3 * k + 11.7 * (begun & 1023), 1 - Math.abs(2 * gone - 1)];
    });
  params.data.set([size, phase, far, 3 * far, v.trail * at.motion[0], v.trail * at.motion[1], v.sway, v.ragged]);
  params.data.set([EDGES.indexOf(v.edge), v.seed, risen, ...flows, field.box[0], field.box[1]], 8);
  const { width, height } = field.body;
  withAddresses(pictures, [field.body, field.dx, field.dy, params, field.light], (body, dx, dy, given, out) =>
    pictures.run('flamesOffSkin', height, body!, dx!, dy!, given!, out!, width, height),
  );
  pictures.give(params);
}
