import { blurSum, halfSigma } from '../image/blur';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { arrivalOrder, arrivalParams, EVERYWHERE, spreads, type Arrival } from '../matte/arrival';
import { bornAt, CELL, drawFlakes, moveOn, noFlakes, unpackFlakes, type AirOptions, type FlakeLook, type Flakes } from '../particles';
import type { Frame } from '../motion/frame';
import { param, type Values } from '../params/describe';
import { effect, type Canvas, type Draw, type FrontStroke } from './describe';
import { arrivalOf, arrivingCurves, frontOf, passedBy, withoutPattern } from './arriving';
import { reachBeyond } from './body';
import { recipes } from './recipes/dissolve';

const params = {
  progress: param.share({
    default: 0,
    title: 'Progress',
    step: 0.5,
    help: 'Share of the body that the front has passed. Run it back and the body returns.',
    group: 'Arrival',
  }),
  shape: param.choice({
    default: 'radius',
    of: spreads,
    title: 'Spread',
    help: 'Outwards from a point, along a direction, from a point along the body (up the arms, not across gaps), by lines painted for frames, or where a matte is bright first.',
    group: 'Arrival',
  }),
  from: param.point({
    default: [0, 0],
    title: 'Start point',
    help: 'Where the front begins, px from the mount.',
    group: 'Arrival',
    when: { param: 'shape', is: ['radius', 'direction', 'along the body'] },
  }),
  direction: param.angle({
    default: 90,
    title: 'Front direction',
    help: 'Direction in which the front moves, degrees clockwise: 0 is right, 90 is down.',
    group: 'Arrival',
    when: { param: 'shape', is: ['direction'] },
    curve: false,
  }),
  extent: param.length({
    default: 420,
    title: 'Extent',
    range: [10, 4000],
    help: 'Distance that the front has gone at 100 %, px.',
    group: 'Arrival',
    curve: false,
  }),
  ragged: param.length({
    default: 26,
    title: 'Raggedness',
    help: 'Depth of the bites in the front, px.',
    range: [0, 300],
    group: 'Arrival',
    curve: false,
  }),
  raggedSize: param.length({
    default: 30,
    title: 'Bite size',
    help: 'Width of the bites, px.',
    range: [3, 400],
    group: 'Arrival',
    curve: false,
    rare: true,
  }),
  rim: param.length({ default: 6, title: 'Rim width', range: [0, 80], step: 0.5, help: 'Width of the glowing edge, px.', group: 'Rim' }),
  rimStrength: param.share({ default: 100, title: 'Rim strength', range: [0, 600], group: 'Rim' }),
  rimColour: param.colour({ default: '#ffb05a', title: 'Rim colour', group: 'Rim' }),
  char: param.share({ default: 60, title: 'Charring', help: 'Darkening of the skin ahead of the rim.', group: 'Rim', rare: true }),
  density: param.number({
    default: 22,
    title: 'Flakes',
    unit: '/100 px²',
    range: [0, 200],
    step: 0.5,
    help: 'Flakes for each 100 square pixels that vanish.',
    group: 'Flakes',
    curve: false,
  }),
  dust: param.share({ default: 34, title: 'Dust', help: 'Share of the flakes that are fine dust, %.', group: 'Kinds' }),
  shards: param.share({
    default: 24,
    title: 'Shards',
    help: 'Share of the flakes that are flat shards, %; they turn in depth, with a lit and a dark face.',
    group: 'Kinds',
  }),
  chunks: param.share({ default: 4, title: 'Chunks', help: 'Share of the flakes that are large and soft, %.', group: 'Kinds' }),
  sparks: param.share({ default: 2, title: 'Sparks', help: 'Share of the flakes that burn to their end, %.', group: 'Kinds' }),
  depth: param.share({
    default: 60,
    title: 'Depth',
    help: 'Strength by which some come nearer to the camera, %: larger, softer and fainter.',
    group: 'Kinds',
  }),
  shading: param.share({
    default: 45,
    title: 'Shading',
    help: 'Darkens flakes that lie under many others, %.',
    group: 'Kinds',
  }),
  shutter: param.angle({
    default: 180,
    title: 'Shutter angle',
    range: [0, 360],
    help: 'Streaks of dust and sparks: 360° is as long as their way in a frame.',
    group: 'Kinds',
    rare: true,
  }),
  life: param.number({
    default: 60,
    title: 'Life',
    help: 'Frames from birth to the end of a flake.',
    unit: 'frames',
    range: [2, 400],
    step: 1,
    group: 'Flakes',
    curve: false,
  }),
  lifeVariation: param.share({
    default: 45,
    title: 'Life variation',
    help: 'Random spread of the life, % of it.',
    group: 'Flakes',
    curve: false,
    rare: true,
  }),
  size: param.length({ default: 1.9, title: 'Size', help: 'Width of a flake, px.', range: [0.2, 60], step: 0.1, group: 'Flakes' }),
  sizeVariation: param.share({
    default: 85,
    title: 'Size variation',
    help: 'Random spread of the size, % of it.',
    group: 'Flakes',
    rare: true,
  }),
  paleness: param.share({
    default: 50,
    title: 'Paling',
    help: 'Blend of a flake from the colour of its pixel to the pale colour.',
    group: 'Flakes',
  }),
  pale: param.colour({ default: '#e9d3b2', title: 'Pale colour', group: 'Flakes' }),
  ember: param.share({ default: 60, title: 'Embers', range: [0, 400], help: 'Glow of young flakes.', group: 'Flakes' }),
  beat: param.number({
    default: 0.8,
    title: 'Wing beat',
    help: 'Speed of the flapping.',
    unit: 'rad/frame',
    range: [0, 3],
    step: 0.05,
    group: 'Flakes',
    rare: true,
  }),
  wind: param.number({ default: 3, title: 'Wind', help: 'Speed of the wind.', unit: 'm/s', range: [0, 30], step: 0.1, group: 'Air' }),
  windDirection: param.angle({
    default: -18,
    title: 'Wind direction',
    help: 'Direction to which the wind blows, degrees clockwise: 0 is right, 90 is down.',
    group: 'Air',
  }),
  turbulence: param.number({
    default: 0.85,
    title: 'Turbulence',
    help: 'Speed of the eddies.',
    unit: 'm/s',
    range: [0, 20],
    step: 0.05,
    group: 'Air',
  }),
  eddy: param.number({
    default: 0.42,
    title: 'Eddy size',
    help: 'Size of the largest eddies.',
    unit: 'm',
    range: [0.02, 10],
    step: 0.02,
    group: 'Air',
    rare: true,
    curve: false,
  }),
  settle: param.number({
    default: 0.35,
    title: 'Fall speed',
    unit: 'm/s',
    range: [0.02, 8],
    step: 0.05,
    help: 'Steady fall in still air: ash 0.3, paper 1 m/s.',
    group: 'Air',
    curve: false,
  }),
  cling: param.number({
    default: 6,
    title: 'Cling time',
    help: 'Frames that a flake stays on the body before it lets go.',
    unit: 'frames',
    range: [0, 60],
    step: 1,
    group: 'Air',
    rare: true,
    curve: false,
  }),
  births: param.choice({
    default: 'between frames',
    of: ['between frames', 'on the frame'],
    title: 'Births',
    help: 'Between frames a fast front or arm leaves an even trail; on the frame flakes begin in steps.',
    group: 'Flakes',
    rare: true,
  }),
  keeps: param.share({
    default: 50,
    title: 'Body speed kept',
    help: 'Share of the speed of the mount with which a flake leaves, %.',
    group: 'Air',
    when: { param: 'births', is: ['between frames'] },
    rare: true,
    curve: false,
  }),
  seed: param.seed({ default: 5, title: 'Seed', group: 'Flakes' }),
};
type V = Values<typeof params>;
/** What the flakes' past follows from. */
const past = [
  'progress',
  'shape',
  'from',
  'direction',
  'extent',
  'ragged',
  'raggedSize',
  'rim',
  'density',
  'life',
  'lifeVariation',
  'wind',
  'windDirection',
  'turbulence',
  'eddy',
  'settle',
  'cling',
  'births',
  'keeps',
  'seed',
] as const;
type Past = Pick<V, (typeof past)[number]>;

/** Progress 0..1 to the order that is reached: a little beyond both ends, so that 0 shows nothing and 1 leaves nothing of the rim. */
function reachedBy(progress: number, arrival: Arrival, rim: number): number {
  const margin = (arrival.ragged * 0.9 + rim * 2 + 4) / arrival.reach;
  return -margin + progress * (1 + 2 * margin);
}

/** Its arrival, in whole-shot pixels, with the strokes at the order that their progress reaches. */
function arriving(v: Parameters<typeof arrivalOf>[0], scale: number, rim: number, strokes: readonly FrontStroke[]): Arrival {
  const plain = arrivalOf(v, scale);
  return arrivalOf(v, scale, strokes, (progress) => reachedBy(progress, plain, rim));
}

/**
 * A body that comes apart into flakes. One field, the order in which its points are reached, drives all of it: what vanishes to
 * the clean plate, where the rim glows, where flakes are born, and how far the traces have faded.
 */
export const dissolve = effect({
  type: 'dissolve',
  version: 2,
  // It had flakes alone, born on the frame, all as near as the body.
  upgrade: ({ values, curves }) => ({
    values: { ...values, dust: 0, shards: 0, chunks: 0, sparks: 0, depth: 0, shutter: 0, shading: 0, births: 'on the frame', keeps: 0 },
    curves,
  }),
  title: 'Dissolve',
  summary: 'The subject comes apart into flakes of its own colours, and the clean plate shows behind it.',
  recipes,
  shown: { frame: 1086 },
  lanes: ['on'],
  removes: true,
  facts: ['frame', 'framesPerSecond', 'subjectPixels', 'subjectMetres', 'traces', 'strokes'],
  origin: 'corner',
  happens: true,
  suggest: (site) => ({
    values: {
      extent: Math.round(site.subjectPixels * 1.05),
      shape: 'radius',
      // A small figure sheds fine things.
      size: Math.max(0.5, Math.round(site.subjectPixels * 0.044) / 10),
      from: site.hung ? [0, 0] : [site.width / 2, site.height / 3],
    },
    curves: arrivingCurves(site),
  }),
  params,
  inputs: {
    matte: { kind: 'matte', title: 'Subject' },
    mount: { kind: 'mount', optional: true, title: 'Mount' },
    before: { kind: 'mount', optional: true, at: 'before', title: 'Mount a frame earlier' },
    smallPlate: { kind: 'plate', size: 'quarter', title: 'Performance, quarter size' },
    smallMatte: { kind: 'matte', size: 'quarter', title: 'Subject, quarter size' },
    pattern: { kind: 'pattern', optional: true, title: 'Order' },
    smallPattern: { kind: 'pattern', size: 'quarter', optional: true, title: 'Order, quarter size' },
  },
  without: (v) => withoutPattern(v, ['pattern', 'smallPattern']),
  // With no progress nothing is gone, but flakes may still fly: only the way up to the first progress is idle.
  idle(v, frameInRow, at) {
    if (v.progress > 0) return false;
    for (let f = 0; f < frameInRow; f++) if (at(f).progress > 0) return false;
    return true;
  },
  // All of the body at once, at the worst.
  alive: (v, { area }) => (v.density / 100) * area,
  history: {
    uses: past,
    reads: (v, before) =>
      v.progress > before.progress
        ? [
            ...(['smallPlate', 'smallMatte', 'mount'] as const),
            ...(v.births === 'between frames' ? (['before'] as const) : []),
            ...(v.shape === 'a matte' ? (['smallPattern'] as const) : []),
          ]
        : [],
    before: { progress: 0 },
    start: noFlakes,
    // A plane counts for itself.
    bytes: () => 0,
    step(state, v, before, read, draw) {
      const air: AirOptions = {
        seed: v.seed,
        frame: draw.frame,
        pixelsPerMetre: draw.subjectPixels / draw.subjectMetres,
        framesPerSecond: draw.framesPerSecond,
        wind: v.wind,
        windDirection: v.windDirection,
        turbulence: v.turbulence,
        settle: v.settle,
        eddy: v.eddy,
        churn: 0.6,
        cling: v.cling,
      };
      return moveOn(state, air, draw.pictures, v.progress > before.progress ? newborn(v, before, read, draw) : null);
    },
  },
  render(draw, v, { matte, mount, pattern }, state) {
    const { pictures, width, height, scale } = draw,
      body = mount.resized(1 / scale),
      arrival = arriving(v, scale, v.rim / scale, draw.strokes),
      p = v.progress <= 0 ? -1e6 : reachedBy(v.progress, arrival, v.rim / scale),
      { reach } = arrival,
      edge = 1.1 / scale / reach,
      rim = Math.max(0.5 / scale, v.rim / scale) / reach;
    const cover = reachBeyond(matte, scale, draw),
      order = arrivalOrder(arrival, body, scale, [p - edge, p + 8 * rim + edge], width, height, pictures, cover, { matte, scale, pattern }),
      removal = pictures.takePlane(width, height),
      skin = pictures.takePicture(width, height),
      params = pictures.takePlane(16, 1);
    params.data.set([p, edge, rim, v.rimStrength, ...v.rimColour, v.char, 1 / scale, v.seed]);
    withAddresses(pictures, [order, cover, matte, params, removal, skin], (o, c, m, given, gone, to) =>
      pictures.run('burnFront', height, o!, c!, m!, given!, gone!, to!, width),
    );
    for (const working of [params, order, cover]) pictures.give(working);
    const look: FlakeLook = {
      seed: v.seed,
      scale,
      size: v.size / scale,
      sizeVariation: v.sizeVariation,
      paleness: v.paleness,
      pale: [v.pale[0] * 0.5, v.pale[1] * 0.5, v.pale[2] * 0.5],
      ember: v.ember * 0.9,
      emberColour: [v.rimColour[0] * 1.7, v.rimColour[1] * 1.2, v.rimColour[2] * 0.9],
      beat: v.beat,
      kinds: { dust: v.dust, shards: v.shards, chunks: v.chunks, sparks: v.sparks },
      depth: v.depth,
      shutter: v.shutter / 360,
      shading: { share: v.shading, reach: 0.04 * draw.subjectPixels },
    };
    const { front, behind } = drawFlakes(unpackFlakes(state), look, width, height, pictures, skin),
      fading = draw.traces ? fadingOf(v.progress, arrival, body, draw) : undefined;
    return { removal, fading, front, behind, light: lightAround(front, draw) };
  },
  front(v) {
    if (v.progress <= 0 || v.progress >= 1) return null;
    const arrival = arrivalOf(v, 1);
    return frontOf(v, reachedBy(v.progress, arrival, v.rim) * arrival.reach);
  },
  arrives: {
    reads: ['matte', 'mount', 'pattern'],
    order: ({ pictures, width, height, scale, strokes }, v, { matte, mount, pattern }) =>
      arrivalOrder(arriving(v, scale, v.rim / scale, strokes), mount.resized(1 / scale), scale, EVERYWHERE, width, height, pictures, null, {
        matte,
        scale,
        pattern,
      }),
    reached: (v) => reachedBy(v.progress, arrivalOf(v, 1), v.rim),
  },
  passed: (draw, v, { mount }) =>
    passedBy(
      arrivalOf(v, draw.scale),
      v.progress <= 0 ? -1e6 : v.progress >= 1 ? 1e6 : reachedBy(v.progress, arrivalOf(v, draw.scale), v.rim / draw.scale),
      1.5,
      mount,
      draw,
    ),
  checks: [
    {
      id: 'no-clean-plate',
      find: ({ clean, name }) =>
        clean
          ? null
          : {
              text: `${name} removes the subject, but there is no clean plate to show behind it.`,
              fix: 'Build it from the performance, or bring one in on Plates and give it the role Clean plate.',
              mend: 'clean plate',
            },
    },
    {
      id: 'no-matte',
      find: ({ matte, name }) =>
        matte
          ? null
          : {
              text: `${name} has no matte of the subject, so nothing can vanish.`,
              fix: 'Make a matte on Mattes and give it to the subject.',
            },
    },
  ],
  handles: [
    { shape: 'point', moves: 'from' },
    { shape: 'arrow', turns: 'direction', stretches: 'extent', about: 'from' },
  ],
});

/** What is born where the front has passed since the frame before. */
function newborn(
  v: Past,
  before: Past,
  read: { smallMatte: Plane; smallPlate: Picture; smallPattern: Plane | null; mount: Frame; before: Frame },
  draw: Draw<'frame' | 'subjectPixels' | 'strokes'>,
): Flakes {
  const { smallMatte, smallPlate, mount } = read,
    { pictures } = draw,
    arrival = arriving(v, 1, v.rim, draw.strokes),
    reached: [number, number] = [
      before.progress <= 0 ? -1e6 : reachedBy(before.progress, arrivalOf(before, 1), before.rim),
      reachedBy(v.progress, arrival, v.rim),
    ],
    // A cell can only be crossed where the front comes nearer than the steepest slope of the noise.
    margin = (6 * CELL + 1.5 * arrival.ragged) / arrival.reach,
    span = [reached[0] - margin, reached[1] + margin] as const,
    order = arrivalOrder(arrival, mount, 1 / CELL, span, smallMatte.width, smallMatte.height, pictures, smallMatte, {
      matte: smallMatte,
      scale: 1 / CELL,
      pattern: read.smallPattern,
    });
  const born = bornAt(smallMatte, order, smallPlate, {
    seed: v.seed,
    frame: draw.frame,
    density: v.density,
    reached,
    span,
    life: v.life,
    lifeVariation: v.lifeVariation,
    kick: 0.006 * draw.subjectPixels,
    between:
      v.births === 'between frames'
        ? {
            keeps: v.keeps,
            moved: (x, y) => {
              if (!mount.hung || !read.before.hung || mount.lost || read.before.lost) return [0, 0];
              const [bx, by] = read.before.toPicture(mount.toBody([x, y]));
              return [x - bx, y - by];
            },
          }
        : undefined,
  });
  pictures.give(order);
  return born;
}

/** How far the traces have faded at each pixel: those near the beginning first (a lantern's halo goes with the lantern), without ragged edges. */
function fadingOf(progress: number, arrival: Arrival, body: Frame, { pictures, width, height, scale }: Canvas): Plane {
  const out = pictures.takePlane(width, height),
    params = pictures.takePlane(16, 1);
  params.data.set(arrivalParams(arrival, body, scale));
  withAddresses(pictures, [params, out], (given, to) => pictures.run('fadingTraces', height, given!, progress, to!, width));
  pictures.give(params);
  return out;
}

/** The rim and hot flakes throw a little light around them. It is soft, so half the size is enough to make it. */
function lightAround(burning: Picture, { pictures, scale }: Canvas): Picture {
  const { width, height } = burning,
    half = pictures.takePicture((width + 1) >> 1, (height + 1) >> 1);
  withAddresses(pictures, [burning, half], (from, to) => pictures.run('glowingHalf', half.height, from!, to!, width, height));
  const soft = blurSum(
    half,
    [
      { sigma: halfSigma(7 * scale), weight: [0.35, 0.35, 0.35, 0] },
      { sigma: halfSigma(30 * scale), weight: [0.35, 0.35, 0.35, 0] },
    ],
    pictures,
  );
  pictures.give(half);
  return soft;
}
