import { exp, radians, clamp, smoothstep, sin, cos } from '../image/exactMath';
import { blur, halfSize, twiceSize } from '../image/blur';
import { noise2 } from '../image/noise';
import type { Picture, Plane } from '../image/picture';
import { MOST_EATEN, orderField, type Arrival } from '../matte/arrival';
import { growMatte } from '../matte/refine';
import { bornAt, drawFlakes, flakesBytes, joinFlakes, moveFlakes, newFlakes, type FlakeLook, type Flakes } from '../particles';
import type { Pose } from '../mounts/mount';
import { effect, param, type Draw, type Values } from './describe';

const params = {
  progress: param.share({
    default: 0,
    title: 'Progress',
    step: 0.5,
    help: 'How much of the arrival has been reached. Run it back and the body returns.',
    group: 'Arrival',
  }),
  shape: param.choice({
    default: 'radius',
    of: ['radius', 'direction'],
    title: 'Spreads',
    help: 'Outwards from a point, or along a direction.',
    group: 'Arrival',
  }),
  from: param.point({ default: [0, 0], title: 'From', help: 'Where it begins, from the mount.', group: 'Arrival' }),
  direction: param.angle({ default: 90, title: 'Direction', group: 'Arrival', when: { param: 'shape', is: ['direction'] }, curve: false }),
  extent: param.length({
    default: 420,
    title: 'Extent',
    range: [10, 4000],
    help: 'How far it has gone at 100 %.',
    group: 'Arrival',
    curve: false,
  }),
  ragged: param.length({ default: 26, title: 'Raggedness', range: [0, 300], group: 'Arrival', curve: false }),
  raggedSize: param.length({ default: 30, title: 'Ragged size', range: [3, 400], group: 'Arrival', curve: false, rare: true }),
  rim: param.length({ default: 6, title: 'Rim', range: [0, 80], step: 0.5, help: 'Width of the glowing edge.', group: 'Rim' }),
  rimStrength: param.share({ default: 100, title: 'Rim strength', range: [0, 600], group: 'Rim' }),
  rimColour: param.colour({ default: '#ffb05a', title: 'Rim colour', group: 'Rim' }),
  char: param.share({ default: 60, title: 'Charring', help: 'How much the skin darkens ahead of the rim.', group: 'Rim', rare: true }),
  density: param.number({
    default: 22,
    title: 'Flakes',
    unit: '/100 px²',
    range: [0, 200],
    step: 0.5,
    help: 'For each 100 square pixels that vanish.',
    group: 'Flakes',
    curve: false,
  }),
  life: param.number({ default: 60, title: 'Life', unit: 'frames', range: [2, 400], step: 1, group: 'Flakes', curve: false }),
  lifeVariation: param.share({ default: 45, title: 'Life varies', group: 'Flakes', curve: false, rare: true }),
  size: param.length({ default: 1.9, title: 'Size', range: [0.2, 60], step: 0.1, group: 'Flakes' }),
  sizeVariation: param.share({ default: 85, title: 'Size varies', group: 'Flakes', rare: true }),
  paleness: param.share({
    default: 78,
    title: 'Turns pale',
    help: 'How far a flake leaves the colour of the pixel it came from.',
    group: 'Flakes',
  }),
  pale: param.colour({ default: '#e9d3b2', title: 'Pale colour', group: 'Flakes' }),
  ember: param.share({ default: 60, title: 'Embers', range: [0, 400], help: 'How hot young flakes glow.', group: 'Flakes' }),
  beat: param.number({ default: 0.8, title: 'Wing beat', unit: 'rad/frame', range: [0, 3], step: 0.05, group: 'Flakes', rare: true }),
  wind: param.number({ default: 3, title: 'Wind', unit: 'm/s', range: [0, 30], step: 0.1, group: 'Air' }),
  windDirection: param.angle({ default: -18, title: 'Blows to', help: '0 is right, 90 is down.', group: 'Air' }),
  turbulence: param.number({ default: 0.85, title: 'Turbulence', unit: 'm/s', range: [0, 20], step: 0.05, group: 'Air' }),
  eddy: param.number({
    default: 0.42,
    title: 'Eddy size',
    unit: 'm',
    range: [0.02, 10],
    step: 0.02,
    group: 'Air',
    rare: true,
    curve: false,
  }),
  settle: param.number({
    default: 0.35,
    title: 'Settles at',
    unit: 'm/s',
    range: [0.02, 8],
    step: 0.05,
    help: 'Speed of fall in still air: paper 1, ash 0.3.',
    group: 'Air',
    curve: false,
  }),
  cling: param.number({ default: 6, title: 'Clings for', unit: 'frames', range: [0, 60], step: 1, group: 'Air', rare: true, curve: false }),
  seed: param.seed({ default: 5, title: 'Seed', group: 'Flakes' }),
};
type V = Values<typeof params>;

/** The arrival of these values, with lengths divided by `scale` so that it always speaks of whole-shot pixels. */
function arrivalOf(v: V, scale: number): Arrival {
  return {
    shape: v.shape,
    from: [v.from[0] / scale, v.from[1] / scale],
    direction: v.direction,
    reach: v.extent / scale,
    ragged: v.ragged / scale,
    raggedSize: v.raggedSize / scale,
    seed: v.seed,
  };
}
/** Order at whole-shot pixels for a body that stands at `pose`: it turns and grows with it. */
function orderOnBody(arrival: Arrival, pose: Pose | null): (x: number, y: number) => number {
  const order = orderField(arrival);
  if (!pose) return order;
  const a = radians(-pose.rotation),
    c = cos(a),
    s = sin(a),
    k = 1 / pose.scale;
  return (x, y) => {
    const u = (x - pose.x) * k,
      w = (y - pose.y) * k;
    return order(u * c - w * s, u * s + w * c);
  };
}
/** Progress 0..1 to the order that is reached: a little beyond both ends, so that 0 shows nothing and 1 leaves nothing of the rim. */
function reachedBy(progress: number, arrival: Arrival, rim: number): number {
  const margin = (arrival.ragged * 0.9 + rim * 2 + 4) / arrival.reach;
  return -margin + progress * (1 + 2 * margin);
}

/** How far past the matte's soft edge the removal reaches, so that no outline is left; whole-shot pixels. */
const BEYOND = 7;

/**
 * A body that comes apart into flakes. One field, the order in which its points are reached, drives all of it: what vanishes to
 * the clean plate, where the rim glows, where flakes are born, and how far the traces have faded.
 */
export const dissolve = effect({
  type: 'dissolve',
  version: 1,
  title: 'Dissolve',
  summary: 'The subject comes apart into flakes that take its colours; behind it stands the clean plate.',
  lanes: ['on'],
  removes: true,
  origin: 'corner',
  params,
  inputs: {
    plate: { kind: 'plate', title: 'Performance' },
    matte: { kind: 'matte', title: 'Subject' },
    mount: { kind: 'mount', optional: true, title: 'Mount' },
    smallPlate: { kind: 'plate', size: 'quarter', title: 'Performance, quarter size' },
    smallMatte: { kind: 'matte', size: 'quarter', title: 'Subject, quarter size' },
  },
  // With no progress nothing is gone, but flakes may still fly: only the way up to the first progress is idle.
  idle(v, frameInRow, at) {
    if (v.progress > 0) return false;
    for (let f = 0; f < frameInRow; f++) if (at(f).progress > 0) return false;
    return true;
  },
  reach: () => 'everywhere',
  history: {
    uses: [
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
      'seed',
    ],
    reads: (v, before) => (v.progress > before.progress ? ['smallPlate', 'smallMatte', 'mount'] : []),
    before: { progress: 0 },
    start: (): Flakes => newFlakes(0),
    bytes: flakesBytes,
    step(state, v, before, read, draw) {
      const metre = draw.subjectPixels / draw.subjectMetres,
        arrival = arrivalOf(v, 1);
      const moved = state.count
        ? moveFlakes(state, {
            seed: v.seed,
            frame: draw.frame,
            pixelsPerMetre: metre,
            framesPerSecond: draw.framesPerSecond,
            wind: v.wind,
            windDirection: v.windDirection,
            turbulence: v.turbulence,
            settle: v.settle,
            eddy: v.eddy,
            churn: 0.6,
            cling: v.cling,
          })
        : state;
      if (!(v.progress > before.progress)) return moved;
      const reached: [number, number] = [
        before.progress <= 0 ? -1e6 : reachedBy(before.progress, arrivalOf(before, 1), before.rim),
        reachedBy(v.progress, arrival, v.rim),
      ];
      const born = bornAt(read.smallMatte, read.smallPlate, {
        seed: v.seed,
        frame: draw.frame,
        density: v.density,
        reached,
        order: orderOnBody(arrival, read.mount),
        life: v.life,
        lifeVariation: v.lifeVariation,
        kick: 0.006 * draw.subjectPixels,
      });
      return born.count ? joinFlakes(moved, born) : moved;
    },
  },
  render(draw, v, { matte, mount }, state) {
    const { pictures, width, height, scale } = draw,
      arrival = arrivalOf(v, scale),
      order = orderOnBody(arrival, mount),
      p = v.progress <= 0 ? -1e6 : reachedBy(v.progress, arrival, v.rim / scale);
    const removal = pictures.takePlane(width, height),
      skin = pictures.takePicture(width, height),
      reach = arrival.reach,
      cover = reachBeyond(matte, scale, draw);
    const rim = Math.max(0.5 * (1 / scale), v.rim / scale),
      edge = 1.1 / scale / reach,
      hotWidth = rim / reach,
      plain = orderOnBody({ ...arrival, ragged: 0 }, mount),
      slack = (MOST_EATEN * arrival.ragged) / reach;
    skin.data.fill(0);
    for (let y = 0, q = 0; y < height; y++)
      for (let x = 0; x < width; x++, q++) {
        const m = matte.data[q]!,
          around = cover.data[q]!;
        if (around <= 0.001) {
          removal.data[q] = 0;
          continue;
        }
        const wx = (x + 0.5) / scale,
          wy = (y + 0.5) / scale,
          about = plain(wx, wy);
        // Where no noise can bring the front near, there is nothing to draw: the body is whole, or gone.
        if (about - slack - edge >= p && about - slack - p > 8 * hotWidth) {
          removal.data[q] = 0;
          continue;
        }
        if (about + slack + edge <= p) {
          removal.data[q] = around;
          continue;
        }
        const o = order(wx, wy),
          gone = smoothstep(o - edge, o + edge, p);
        removal.data[q] = gone * around;
        if (m <= 0.01 || gone >= 1) continue;
        const ahead = (o - p) / hotWidth; // in widths of the rim, ahead of the front
        if (ahead > 8) continue;
        const grit = noise2(wx / 3.1, wy / 3.1, v.seed + 31) * 0.65 + noise2(wx / 8, wy / 8, v.seed + 37) * 0.35;
        const burn = exp(-(ahead - 0.35) * (ahead - 0.35) * 1.6) * (0.1 + 1.5 * grit * grit) * v.rimStrength * m * (1 - gone),
          black = clamp(exp(-Math.max(0, ahead) / 2.6) * v.char * (0.55 + 0.6 * grit), 0, 1) * m * (1 - gone),
          i = q * 4;
        // Hotter towards the front: the core leans to white, the outside to the rim's own red.
        const heat = clamp(1.2 - Math.abs(ahead - 0.3), 0, 1);
        skin.data[i] = burn * v.rimColour[0] * 1.9;
        skin.data[i + 1] = burn * v.rimColour[1] * (1.1 + 0.9 * heat);
        skin.data[i + 2] = burn * v.rimColour[2] * (0.8 + 1.4 * heat * heat);
        skin.data[i + 3] = black;
      }
    pictures.give(cover);
    const front = pictures.takePicture(width, height),
      behind = pictures.takePicture(width, height);
    front.data.fill(0);
    behind.data.fill(0);
    const look: Omit<FlakeLook, 'side'> = {
      seed: v.seed,
      scale,
      size: v.size / scale,
      sizeVariation: v.sizeVariation,
      paleness: v.paleness,
      pale: [v.pale[0] * 0.5, v.pale[1] * 0.5, v.pale[2] * 0.5],
      ember: v.ember * 0.9,
      emberColour: [v.rimColour[0] * 1.7, v.rimColour[1] * 1.2, v.rimColour[2] * 0.9],
      beat: v.beat,
      lit: () => 1,
    };
    drawFlakes(state, { ...look, side: 'front' }, front);
    drawFlakes(state, { ...look, side: 'behind' }, behind);
    const light = lightAround(skin, front, draw);
    return { removal, fading: fadingOf(v, arrival, mount, draw), skin, front, behind, light };
  },
  front(v) {
    if (v.progress <= 0 || v.progress >= 1) return null;
    const arrival = arrivalOf(v, 1),
      way = reachedBy(v.progress, arrival, v.rim) * arrival.reach,
      a = radians(v.direction);
    if (v.shape === 'radius') return way > 0 ? { shape: 'circle', about: v.from, radius: way } : null;
    return { shape: 'line', about: [v.from[0] + cos(a) * way, v.from[1] + sin(a) * way], direction: v.direction };
  },
  checks: [
    {
      id: 'no-clean-plate',
      find: ({ clean, name }) =>
        clean
          ? null
          : {
              text: `${name} removes the subject, but there is no clean plate to show behind it.`,
              fix: 'Bring one in on Plates and give it the role Clean plate.',
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

/** How far the traces have faded at each pixel: those near the beginning first (a lantern's halo goes with the lantern), without ragged edges. */
function fadingOf(v: V, arrival: Arrival, pose: Pose | null, draw: Draw): Plane {
  const out = draw.pictures.takePlane(draw.width, draw.height),
    order = orderOnBody({ ...arrival, ragged: 0 }, pose),
    k = 1 / draw.scale;
  for (let y = 0, p = 0; y < draw.height; y++)
    for (let x = 0; x < draw.width; x++, p++)
      out.data[p] = smoothstep(0, 1, v.progress * 2.4 - clamp(order((x + 0.5) * k, (y + 0.5) * k), 0, 1) * 1.4);
  return out;
}

/** The rim and hot flakes throw a little light around them. It is soft, so half the size is enough to make it. */
function lightAround(skin: Picture, front: Picture, draw: Draw): Picture {
  const { pictures, scale } = draw,
    light = halfSize(skin, pictures),
    flakes = halfSize(front, pictures),
    l = light.data,
    f = flakes.data;
  for (let i = 0; i < l.length; i += 4) {
    const dark = 0.75 * f[i + 3]!;
    l[i]! += Math.max(0, f[i]! - dark);
    l[i + 1]! += Math.max(0, f[i + 1]! - dark);
    l[i + 2]! += Math.max(0, f[i + 2]! - dark);
    l[i + 3] = 0;
  }
  const soft = blur(light, 3.5 * scale, pictures),
    wide = blur(light, 15 * scale, pictures);
  for (let i = 0; i < l.length; i++) l[i] = 0.3 * soft.data[i]! + 0.35 * wide.data[i]!;
  const out = twiceSize(light, skin.width, skin.height, pictures);
  for (const raster of [light, flakes, soft, wide]) pictures.give(raster);
  return out;
}

/** The matte grown and softened past its edge: where the clean plate may show. */
function reachBeyond(matte: Plane, scale: number, draw: Draw): Plane {
  const { pictures } = draw,
    grown = pictures.takePlane(matte.width, matte.height);
  for (let p = 0; p < grown.data.length; p++) grown.data[p] = Math.min(1, matte.data[p]! * 4);
  growMatte(grown, BEYOND * scale, pictures);
  const soft = blur(grown, 1.6 * scale, pictures);
  pictures.give(grown);
  return soft;
}
