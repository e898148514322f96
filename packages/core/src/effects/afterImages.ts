import { blur } from '../image/blur';
import { clamp, cos, pow, radians, sin } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { warpFlat, type Homography } from '../image/warp';
import { about, boxOf } from './body';
import type { Box } from '../image/extent';
import { param, type Values } from '../params/describe';
import { after, back, cornersOf } from '../image/homography';
import { boxAround } from '../placing';
import { effect, type Canvas } from './describe';
import { recipes } from './recipes/afterImages';

const params = {
  kind: param.choice({
    default: 'trailing',
    of: ['trailing', 'left standing', 'at cues', 'same pose'],
    title: 'Kind',
    help: 'Earlier poses that follow; poses stamped one after another that stay; poses stamped at each cue within the effect; or copies of the pose of now.',
  }),
  count: param.number({ default: 4, title: 'Count', unit: 'images', help: 'Number of images.', range: [1, 12], step: 1, curve: false }),
  every: param.number({
    default: 4,
    title: 'Spacing',
    help: 'Frames from one image to the next.',
    unit: 'frames',
    range: [1, 200],
    step: 1,
    curve: false,
    when: { param: 'kind', is: ['trailing', 'left standing'] },
  }),
  shift: param.point({ default: [0, 0], title: 'Shift', help: 'Offset of each image from the one before, px.' }),
  grow: param.share({
    default: 100,
    title: 'Scale',
    range: [10, 300],
    help: 'Size of each image relative to the one before, %.',
    rare: true,
  }),
  roll: param.angle({
    default: 0,
    title: 'Rotation',
    help: 'Turn of each image in the picture, degrees clockwise from the one before.',
    rare: true,
  }),
  yaw: param.angle({
    default: 0,
    title: 'Rotation, vertical axis',
    help: 'Turn of each image about the vertical axis.',
    range: [-80, 80],
    rare: true,
  }),
  pitch: param.angle({
    default: 0,
    title: 'Rotation, horizontal axis',
    help: 'Turn of each image about the horizontal axis.',
    range: [-80, 80],
    rare: true,
  }),
  paint: param.choice({
    default: 'light',
    of: ['light', 'paint'],
    title: 'Drawn as',
    help: 'Light adds to the picture; paint covers it.',
    group: 'Look',
  }),
  strength: param.share({ default: 70, title: 'Strength', range: [0, 400], group: 'Look' }),
  fade: param.number({
    default: 1.2,
    title: 'Fade exponent',

    range: [0, 8],
    step: 0.1,
    help: 'Exponent of the fall of strength towards the oldest image: 0 = none, 1 = even, higher = faster.',
    group: 'Look',
  }),
  stands: param.number({
    default: 24,
    title: 'Visible for',
    unit: 'frames',
    range: [0, 2000],
    step: 1,
    help: 'Frames that an image stays; 0 = as long as the effect.',
    group: 'Look',
    when: { param: 'kind', is: ['left standing', 'at cues'] },
  }),
  tint: param.share({ default: 80, title: 'Tint amount', help: 'Blend of each image towards its colour.', group: 'Look' }),
  near: param.colour({ default: '#9fe0ff', title: 'Newest colour', group: 'Look' }),
  far: param.colour({ default: '#7a4dff', title: 'Oldest colour', group: 'Look' }),
  gain: param.share({
    default: 120,
    title: 'Image brightness',
    help: 'Brightness of the images before they are tinted.',
    range: [0, 600],
    group: 'Look',
    rare: true,
  }),
  soft: param.length({
    default: 6,
    title: 'Softness',
    range: [0, 200],
    step: 0.5,
    help: 'Blur of the oldest image: radius in px, 2 × standard deviation.',
    group: 'Look',
  }),
};
type V = Values<typeof params>;

/** Where turned images begin, pixels: a blur halves the picture some times, and so it does in the same places wherever they fall. */
const STEP = 32;
/** The map that moves by so many pixels. */
const shiftBy = (x: number, y: number): Homography => [1, 0, x, 0, 1, y, 0, 0, 1];

/** How an image that is `steps` images away from the newest is laid, as what warpFlat reads: places of the result to places of the source. */
export function turnOf(
  v: Pick<V, 'shift' | 'grow' | 'roll' | 'yaw' | 'pitch'>,
  steps: number,
  pivot: readonly [number, number],
  far: number,
): Homography {
  const angle = (d: number) => radians(d * steps),
    [a, b, c] = [angle(v.roll), angle(v.yaw), angle(v.pitch)],
    k = pow(Math.max(0.01, v.grow), steps),
    [cr, sr, cy, sy, cp, sp] = [cos(a), sin(a), cos(b), sin(b), cos(c), sin(c)];
  // Columns of the turned plane's two directions in space (roll, then about the upright, then about the level), seen from `far` away.
  const ux = k * cy * cr,
    uy = k * (cp * sr + sp * sy * cr),
    uz = k * (sp * sr - cp * sy * cr),
    vx = -k * cy * sr,
    vy = k * (cp * cr - sp * sy * sr),
    vz = k * (sp * cr + cp * sy * sr);
  const [px, py] = pivot,
    tx = px + v.shift[0] * steps,
    ty = py + v.shift[1] * steps;
  // Forward: source (s, t) about the pivot to (ux s + vx t, uy s + vy t) / (1 + (uz s + vz t) / far), about the shifted pivot.
  const g = uz / far,
    h = vz / far,
    forward: Homography = [ux + tx * g, vx + tx * h, tx, uy + ty * g, vy + ty * h, ty, g, h, 1];
  // An image that is seen edge-on lies nowhere.
  return back(after(forward, shiftBy(-px, -py))) ?? [0, 0, -1, 0, 0, -1, 0, 0, 1];
}

/** The subject alone within a box of the picture, tinted: premultiplied. */
function cutOut(
  plate: Picture,
  matte: Plane,
  [x0, y0, x1, y1]: Box,
  tint: number,
  colour: readonly number[],
  gain: number,
  solid: boolean,
  pictures: Pictures,
): Picture {
  const out = pictures.takePicture(x1 - x0, y1 - y0),
    params = pictures.takePlane(8, 1);
  params.data.set([tint, ...colour, gain, solid ? 1 : 0]);
  withAddresses(pictures, [plate, matte, params, out], (from, m, given, to) =>
    pictures.run('tintedFigure', y1 - y0, from!, m!, plate.width, x0, y0, given!, to!, x1 - x0),
  );
  pictures.give(params);
  return out;
}

/**
 * An image that stands in a box, seen through a turn (places of the result to places of the source): only where it falls, with a margin for its blur.
 * @returns null where nothing of it is on the picture.
 */
function turnedImage(
  image: Picture,
  [x0, y0]: Box,
  turn: Homography,
  margin: number,
  { pictures, width, height }: Canvas,
): { image: Picture; where: Box } | null {
  const own = after(shiftBy(-x0, -y0), turn),
    way = back(own),
    // One that reaches behind who looks may fall anywhere.
    corners = way && cornersOf(way, image.width, image.height),
    { x, y, width: wide, height: tall } = about(corners ? boxAround(corners, 0) : [0, 0, width, height], margin, STEP, width, height);
  if (wide <= 0 || tall <= 0) return null;
  return { image: warpFlat(image, after(own, shiftBy(x, y)), wide, tall, pictures), where: [x, y, x + wide, y + tall] };
}
/** Lays an image that stands in a box onto the layer. */
function layImage(layer: Picture, image: Picture, [x0, y0, x1, y1]: Box, alpha: number, solid: boolean, pictures: Pictures): void {
  const cover = Math.min(1, alpha);
  withAddresses(pictures, [image, layer], (from, to) =>
    pictures.run('layPart', y1 - y0, from!, x1 - x0, to!, layer.width, x0, y0, solid ? cover : alpha, cover),
  );
}

/** Images of earlier poses, or copies of this one. */
export const afterImages = effect({
  type: 'after-images',
  version: 1,
  title: 'After-images',
  summary: 'Earlier poses that follow or stay where they were, or copies of this one; tinted, fading, turned.',
  recipes,
  // The walk: images of who stands still lie on each other.
  shown: { frame: 1047, begins: 1020 },
  lanes: ['behind', 'front'],
  facts: ['frame', 'frameInRow', 'cues'],
  origin: 'middle',
  happens: true,
  params,
  inputs: {
    plates: { kind: 'plates', title: 'Performance at other frames' },
    mattes: { kind: 'mattes', title: 'Subject at other frames' },
    mount: { kind: 'mount', optional: true, title: 'Mount' },
  },
  times(v, frame, first, cues) {
    const every = Math.max(1, Math.round(v.every)),
      count = Math.round(v.count);
    if (v.kind === 'same pose') return [frame];
    const stands = (f: number) => f <= frame && (v.stands <= 0 || frame - f < v.stands);
    // The newest of them, as many as it may show.
    if (v.kind === 'at cues') return cues.filter((f) => f >= first && stands(f)).slice(-count);
    const all =
      v.kind === 'trailing'
        ? Array.from({ length: count }, (_, k) => frame - every * (count - k)).filter((f) => f >= first)
        : Array.from({ length: count }, (_, k) => first + every * k).filter(stands);
    return all;
  },
  render(draw, v, { plates, mattes, mount }) {
    const { pictures, width, height, frame, frameInRow } = draw,
      first = frame - frameInRow,
      times = afterImages.times!(v, frame, first, draw.cues),
      same = v.kind === 'same pose',
      standing = v.kind === 'left standing' || v.kind === 'at cues',
      n = same ? Math.round(v.count) : times.length;
    if (!n || !plates.length || !mattes.length) return {};
    const layer = pictures.takePicture(width, height),
      solid = v.paint === 'paint',
      pivot = mount.toPicture([0, 0]),
      [xByU, yByU, xByV, yByV] = mount.slopesAt([0, 0]),
      // The shift is one of the body: it turns and grows with it.
      moves = { ...v, shift: [xByU * v.shift[0] + xByV * v.shift[1], yByU * v.shift[0] + yByV * v.shift[1]] as const };
    pictures.run('clear', height, layer.address!, width * 4);
    for (let k = 0; k < n; k++) {
      // How many images it is away from now: the newest is 1.
      const steps = same ? n - k : v.kind === 'trailing' ? Math.round((frame - times[k]!) / Math.max(1, Math.round(v.every))) : n - k,
        t = Math.round(v.count) > 1 ? clamp((steps - 1) / (Math.round(v.count) - 1), 0, 1) : 0,
        stood = standing && v.stands > 0 ? clamp(1 - (frame - times[k]!) / v.stands, 0, 1) : 1,
        alpha = v.strength * stood * (v.fade > 0 ? pow(1 - 0.92 * t, v.fade) : 1);
      if (alpha <= 0.001) continue;
      const colour = v.near.map((c, j) => c + (v.far[j]! - c) * t),
        plate = plates[same ? 0 : k]!,
        matte = mattes[same ? 0 : k]!;
      const box = boxOf(matte, Math.ceil(v.soft * 2) + 2, pictures);
      if (!box) continue;
      let image = cutOut(plate, matte, box, v.tint, colour, v.gain, solid, pictures),
        where: Box = box;
      const moved = standing ? n - 1 - k : steps;
      if (moved && (v.shift[0] || v.shift[1] || v.grow !== 1 || v.roll || v.yaw || v.pitch)) {
        const turned = turnedImage(image, box, turnOf(moves, moved, pivot, 2.5 * height), Math.ceil(v.soft * t * 2) + 2, draw);
        pictures.give(image);
        if (!turned) continue;
        ({ image, where } = turned);
      }
      if (v.soft * t > 0.3) {
        const soft = blur(image, (v.soft * t) / 2, pictures);
        pictures.give(image);
        image = soft;
      }
      layImage(layer, image, where, alpha, solid, pictures);
      pictures.give(image);
    }
    return { layer };
  },
  handles: [{ shape: 'point', moves: 'shift' }],
  checks: [
    {
      id: 'no-cues',
      find: ({ name, values, cues }) =>
        values.kind !== 'at cues' || cues > 0
          ? null
          : { text: `${name} stamps at cues, and none lies within it.`, fix: 'Add cues on the strip, on the frames that are to stay.' },
    },
    {
      id: 'no-matte',
      find: ({ matte, name }) =>
        matte ? null : { text: `${name} has no matte of the subject to stamp.`, fix: 'Make a matte on Mattes and give it to the subject.' },
    },
  ],
});
