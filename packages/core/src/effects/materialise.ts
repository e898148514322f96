import { blur, halfSigma, meanHalf, twiceSize } from '../image/blur';
import { smoothstep } from '../image/exactMath';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { emptyPlane } from '../image/planeMath';
import { arrivalOrder, EVERYWHERE } from '../matte/arrival';
import type { Region } from '../image/resize';
import { emptyRegion, placed, regionAround } from './region';
import { arrivalSettings } from './arrivalSettings';
import { arrivalOf, arrivingCurves, frontOf, passedBy, withoutPattern } from './arriving';
import { boxOf, reachBeyond } from './body';
import { flyIn } from './motes';
import { param, type Values } from '../params/describe';
import { effect, type Canvas } from './describe';
import { recipes } from './recipes/materialise';
import { awayFor, thrownParams } from './surroundings';

const params = {
  ...arrivalSettings(
    { shape: 'direction', from: [0, 200], direction: -90, extent: 430, ragged: 34, raggedSize: 40 },
    {
      progress: 'Share of the body that has appeared: 0 % nothing, 100 % all of it.',
      from: 'Where the body begins to appear, px from the mount.',
      direction: 'Direction in which the body appears',
    },
  ),
  zone: param.share({
    default: 24,
    title: 'Transition width',
    range: [2, 100],
    help: 'Width over which light turns into the body, % of the extent.',
    group: 'Body',
  }),
  light: param.share({
    default: 65,
    title: 'Soft light',
    range: [0, 600],
    help: 'Strength of the light that appears before the body.',
    group: 'Body',
  }),
  bodyLight: param.share({
    default: 80,
    title: 'Body in the light',
    help: 'Strength with which the body shows in the light: 0 % is an even light, 100 % follows its bright and dark parts.',
    group: 'Body',
    rare: true,
  }),
  lightColour: param.colour({ default: '#ffd79a', title: 'Light colour', group: 'Body' }),
  blurred: param.length({
    default: 10,
    title: 'Blurred body',
    range: [0, 200],
    help: 'Blur of the body before it is sharp: radius in px, 2 × standard deviation.',
    group: 'Body',
  }),
  motes: param.number({
    default: 20,
    title: 'Motes',
    unit: '/100 px²',
    range: [0, 60],
    step: 0.5,
    help: 'Motes for each 100 square pixels of the body.',
    group: 'Motes',
    curve: false,
  }),
  orbit: param.length({
    default: 150,
    title: 'Start distance',
    range: [0, 2000],
    help: 'Distance from which the motes come, px.',
    group: 'Motes',
  }),
  turns: param.number({
    default: 0.6,
    title: 'Spiral',
    unit: 'rev',
    range: [-6, 6],
    step: 0.05,
    help: 'Revolutions around the subject on the way in.',
    group: 'Motes',
  }),
  rings: param.share({
    default: 40,
    title: 'Rings',
    help: 'Share of the motes that circle the part of the body (arm, leg, trunk) at their height before they join it, %.',
    group: 'Motes',
    curve: false,
  }),
  lead: param.share({
    default: 45,
    title: 'Lead',
    range: [2, 200],
    help: 'Distance ahead of the front at which motes start, % of the extent.',
    group: 'Motes',
    rare: true,
  }),
  size: param.length({ default: 2.6, title: 'Mote size', help: 'Diameter of a mote, px.', range: [0.2, 60], step: 0.1, group: 'Motes' }),
  bright: param.share({
    default: 28,
    title: 'Glowing motes',
    help: 'Share of the motes that are light, %; the others are opaque pieces.',
    group: 'Motes',
  }),
  own: param.share({
    default: 85,
    title: 'Body colours',
    help: 'Blend of opaque motes from the mote colour to the colour of the place they come to, %.',
    group: 'Motes',
  }),
  streak: param.share({
    default: 3,
    title: 'Streaks',
    range: [0, 60],
    help: 'Length of the streak behind a mote, % of its way.',
    group: 'Motes',
  }),
  places: param.choice({
    default: 'with the mount',
    of: ['with the mount', 'not at all'],
    title: 'Places move',
    help: 'The places that motes come to move with the mount, or stand still in the picture.',
    curve: false,
    group: 'Motes',
    rare: true,
  }),
  moteColour: param.colour({ default: '#ffe9c4', title: 'Mote colour', group: 'Motes' }),
  moteStrength: param.share({ default: 130, title: 'Mote strength', range: [0, 1000], group: 'Motes' }),
  seed: param.seed({ default: 5, title: 'Seed', group: 'Motes' }),
  ...thrownParams({ onSubject: 0, onGround: 0, inAir: 0 }),
};
type V = Values<typeof params>;

/** The order up to which the body has begun to come: so far below 0 at the beginning and above 1 at the end that none and all of it is there. */
function begun(v: V, scale: number): number {
  const margin = 0.03 + (v.ragged * 0.9 + v.blurred + 8 * scale) / v.extent;
  return -margin + v.progress * (1 + 2 * margin + v.zone);
}

/** A body that gathers: motes fly in, then light, then a blurred body, then the body. */
export const materialise = effect({
  type: 'materialise',
  version: 2,
  // Its motes were light alone, of one colour, round, and came to places that stood in the picture; its light was even.
  upgrade: ({ values, curves }) => ({
    values: { ...values, bodyLight: 0, rings: 0, bright: 100, own: 0, streak: 0, places: 'not at all' },
    curves,
  }),
  title: 'Materialise',
  summary: 'The subject appears: motes fly in around it, then soft light, a blurred body and the sharp body follow.',
  recipes,
  shown: { frame: 1078 },
  lanes: ['on'],
  sharp: true,
  removes: true,
  throws: (v) => ({ ...v, surround: 0 }),
  facts: ['traces', 'strokes'],
  origin: 'corner',
  happens: true,
  suggest: (site) => ({
    values: {
      extent: Math.round(site.subjectPixels),
      from: site.hung ? [0, Math.round(site.subjectPixels * 0.75)] : [site.width / 2, site.height * 0.85],
      ...awayFor(site.subjectPixels, 0.05),
    },
    curves: arrivingCurves(site),
  }),
  params,
  inputs: {
    matte: { kind: 'matte', title: 'Subject' },
    plate: { kind: 'plate', title: 'Performance' },
    mount: { kind: 'mount', optional: true, title: 'Mount' },
    pattern: { kind: 'pattern', optional: true, title: 'Order' },
  },
  without: (v) => withoutPattern(v, ['pattern']),
  idle: (v) => v.progress >= 1,
  render(draw, v, { matte, plate, mount, pattern }) {
    const { pictures, width, height, scale } = draw,
      standing = mount.resized(1 / scale),
      arrival = arrivalOf(v, scale, draw.strokes, (progress) => begun({ ...v, progress }, scale)),
      reached = begun(v, scale),
      by = { matte, scale, pattern },
      removal = emptyPlane(width, height, pictures),
      { cover } = reachBeyond(matte, scale, draw),
      box = boxOf(cover, Math.ceil(v.blurred * 1.5) + 2, pictures) ?? [0, 0, 0, 0],
      within = { x: box[0] & ~3, y: box[1], width: box[2] - (box[0] & ~3), height: box[3] - box[1] },
      // Beyond both ends of the zone only the side counts.
      span = [reached - v.zone - 0.05, reached + 0.05] as const,
      order = arrivalOrder(arrival, standing, scale, span, width, height, pictures, cover, by, within),
      blurred = v.blurred > 0 ? blurredBody(plate, matte, v.blurred / 2, draw) : null,
      motes =
        v.motes > 0 && v.moteStrength > 0
          ? flyIn({ ...v, carried: v.places === 'with the mount' }, arrival, by, plate, standing, reached, draw)
          : null,
      // The body comes among the motes that are before it.
      coming = motes?.front ?? emptyRegion(draw, pictures),
      glows = regionAround(box, 9 * scale, width, height),
      light = emptyRegion(glows, pictures);
    const params = pictures.takePlane(36, 1),
      around = blurred?.region ?? { x: 0, y: 0, width: 0, height: 0 };
    new Float64Array(params.data.buffer, params.data.byteOffset, 18).set([
      ...[reached, v.zone, v.light, ...v.lightColour, box[0], box[2], box[1]],
      ...[around.x, around.y, around.width, around.height, glows.x, glows.y, glows.width],
      ...[v.bodyLight, v.bodyLight > 0 ? meanLight(plate, matte, box) : 1],
    ]);
    withAddresses(
      pictures,
      [order, cover, matte, plate, params, removal, coming, light, ...(blurred ? [blurred.picture] : [])],
      (o, c, m, from, given, gone, body, lit, soft) =>
        pictures.run('gatherBody', box[3] - box[1], o!, c!, m!, from!, soft ?? 0, given!, gone!, body!, lit!, width),
    );
    pictures.give(params);
    for (const working of [order, cover, ...(blurred ? [blurred.picture] : [])]) pictures.give(working);
    // Soft light is soft: half the size is enough.
    const half = meanHalf(light, pictures),
      spreading = blur(half, halfSigma(9 * scale), pictures),
      spread = placed(spreading, glows.x >> 1, glows.y >> 1, (width + 1) >> 1, (height + 1) >> 1, pictures);
    for (const working of [light, half, spreading]) pictures.give(working);
    // The light and shadow of the subject come with it.
    const fading = draw.traces ? pictures.takePlane(width, height) : undefined;
    if (fading) fading.data.fill(1 - smoothstep(0.2, 0.95, v.progress));
    return { removal, fading, front: coming, light: spread, behind: motes?.behind };
  },
  front(v) {
    return v.progress <= 0 || v.progress >= 1 ? null : frontOf(v, begun(v, 1) * v.extent);
  },
  arrives: {
    reads: ['matte', 'mount', 'pattern'],
    order: ({ pictures, width, height, scale, strokes }, v, { matte, mount, pattern }) =>
      arrivalOrder(
        arrivalOf(v, scale, strokes, (progress) => begun({ ...v, progress }, scale)),
        mount.resized(1 / scale),
        scale,
        EVERYWHERE,
        width,
        height,
        pictures,
        null,
        { matte, scale, pattern },
      ),
    reached: (v) => begun(v, 1),
  },
  passed: (draw, v, { mount }) =>
    passedBy(arrivalOf(v, draw.scale), v.progress <= 0 ? -1e6 : v.progress >= 1 ? 1e6 : begun(v, draw.scale), 1.5, mount, draw),
  handles: [
    { shape: 'point', moves: 'from' },
    { shape: 'arrow', turns: 'direction', stretches: 'extent', about: 'from' },
  ],
  checks: [
    {
      id: 'no-clean-plate',
      find: ({ clean, name }) =>
        clean
          ? null
          : {
              text: `${name} needs a clean plate to show where the subject has not appeared yet.`,
              fix: 'Build it from the performance, or bring one in on Plates and give it the role Clean plate.',
              mend: 'clean plate',
            },
    },
    {
      id: 'no-matte',
      find: ({ matte, name }) =>
        matte ? null : { text: `${name} has no matte of the subject.`, fix: 'Make a matte on Mattes and give it to the subject.' },
    },
  ],
});

/** The mean luminance of a body (linear, Rec. 709), of some of its pixels. */
function meanLight({ width, data: p }: Picture, { data: m }: Plane, [x0, y0, x1, y1]: readonly [number, number, number, number]): number {
  let [sum, n] = [0, 0];
  for (let y = y0; y < y1; y += 4)
    for (let x = x0; x < x1; x += 4) {
      const k = y * width + x,
        share = m[k]!;
      sum += share * (0.2126 * p[4 * k]! + 0.7152 * p[4 * k + 1]! + 0.0722 * p[4 * k + 2]!);
      n += share;
    }
  return n > 0 ? Math.max(1e-4, sum / n) : 1;
}

/** The subject alone, blurred: premultiplied. It is soft, so half the size is enough to make it. */
function blurredBody(plate: Picture, matte: Plane, sigma: number, { pictures }: Canvas): { picture: Picture; region: Region } {
  const box = boxOf(matte, 1, pictures) ?? [0, 0, 0, 0],
    region = regionAround(box, sigma, plate.width, plate.height),
    alone = emptyRegion(region, pictures);
  withAddresses(pictures, [plate, matte, alone], (from, m, to) =>
    pictures.run('cutFigure', box[3] - box[1], from!, m!, plate.width, box[0], box[2], box[1], to!, region.x, region.y, region.width),
  );
  const half = meanHalf(alone, pictures);
  pictures.give(alone);
  const soft = blur(half, halfSigma(sigma), pictures),
    picture = twiceSize(soft, region.width, region.height, pictures);
  pictures.give(half);
  pictures.give(soft);
  return { picture, region };
}
