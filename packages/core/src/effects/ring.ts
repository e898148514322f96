import { atan2, clamp, exp, smoothstep } from '../image/exactMath';
import { noise2 } from '../image/noise';
import { param, type Values } from '../params/describe';
import { back, cornersOf } from '../image/homography';
import { boxAround, carriedMatrix, carrierOf, carryParams, outlineOf, placedMatrix, turnedOnly, type Sizes } from '../placing';
import { effect } from './describe';
import { recipes } from './recipes/ring';
import { surroundParam, throwsNothing, thrownParams } from './surroundings';

const params = {
  ...carryParams,
  place: param.point({
    default: [0, 0],
    title: 'Place',
    help: 'Centre of the ring, px from the mount, or from the middle of the picture.',
  }),
  radius: param.length({ default: 150, title: 'Radius', range: [2, 4000], help: 'Radius of the ring, px.' }),
  turn: param.angle({ default: 0, title: 'Turn', help: 'Turn within its own plane, degrees clockwise.' }),
  tilt: param.angle({
    default: 74,
    title: 'Tilt',
    help: 'Turn about the level: the upper side goes away from you. 0 faces you, 74 lies on the ground, 90 is seen edge-on.',
  }),
  swing: param.angle({ default: 0, title: 'Swing', help: 'Turn about the upright: the right side goes away from you.' }),
  spin: param.number({
    default: 20,
    title: 'Spin',
    unit: '°/s',
    range: [-720, 720],
    step: 1,
    curve: false,
    help: 'Degrees a second that its pattern goes round.',
  }),
  line: param.length({
    default: 5,
    title: 'Line width',
    range: [0.5, 400],
    step: 0.5,
    help: 'Full width of the bright line, px.',
    group: 'Look',
  }),
  halo: param.length({ default: 40, title: 'Halo', range: [0, 1000], help: 'Radius of the light around the line, px.', group: 'Look' }),
  strength: param.share({ default: 110, title: 'Strength', range: [0, 1000], group: 'Look' }),
  inner: param.share({ default: 12, title: 'Inside', help: 'Light within the ring, % of the strength.', group: 'Look' }),
  ragged: param.share({ default: 35, title: 'Raggedness', help: 'Uneven brightness and width around it, %.', group: 'Look' }),
  dashes: param.number({
    default: 0,
    title: 'Dashes',
    unit: 'pieces',
    range: [0, 180],
    step: 1,
    curve: false,
    help: 'Pieces that the line is cut into; 0 leaves it whole.',
    group: 'Look',
  }),
  drawnTo: param.share({
    default: 100,
    title: 'Drawn to',
    help: 'Share of the ring that is drawn, from its upper end clockwise, %.',
    group: 'Look',
  }),
  near: param.colour({ default: '#fff1d0', title: 'Line colour', group: 'Look' }),
  far: param.colour({ default: '#ff9a3c', title: 'Halo colour', group: 'Look' }),
  seed: param.seed({ default: 4, title: 'Seed', rare: true }),
  ...surroundParam(50),
  ...thrownParams({ onSubject: 80, onGround: 60, inAir: 0 }),
};
type V = Values<typeof params>;

/** Places around a ring at which its unevenness is worked out: between them it is straight, a hundredth of its finest wave. */
const PLACES = 2048;
/** How uneven the ring is around it, from its upper end clockwise and once more there: 1 is even. Two octaves on a circle of the lattice, so that there is no seam. */
function unevenness({ ragged, seed }: Pick<V, 'ragged' | 'seed'>, time: number): Float64Array {
  const out = new Float64Array(PLACES + 2).fill(1);
  if (ragged > 0)
    for (let k = 0; k < out.length; k++) {
      const across = Math.abs((2 * (k % PLACES)) / PLACES - 1),
        n = 0.65 * noise2(3 * across + 20, time * 1.3, seed) + 0.35 * noise2(11 * across + 60, time * 2.7, seed + 1);
      out[k] = 1 + ragged * (1.6 * n - 0.8);
    }
  return out;
}

const gauss = (x: number): number => (x > 4 ? 0 : exp(-x * x));
const TAU = 6.283185307179586;

/** How its plane is placed: as a square that just holds the ring. */
const asPlaced = ({ place, turn, tilt, swing }: Pick<V, 'place' | 'turn' | 'tilt' | 'swing'>) => turnedOnly({ place, turn, tilt, swing });
const boxOf = (radius: number, { pictureWidth, pictureHeight }: Pick<Sizes, 'pictureWidth' | 'pictureHeight'>): Sizes => ({
  width: 2 * radius,
  height: 2 * radius,
  pictureWidth,
  pictureHeight,
});

/** A ring of light in space: on the ground about the feet, around a hand, upright as a door. */
export const ring = effect({
  type: 'ring',
  version: 2,
  // It lit nothing.
  upgrade: ({ values, curves }) => ({ values: { ...values, ...throwsNothing, surround: 0 }, curves }),
  title: 'Ring',
  summary: 'A ring of light that lies in perspective: on the ground, around a hand, upright as a door.',
  recipes,
  shown: { values: { place: [10, 330], radius: 190 } },
  lanes: ['behind', 'front', 'on', 'background', 'foreground', 'whole'],
  sharp: true,
  light: true,
  throws: (v) => v,
  facts: ['frame', 'framesPerSecond'],
  origin: 'middle',
  params,
  inputs: {
    mount: { kind: 'mount', optional: true, title: 'Mount' },
    begun: { kind: 'mount', at: 'start', optional: true, title: 'Mount at the first frame' },
  },
  without: (v) => (v.carried === 'stays where it began' ? ['mount'] : ['begun']),
  idle: (v) => v.strength <= 0 || v.drawnTo <= 0,
  render({ pictures, width, height, frame, framesPerSecond }, v, { mount, begun }) {
    // Light is soft: half the size is enough.
    const half = 0.5,
      w = (width + 1) >> 1,
      h = (height + 1) >> 1,
      light = pictures.takePicture(w, h),
      d = light.data;
    d.fill(0);
    const reach = v.radius + 2.2 * v.halo + 2 * v.line,
      sizes = boxOf(reach, { pictureWidth: width, pictureHeight: height }),
      placed = placedMatrix(asPlaced(v), sizes),
      forward = placed && carriedMatrix(placed, carrierOf(v.carried, mount, begun), v.place),
      // Where a part of it lies behind who looks, the rest is looked for everywhere.
      corners = forward && cornersOf(forward, sizes.width, sizes.height),
      way = forward && back(forward);
    if (!way) return { light };
    const [left, top, right, bottom] = (corners ? boxAround(corners, 2) : [0, 0, width, height]).map((n) => n * half) as [
        number,
        number,
        number,
        number,
      ],
      time = frame / framesPerSecond,
      spin = (v.spin * time) / 360,
      thin = Math.max(0.7, v.line / 2),
      soft = Math.max(0.01, v.halo),
      rough = unevenness(v, time);
    for (let y = Math.max(0, Math.floor(top)); y < Math.min(h, bottom); y++)
      for (let x = Math.max(0, Math.floor(left)); x < Math.min(w, right); x++) {
        const px = (x + 0.5) / half,
          py = (y + 0.5) / half,
          z = way[6] * px + way[7] * py + way[8];
        if (!(z > 0)) continue;
        const u = (way[0] * px + way[1] * py + way[2]) / z - reach,
          t = (way[3] * px + way[4] * py + way[5]) / z - reach,
          r = Math.sqrt(u * u + t * t);
        if (r > reach) continue;
        // From the upper end clockwise, 0..1.
        const turned = atan2(u, -t) / TAU,
          about = turned < 0 ? turned + 1 : turned,
          drawn = v.drawnTo >= 1 ? 1 : smoothstep(0, 0.012, v.drawnTo - about);
        if (drawn <= 0) continue;
        const at = about - spin,
          piece = v.dashes > 0 ? at * v.dashes - Math.floor(at * v.dashes) : 0.5,
          cut = v.dashes > 0 ? smoothstep(0.1, 0.16, piece) * smoothstep(0.9, 0.84, piece) : 1,
          place = (at - Math.floor(at)) * PLACES,
          next = Math.floor(place),
          uneven = rough[next]! + (rough[next + 1]! - rough[next]!) * (place - next),
          off = Math.abs(r - v.radius),
          line = gauss(off / (thin * clamp(uneven, 0.3, 2))) * cut,
          halo = v.halo > 0 ? gauss(off / soft) * (0.35 + 0.65 * cut) : 0,
          within = r < v.radius ? v.inner * (0.4 + 0.6 * (r / v.radius)) : 0,
          power = v.strength * drawn,
          i = (y * w + x) * 4;
        for (let c = 0; c < 3; c++) d[i + c] = power * uneven * (1.5 * line * v.near[c]! + (0.32 * halo + 0.3 * within) * v.far[c]!);
      }
    return { light };
  },
  passed({ pictures, width, height, scale }, v, { mount, begun }) {
    const out = pictures.takePlane(width, height),
      sizes = boxOf(Math.max(scale, v.radius), { pictureWidth: width, pictureHeight: height }),
      placed = placedMatrix(asPlaced(v), sizes),
      forward = placed && carriedMatrix(placed, carrierOf(v.carried, mount, begun), v.place),
      way = forward && back(forward),
      soft = Math.max(scale, v.line / 2);
    out.data.fill(0);
    if (!way) return out;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        const z = way[6] * (x + 0.5) + way[7] * (y + 0.5) + way[8];
        if (!(z > 0)) continue;
        const u = (way[0] * (x + 0.5) + way[1] * (y + 0.5) + way[2]) / z - sizes.width / 2,
          t = (way[3] * (x + 0.5) + way[4] * (y + 0.5) + way[5]) / z - sizes.height / 2;
        out.data[i] = 1 - smoothstep(v.radius - soft, v.radius + soft, Math.sqrt(u * u + t * t));
      }
    return out;
  },
  carried: (v) => v.carried,
  outline: (v, sizes) => outlineOf(asPlaced(v), boxOf(v.radius, sizes)),
  handles: [{ shape: 'placed', sizes: 'radius', round: true }],
});
