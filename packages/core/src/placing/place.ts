import { clamp, cos, radians, sin } from '../image/exactMath';
import type { Homography } from '../image/warp';
import type { Frame, Point } from '../motion/frame';
import { param, type Values } from '../params/describe';
import { after, cornersOf, seenAt, toCorners } from '../image/homography';

/** Where a picture stands in a shot, how large it is and how it is turned. Shared by elements, subjects and clips. */
export const placeParams = {
  placedBy: param.choice({
    default: 'size and turn',
    of: ['size and turn', 'four corners'],
    title: 'Placed by',
    help: 'Placed by size and turn, or with each corner where you drag it.',
    group: 'Place',
  }),
  place: param.point({
    default: [0, 0],
    title: 'Place',
    help: 'Where the pivot stands, px from the mount, or from the middle of the picture without one.',
    group: 'Place',
    when: { param: 'placedBy', is: ['size and turn'] },
  }),
  fit: param.choice({
    default: 'own size',
    of: ['own size', 'fits the picture', 'fills the picture', 'stretched to the picture'],
    title: 'Fit',
    help: 'Size at 100 %: pixel for pixel, all of it within the picture, or the picture filled.',
    group: 'Place',
    when: { param: 'placedBy', is: ['size and turn'] },
  }),
  size: param.share({
    default: 100,
    title: 'Size',
    range: [0, 2000],
    help: 'In % of what Fit gives.',
    group: 'Place',
    when: { param: 'placedBy', is: ['size and turn'] },
  }),
  turn: param.angle({
    default: 0,
    title: 'Turn',
    help: 'Degrees clockwise about the pivot.',
    group: 'Place',
    when: { param: 'placedBy', is: ['size and turn'] },
  }),
  swing: param.angle({
    default: 0,
    title: 'Swing',
    help: 'Turn about the upright through the pivot: the right edge goes away from you.',
    group: 'Place',
    when: { param: 'placedBy', is: ['size and turn'] },
  }),
  tilt: param.angle({
    default: 0,
    title: 'Tilt',
    help: 'Turn about the level through the pivot: the upper edge goes away from you. 90 lies edge-on.',
    group: 'Place',
    when: { param: 'placedBy', is: ['size and turn'] },
  }),
  pivot: param.point({
    default: [0, 0],
    title: 'Pivot',
    help: 'The point that stays put while it grows and turns, px of the clip from its middle.',
    group: 'Place',
    when: { param: 'placedBy', is: ['size and turn'] },
  }),
  mirror: param.choice({ default: 'no', of: ['no', 'left to right', 'upside down', 'both'], title: 'Mirror', group: 'Place' }),
  topLeft: param.point({
    default: [-160, -90],
    title: 'Upper left',
    help: 'Where that corner stands, px from the mount.',
    group: 'Place',
    when: { param: 'placedBy', is: ['four corners'] },
  }),
  topRight: param.point({
    default: [160, -90],
    title: 'Upper right',
    help: 'Where that corner stands, px from the mount.',
    group: 'Place',
    when: { param: 'placedBy', is: ['four corners'] },
  }),
  bottomRight: param.point({
    default: [160, 90],
    title: 'Lower right',
    help: 'Where that corner stands, px from the mount.',
    group: 'Place',
    when: { param: 'placedBy', is: ['four corners'] },
  }),
  bottomLeft: param.point({
    default: [-160, 90],
    title: 'Lower left',
    help: 'Where that corner stands, px from the mount.',
    group: 'Place',
    when: { param: 'placedBy', is: ['four corners'] },
  }),
} as const;
export type PlaceValues = Values<typeof placeParams>;

/** What is only moved, sized and turned, as everything that is placed. */
export function turnedOnly(v: Partial<PlaceValues> & Pick<PlaceValues, 'place'>): PlaceValues {
  const none: Point = [0, 0];
  return {
    ...{ placedBy: 'size and turn', fit: 'own size', size: 1, turn: 0, swing: 0, tilt: 0, mirror: 'no', pivot: none },
    ...{ topLeft: none, topRight: none, bottomRight: none, bottomLeft: none },
    ...v,
  };
}

/** Sizes of what is placed and of the picture that it stands in, in the same pixels as the values. */
export interface Sizes {
  width: number;
  height: number;
  pictureWidth: number;
  pictureHeight: number;
}

/** How far away who looks stands, in widths of the picture: a lens that sees 37 degrees across. */
const AWAY = 1.5;

/** How much larger than its own size it is at 100 %, across and down. */
export function fitted(fit: PlaceValues['fit'], { width, height, pictureWidth, pictureHeight }: Sizes): [number, number] {
  const across = pictureWidth / width,
    down = pictureHeight / height,
    both = (k: number): [number, number] => [k, k];
  switch (fit) {
    case 'own size':
      return both(1);
    case 'fits the picture':
      return both(Math.min(across, down));
    case 'fills the picture':
      return both(Math.max(across, down));
    case 'stretched to the picture':
      return [across, down];
  }
}

/** The directions of the turned plane in space: its x, its y and its normal, which points to who looks; turned in the picture, then tilted, then swung. */
function axes({ turn, swing, tilt }: Pick<PlaceValues, 'turn' | 'swing' | 'tilt'>): [number, number, number][] {
  const [cr, sr, cs, ss, ct, st] = [
    cos(radians(turn)),
    sin(radians(turn)),
    cos(radians(swing)),
    sin(radians(swing)),
    cos(radians(tilt)),
    sin(radians(tilt)),
  ];
  const turned = ([x, y, z]: readonly [number, number, number]): [number, number, number] => {
    const x1 = x * cr - y * sr,
      y1 = x * sr + y * cr,
      y2 = y1 * ct + z * st,
      z2 = -y1 * st + z * ct;
    return [x1 * cs - z2 * ss, y2, x1 * ss + z2 * cs];
  };
  return [turned([1, 0, 0]), turned([0, 1, 0]), turned([0, 0, -1])];
}

/**
 * Takes pixels of what is placed to pixels from the mount's place; null where it is seen edge-on or has no size. Pixels are the body's: `toPicture`
 * of the mount comes after it.
 */
export function placedMatrix(v: PlaceValues, sizes: Sizes): Homography | null {
  const { width, height, pictureWidth } = sizes,
    flipX = v.mirror === 'left to right' || v.mirror === 'both' ? -1 : 1,
    flipY = v.mirror === 'upside down' || v.mirror === 'both' ? -1 : 1,
    flipped: Homography = [flipX, 0, flipX < 0 ? width : 0, 0, flipY, flipY < 0 ? height : 0, 0, 0, 1];
  if (v.placedBy === 'four corners') {
    const m = toCorners(width, height, [v.topLeft, v.topRight, v.bottomRight, v.bottomLeft]);
    return m && after(m, flipped);
  }
  const [kx, ky] = fitted(v.fit, sizes).map((k) => k * v.size) as [number, number],
    [ux, uy] = axes(v) as [[number, number, number], [number, number, number]],
    far = AWAY * pictureWidth,
    // The pivot stays on what the clip shows there, mirrored or not.
    px = width / 2 + flipX * v.pivot[0],
    py = height / 2 + flipY * v.pivot[1],
    [tx, ty] = v.place;
  const g = (kx * ux[2]) / far,
    h = (ky * uy[2]) / far;
  const turned: Homography = [kx * ux[0] + tx * g, ky * uy[0] + tx * h, tx, kx * ux[1] + ty * g, ky * uy[1] + ty * h, ty, g, h, 1];
  const m = after(turned, after([1, 0, -px, 0, 1, -py, 0, 0, 1], flipped)),
    scale = scaleOf(m, [px, py]);
  return scale * scale > 1e-6 * kx * ky ? m : null;
}

/** What is placed by `matrix`, carried by a mount: pixels of it to pixels of the picture. About the pivot the mount counts as flat. */
export function carriedMatrix(matrix: Homography, mount: Frame, about: Point): Homography {
  const [x, y] = mount.toPicture(about),
    [xu, yu, xv, yv] = mount.slopesAt(about);
  return after([xu, xv, x - xu * about[0] - xv * about[1], yu, yv, y - yu * about[0] - yv * about[1], 0, 0, 1], matrix);
}

/** Where the pivot stands, from the mount. */
export const pivotOf = (v: PlaceValues): Point =>
  v.placedBy === 'size and turn'
    ? v.place
    : [
        (v.topLeft[0] + v.topRight[0] + v.bottomRight[0] + v.bottomLeft[0]) / 4,
        (v.topLeft[1] + v.topRight[1] + v.bottomRight[1] + v.bottomLeft[1]) / 4,
      ];

/** What handles draw of it: its corners (clockwise from the upper left one of the unmirrored clip), its pivot, and the end of its normal. */
export interface Outline {
  corners: [Point, Point, Point, Point];
  pivot: Point;
  /** Null where each corner is placed for itself. */
  normal: Point | null;
}
/** Length of the drawn normal as a share of the picture's width. */
const NORMAL = 0.06;
/** The outline of what is placed, in pixels from the mount; null where it is not to be seen. */
export function outlineOf(v: PlaceValues, sizes: Sizes): Outline | null {
  const m = placedMatrix(v, sizes),
    corners = m && cornersOf(m, sizes.width, sizes.height);
  if (!corners) return null;
  if (v.placedBy === 'four corners') return { corners, pivot: pivotOf(v), normal: null };
  const [nx, ny, nz] = axes(v)[2]!,
    long = NORMAL * sizes.pictureWidth,
    w = 1 + (long * nz) / (AWAY * sizes.pictureWidth);
  return { corners, pivot: v.place, normal: [v.place[0] + (long * nx) / w, v.place[1] + (long * ny) / w] };
}

/** Pixels of the result for each pixel of what is placed, about a point of it. */
export function scaleOf(m: Homography, at: Point): number {
  const { at: here, depth } = seenAt(m, at),
    dx = (m[0] - here[0] * m[6]) / depth,
    dy = (m[3] - here[1] * m[6]) / depth,
    ex = (m[1] - here[0] * m[7]) / depth,
    ey = (m[4] - here[1] * m[7]) / depth;
  return Math.sqrt(Math.abs(dx * ey - dy * ex));
}

/** The box around four corners, left top right bottom, widened by `by`. */
export function boxAround(corners: readonly Point[], by: number): [number, number, number, number] {
  const xs = corners.map((c) => c[0]),
    ys = corners.map((c) => c[1]);
  return [Math.min(...xs) - by, Math.min(...ys) - by, Math.max(...xs) + by, Math.max(...ys) + by].map((n) => clamp(n, -1e6, 1e6)) as [
    number,
    number,
    number,
    number,
  ];
}
