import { blur, halfSize } from '../image/blur';
import { atan2 } from '../image/exactMath';
import { withAddresses } from '../image/kernelCall';
import { noise2 } from '../image/noise';
import { partOf } from '../image/resize';
import { boxOf, fallOff } from './body';
import { pull } from './pulled';
import { giveField, offSkin, skinField } from './skinField';
import { inverseSlopes, spanAt, type Frame } from '../motion/frame';
import { param, type Values } from '../params/describe';
import { effect, type Draw } from './describe';
import { matteHoles, withoutHoles } from './holes';
import { recipes } from './recipes/aura';
import { awayFor, surroundParam, throwsNothing, thrownParams } from './surroundings';

const params = {
  edge: param.choice({ default: 'flames', of: ['flames', 'teeth', 'veil'], title: 'Edge' }),
  pulled: param.choice({
    default: 'along its normals',
    of: ['up', 'outwards', 'along its normals'],
    title: 'Pull',
    help: 'Direction in which the silhouette is drawn out: up, to all four sides, or straight off its outline everywhere.',
  }),
  trail: param.number({
    default: 3,
    title: 'Trail',
    unit: 'frames',
    range: [0, 24],
    step: 0.5,
    help: 'Tips stay behind the moving mount by its way in so many frames.',
    when: { param: 'pulled', is: ['along its normals'] },
  }),
  stretch: param.length({ default: 70, title: 'Stretch', range: [2, 1200], help: 'Distance by which the silhouette is drawn out, px.' }),
  wanders: param.share({ default: 35, title: 'Stretch variation', help: 'Change of the stretch over time, % of it.' }),
  raggedSize: param.length({ default: 26, title: 'Tongue size', help: 'Width of the tongues, px.', range: [2, 400] }),
  ragged: param.share({ default: 75, title: 'Raggedness', help: 'Depth of the gaps between the tongues.' }),
  sway: param.share({ default: 45, title: 'Sway', range: [0, 200], help: 'Sideways lean of the tongues as they rise.' }),
  rise: param.number({
    default: 1.5,
    title: 'Rise speed',
    help: 'Speed at which the tongues rise.',
    unit: 'm/s',
    range: [-20, 20],
    step: 0.1,
  }),
  copies: param.number({
    default: 2,
    title: 'Copies',
    unit: 'copies',
    range: [1, 5],
    step: 1,
    curve: false,
    help: 'Number of copies, each with a phase of its own.',
    group: 'Colour',
  }),
  near: param.colour({ default: '#bfe8ff', title: 'Colour at the body', group: 'Colour' }),
  far: param.colour({ default: '#2f6dff', title: 'Colour at the tips', group: 'Colour' }),
  second: param.colour({ default: '#8a5cff', title: 'Second tint', help: 'Colour at the tips of every other copy.', group: 'Colour' }),
  strength: param.share({ default: 85, title: 'Strength', range: [0, 600], group: 'Colour' }),
  inside: param.share({ default: 10, title: 'Over the body', help: 'Share of the light that lies on the body itself.', group: 'Colour' }),
  soft: param.length({
    default: 3,
    title: 'Softness',
    help: 'Blur of the light: radius in px, 4 × standard deviation.',
    range: [0, 100],
    step: 0.5,
    group: 'Colour',
    rare: true,
  }),
  ring: param.length({
    default: 0,
    title: 'Ring radius',
    range: [0, 2000],
    help: 'Radius of a ring of light on the ground, px; 0 = none.',
    group: 'Ground',
  }),
  ringAt: param.point({ default: [0, 200], title: 'Ring place', help: 'Centre of the ring, px from the mount.', group: 'Ground' }),
  ringFlat: param.share({
    default: 78,
    title: 'Ring tilt',
    help: '0 % is seen from above, 100 % from the side.',
    group: 'Ground',
    rare: true,
  }),
  holes: matteHoles,
  seed: param.seed({ default: 6, title: 'Seed', rare: true }),
  ...surroundParam(50),
  ...thrownParams({ onSubject: 80, onGround: 80, inAir: 0 }),
};
type V = Values<typeof params>;

/** The silhouette's own light, pulled up or out in tongues. */
export const aura = effect({
  type: 'aura',
  version: 3,
  // Up to 1 holes of the matte were edges as others are; up to 2 it lit nothing.
  upgrade: ({ values, curves }, version) => ({
    values: { ...values, ...(version < 2 ? { holes: 'open' } : {}), ...throwsNothing, surround: 0 },
    curves,
  }),
  title: 'Aura',
  summary: 'The silhouette as light, pulled up or outwards in flames, teeth or a veil, in several tinted copies.',
  recipes,
  lanes: ['behind', 'front', 'on'],
  light: true,
  throws: (v) => v,
  facts: ['frame', 'framesPerSecond', 'subjectPixels', 'subjectMetres'],
  origin: 'middle',
  suggest: ({ subjectPixels }) => ({
    values: {
      stretch: Math.round(subjectPixels * 0.17),
      raggedSize: Math.max(4, Math.round(subjectPixels * 0.06)),
      ...awayFor(subjectPixels, 0.03),
    },
  }),
  params,
  inputs: {
    matte: { kind: 'matte', title: 'Subject' },
    mount: { kind: 'mount', optional: true, title: 'Mount' },
    before: { kind: 'mount', at: 'before', optional: true, title: 'Mount a frame earlier' },
  },
  without: (v) => (v.pulled === 'along its normals' && v.trail > 0 ? [] : ['before']),
  idle: (v) => v.strength <= 0,
  render(draw, v, { matte, mount, before }) {
    const { pictures, subjectPixels, subjectMetres, framesPerSecond, frame } = draw,
      open = halfSize(matte, pictures),
      half = v.holes === 'closed' ? withoutHoles(open, (subjectPixels * draw.scale) / 2, pictures) : open,
      grown = mount.scaleAt([0, 0]),
      scale = draw.scale / 2,
      { width, height } = half,
      light = pictures.takePicture(width, height),
      box = boxOf(half, Math.ceil(v.stretch * grown * scale * 3) + 2, pictures);
    light.data.fill(0);
    if (box) {
      const [x0, y0, x1, y1] = box,
        region = { x: x0, y: y0, width: x1 - x0, height: y1 - y0 },
        // Lengths of the values are the picture's own pixels; noise is set in those of the whole shot, so that a draft has the same tongues.
        whole = { ...v, stretch: (v.stretch * grown) / draw.scale, raggedSize: (v.raggedSize * grown) / draw.scale },
        skin = v.pulled === 'along its normals' ? skinField(half, box, pictures) : null,
        seen = skin ? skin.light : pictures.takePlane(region.width, region.height),
        body = skin ? skin.body : partOf(half, region, pictures),
        [x, y] = mount.toPicture([0, 0]),
        [bx, by] = before.toPicture([0, 0]),
        moves = before.hung && !before.lost && !mount.lost,
        // Of the plane, which is half the size.
        motion = moves ? ([(x - bx) / 2, (y - by) / 2] as const) : ([0, 0] as const),
        time = frame / framesPerSecond,
        metre = subjectPixels / subjectMetres,
        params = pictures.takePlane(8, 1);
      for (let copy = 0; copy < Math.round(v.copies); copy++) {
        const at = { scale, time, copy, metre };
        if (skin) offSkin(skin, whole, { ...at, motion }, pictures);
        else pull(body, box, whole, v.pulled === 'up', at, seen, pictures);
        params.data.set([v.strength / Math.sqrt(Math.round(v.copies)), v.inside, ...(copy % 2 ? v.second : v.far), ...v.near]);
        withAddresses(pictures, [seen, body, params, light], (from, m, given, to) =>
          pictures.run('layFlames', region.height, from!, m!, given!, to!, region.width, x0, y0, width),
        );
      }
      pictures.give(params);
      if (!skin) for (const plane of [seen, body]) pictures.give(plane);
      if (skin) giveField(skin, pictures);
    }
    if (v.ring > 0) ringOfLight(light.data, width, height, v, mount, draw);
    pictures.give(half);
    if (open !== half) pictures.give(open);
    if (v.soft <= 0) return { light };
    const soft = blur(light, v.soft / 4, pictures);
    pictures.give(light);
    return { light: soft };
  },
  handles: [
    { shape: 'point', moves: 'ringAt' },
    { shape: 'radius', sets: 'ring', about: 'ringAt' },
  ],
  checks: [
    {
      id: 'no-matte',
      find: ({ matte, name }) =>
        matte
          ? null
          : {
              text: `${name} has no matte of the subject, so it has no silhouette.`,
              fix: 'Make a matte on Mattes and give it to the subject.',
            },
    },
  ],
});

/** A ring that lies on the ground, with short tongues; half size. */
function ringOfLight(
  out: Float32Array<ArrayBufferLike>,
  width: number,
  height: number,
  v: V,
  mount: Frame,
  draw: Draw<'frame' | 'framesPerSecond'>,
): void {
  const half = 0.5,
    [px, py] = mount.toPicture(v.ringAt),
    [uByX, vByX, uByY, vByY] = inverseSlopes(mount, v.ringAt),
    cx = px * half,
    cy = py * half,
    radius = v.ring * half,
    squash = Math.max(0.05, 1 - v.ringFlat),
    time = draw.frame / draw.framesPerSecond,
    tall = v.stretch * half * 0.5 * mount.scaleAt(v.ringAt),
    [wide, high] = spanAt(mount, v.ringAt, radius * 1.3, radius * squash * 1.3);
  for (let y = Math.max(0, Math.floor(cy - high - tall)); y < Math.min(height, cy + high); y++)
    for (let x = Math.max(0, Math.floor(cx - wide)); x < Math.min(width, cx + wide); x++) {
      const onX = x + 0.5 - cx,
        onY = y + 0.5 - cy,
        dx = onX * uByX + onY * uByY,
        dy = (onX * vByX + onY * vByY) / squash,
        d = Math.sqrt(dx * dx + dy * dy) / radius;
      if (d > 1.3 && dy > 0) continue;
      const angle = atan2(dy, dx),
        n = noise2(angle * 3 + 20, time * 2, v.seed + 40) * 0.6 + noise2(angle * 9 + 60, time * 4, v.seed + 41) * 0.4,
        line = (d - 1) / (0.035 + 0.06 * n),
        veil = (d - 1) / 0.2,
        a = v.strength * (0.9 * fallOff(line * line) * (0.35 + n) + 0.22 * fallOff(veil * veil)),
        i = (y * width + x) * 4,
        heat = fallOff(line * line);
      for (let c = 0; c < 3; c++) out[i + c]! += a * (v.far[c]! + (v.near[c]! - v.far[c]!) * heat);
    }
}
