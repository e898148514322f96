import { blurSum, halfSigma } from '../image/blur';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { arrivalOrder, arrivalParams, EVERYWHERE, type Arrival } from '../matte/arrival';
import { bornAt, CELL, drawFlakes, moveOn, noFlakes, unpackFlakes, type AirOptions, type FlakeLook, type Flakes } from '../particles';
import type { Frame } from '../motion/frame';
import type { Values } from '../params/describe';
import { effect, type Canvas, type Draw, type FrontStroke } from './describe';
import { arrivalOf, arrivingCurves, frontOf, passedBy, withoutPattern } from './arriving';
import { reachBeyond } from './body';
import { clothEdges } from './clothEdges';
import { eatAlongFolds, giveWay } from './dissolveFront';
import { dissolveParams } from './dissolveParams';
import { BAND, feetOf, layGroundShadow } from './groundShadow';
import { recipes } from './recipes/dissolve';
import { awayFor } from './surroundings';

type V = Values<typeof dissolveParams>;
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
  'onset',
  'eddy',
  'settle',
  'cling',
  'births',
  'keeps',
  'follow',
  'lands',
  'ground',
  'seed',
] as const;
type Past = Pick<V, (typeof past)[number]>;

/** Progress 0..1 to the order that is reached: a little beyond both ends, so that 0 shows nothing and 1 leaves nothing of the rim. */
function reachedBy(progress: number, arrival: Arrival, rim: number, follow: number): number {
  const margin = (arrival.ragged * (0.9 + follow) + rim * 2 + 4) / arrival.reach;
  return -margin + progress * (1 + 2 * margin);
}

/** Its arrival, in whole-shot pixels, with the strokes at the order that their progress reaches. */
function arriving(
  v: Parameters<typeof arrivalOf>[0] & { follow: number },
  scale: number,
  rim: number,
  strokes: readonly FrontStroke[],
): Arrival {
  const plain = arrivalOf(v, scale);
  return arrivalOf(v, scale, strokes, (progress) => reachedBy(progress, plain, rim, v.follow));
}

/**
 * A body that comes apart into flakes. One field, the order in which its points are reached, drives all of it: what vanishes to
 * the clean plate, where the rim glows, where flakes are born, and how far the traces have faded.
 */
export const dissolve = effect({
  type: 'dissolve',
  version: 4,
  upgrade: ({ values, curves }, old) => ({
    values: {
      ...values,
      // It had flakes alone, born on the frame, all as near as the body.
      ...(old < 2 ? { dust: 0, shards: 0, chunks: 0, sparks: 0, depth: 0, shutter: 0, shading: 0, births: 'on the frame', keeps: 0 } : {}),
      // It knew no ground, and its front nothing of the picture.
      ...(old < 3 ? { follow: 0, fallen: 0 } : {}),
      // The air had all of a flake at once.
      onset: 0,
    },
    curves,
  }),
  title: 'Dissolve',
  summary: 'The subject comes apart into flakes of its own colours, and the clean plate shows behind it.',
  recipes,
  shown: { frame: 1086 },
  lanes: ['on'],
  sharp: true,
  removes: true,
  throws: (v) => ({ ...v, surround: 0 }),
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
      ...awayFor(site.subjectPixels, 0.05),
    },
    curves: arrivingCurves(site),
  }),
  params: dissolveParams,
  inputs: {
    matte: { kind: 'matte', title: 'Subject' },
    plate: { kind: 'plate', optional: true, title: 'Performance' },
    mount: { kind: 'mount', optional: true, title: 'Mount' },
    before: { kind: 'mount', optional: true, at: 'before', title: 'Mount a frame earlier' },
    smallPlate: { kind: 'plate', size: 'quarter', title: 'Performance, quarter size' },
    smallMatte: { kind: 'matte', size: 'quarter', title: 'Subject, quarter size' },
    pattern: { kind: 'pattern', optional: true, title: 'Order' },
    smallPattern: { kind: 'pattern', size: 'quarter', optional: true, title: 'Order, quarter size' },
  },
  without: (v) => [...withoutPattern(v, ['pattern', 'smallPattern']), ...(v.follow > 0 || v.gives !== 'burns' ? [] : (['plate'] as const))],
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
      v.progress <= before.progress
        ? // Where the feet are.
          v.lands !== 'flies on' && !v.ground
          ? (['smallMatte'] as const)
          : []
        : [
            ...(['smallPlate', 'smallMatte', 'mount'] as const),
            ...(v.births === 'between frames' ? (['before'] as const) : []),
            ...(v.shape === 'a matte' ? (['smallPattern'] as const) : []),
          ],
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
        onset: v.onset,
        churn: 0.6,
        cling: v.cling,
        ground: v.lands === 'flies on' ? null : groundOf(v, v.ground || feetOf(read.smallMatte, 1 / CELL, draw), draw.subjectPixels),
      };
      return moveOn(state, air, draw.pictures, v.progress > before.progress ? newborn(v, before, read, draw) : null);
    },
  },
  render(draw, v, { matte, plate, mount, pattern }, state) {
    const { pictures, width, height, scale } = draw,
      body = mount.resized(1 / scale),
      arrival = arriving(v, scale, v.rim / scale, draw.strokes),
      p = v.progress <= 0 ? -1e6 : reachedBy(v.progress, arrival, v.rim / scale, v.follow),
      { reach } = arrival,
      edge = 1.1 / scale / reach,
      rim = Math.max(0.5 / scale, v.rim / scale) / reach;
    const { cover, within, body: standing } = reachBeyond(matte, scale, draw),
      zone = v.gives === 'burns' ? 0 : v.givesWidth / scale / reach,
      follows = (v.follow * arrival.ragged) / reach,
      span = [p - edge - zone / 2 - follows, p + Math.max(8 * rim + edge, zone) + follows] as const,
      order = arrivalOrder(
        arrival,
        body,
        scale,
        span,
        width,
        height,
        pictures,
        cover,
        { matte, scale, pattern },
        zone > 0 ? undefined : within,
      ),
      removal = pictures.takePlane(width, height),
      skin = pictures.takePicture(width, height),
      params = pictures.takePlane(16, 1);
    if (plate && follows > 0 && v.progress > 0) eatAlongFolds(order, within, standing, matte, plate, follows, draw);
    params.data.set([p, edge, rim, v.rimStrength, ...v.rimColour, v.char, 1 / scale, v.seed]);
    withAddresses(pictures, [order, cover, matte, params, removal, skin], (o, c, m, given, gone, to) =>
      pictures.run(
        'burnFront',
        height,
        o!,
        c!,
        m!,
        given!,
        gone!,
        to!,
        width,
        ...([within.x, within.x + within.width, within.y, within.y + within.height] as const),
      ),
    );
    if (plate && zone > 0 && v.progress > 0) giveWay(v, { order, matte, plate, removal, skin, reached: p, zone, edge }, draw);
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
    const flakes = unpackFlakes(state),
      { front, behind } = drawFlakes(flakes, look, width, height, pictures, skin),
      ground = v.fallen > 0 && flakes.count ? v.ground / scale || feetOf(matte, scale, draw) : null,
      fading = draw.traces ? fadingOf(v.progress, arrival, body, draw) : undefined;
    if (ground !== null)
      layGroundShadow(flakes, { ground, size: v.size / scale, share: v.fallen, seed: v.seed, tall: draw.subjectPixels }, behind, draw);
    return { removal, fading, front, behind, light: lightAround(front, draw) };
  },
  front(v) {
    if (v.progress <= 0 || v.progress >= 1) return null;
    const arrival = arrivalOf(v, 1);
    return frontOf(v, reachedBy(v.progress, arrival, v.rim, v.follow) * arrival.reach);
  },
  arrives: {
    reads: ['matte', 'mount', 'pattern'],
    order: ({ pictures, width, height, scale, strokes }, v, { matte, mount, pattern }) =>
      arrivalOrder(arriving(v, scale, v.rim / scale, strokes), mount.resized(1 / scale), scale, EVERYWHERE, width, height, pictures, null, {
        matte,
        scale,
        pattern,
      }),
    reached: (v) => reachedBy(v.progress, arrivalOf(v, 1), v.rim, v.follow),
  },
  passed: (draw, v, { mount }) =>
    passedBy(
      arrivalOf(v, draw.scale),
      v.progress <= 0 ? -1e6 : v.progress >= 1 ? 1e6 : reachedBy(v.progress, arrivalOf(v, draw.scale), v.rim / draw.scale, v.follow),
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
      before.progress <= 0 ? -1e6 : reachedBy(before.progress, arrivalOf(before, 1), before.rim, before.follow),
      reachedBy(v.progress, arrival, v.rim, v.follow),
    ],
    // A cell can only be crossed where the front comes nearer than the steepest slope of the noise.
    follows = (v.follow * arrival.ragged) / arrival.reach,
    margin = (6 * CELL + 1.5 * arrival.ragged) / arrival.reach + 2 * follows,
    span = [reached[0] - margin, reached[1] + margin] as const,
    order = arrivalOrder(arrival, mount, 1 / CELL, span, smallMatte.width, smallMatte.height, pictures, smallMatte, {
      matte: smallMatte,
      scale: 1 / CELL,
      pattern: read.smallPattern,
    });
  if (follows > 0) {
    const edges = clothEdges(smallPlate, smallMatte, pictures);
    for (let k = 0; k < order.data.length; k++) order.data[k]! += follows * edges.data[k]!;
    pictures.give(edges);
  }
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

/** Where flakes come to lie. */
const groundOf = (v: Pick<Past, 'lands'>, y: number | null, tall: number): AirOptions['ground'] =>
  y === null ? null : { y, band: BAND * tall, stays: v.lands === 'stays' };

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
