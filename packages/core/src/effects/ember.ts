import { clamp, cos, radians, sin, smoothstep } from '../image/exactMath';
import { noise2 } from '../image/noise';
import type { Picture } from '../image/picture';
import { emptyPicture } from '../image/planeMath';
import { inverseSlopes, spanAt, type Frame } from '../motion/frame';
import { param } from '../params/describe';
import { effect, type Canvas } from './describe';
import { discOfLight } from './disc';
import { recipes } from './recipes/ember';
import { throwsNothing, thrownParams } from './surroundings';

/** Tongues of light that wander: two fields of noise that rise through each other, 0..1. */
function tongues(x: number, y: number, time: number, seed: number): number {
  const a = noise2(x, y + 1.1 * time, seed + 31),
    b = noise2(1.7 * x + 7.3 - 0.6 * time, 1.7 * y + 1.9 * time, seed + 32),
    c = noise2(3.9 * x - 0.8 * time, 3.9 * y + 3.1 * time, seed + 33);
  return 0.5 * a + 0.32 * b + 0.18 * c;
}

/** How far the light that it throws reaches, and how strong it is against the tongues. */
const AROUND = 3.2,
  THROWN = 0.3;
/** How far its darker surround reaches, and how much of its own colour that keeps. */
const SURROUND = 1.9,
  RICH = 0.05;

/** A live coal on a mount: turbulent light in a soft disc, for eyes, hands, a heart. */
export const ember = effect({
  type: 'ember',
  version: 3,
  // Up to 1 it was its tongues alone: no darker surround, no light about it, and as hard as they; up to 2 it lit nothing.
  upgrade: ({ values, curves }, version) => ({
    values: { ...values, ...(version < 2 ? { surround: 0, around: 0, soft: 0 } : {}), ...throwsNothing },
    curves,
  }),
  title: 'Ember',
  summary: 'Turbulent light in a soft disc on a mount: glowing eyes, hands, a heart.',
  recipes,
  shown: { on: 'lantern' },
  lanes: ['front', 'on', 'behind', 'foreground', 'background', 'whole'],
  light: true,
  // Its surround is its own: it is of the ember's form.
  throws: (v) => ({ ...v, surround: 0 }),
  facts: ['frame', 'framesPerSecond'],
  origin: 'middle',
  params: {
    gate: param.share({ default: 100, title: 'Openness', help: '0 % is out, 100 % is fully lit. Close it over a blink.' }),
    lost: param.choice({
      default: 'goes out',
      of: ['goes out', 'stays'],
      title: 'While its track is lost',
      help: 'A closed eye or a hidden hand puts the ember out.',
      rare: true,
    }),
    reach: param.length({ default: 34, title: 'Reach', range: [1, 800], help: 'Radius at which the tongues end, px.' }),
    strength: param.share({ default: 120, title: 'Strength', range: [0, 1000] }),
    hot: param.colour({ default: '#ffe7b0', title: 'Hot colour' }),
    cool: param.colour({ default: '#ff6a1f', title: 'Cool colour' }),
    surround: param.share({
      default: 55,
      title: 'Dark surround',
      help: 'Darkens what lies under and just about the light, so that it reads on a bright ground, %.',
    }),
    around: param.share({
      default: 35,
      title: 'Light around',
      range: [0, 400],
      help: 'Strength of the soft light that it throws on what is about it.',
    }),
    soft: param.share({
      default: 60,
      title: 'Softness',
      help: 'Fading of the tongues towards their ends; 0 % ends them at once.',
      rare: true,
    }),
    ragged: param.share({ default: 70, title: 'Raggedness', range: [0, 200], help: 'Depth of the tongues, in and out.' }),
    detail: param.length({ default: 16, title: 'Tongue size', range: [2, 400], help: 'Size of the largest tongues, px.', rare: true }),
    churn: param.number({
      default: 1.4,
      title: 'Churn',
      unit: '/s',
      range: [0, 20],
      step: 0.1,
      help: 'Changes of the tongues each second.',
    }),
    streak: param.share({ default: 0, title: 'Elongation', range: [0, 2000], help: 'Extra length along the direction, % of the width.' }),
    direction: param.angle({ default: 0, title: 'Direction', help: 'Direction of the elongation, degrees clockwise.' }),
    flicker: param.share({ default: 20, title: 'Flicker', help: 'Random change of brightness over time, %.', rare: true }),
    place: param.point({ default: [0, 0], title: 'Place', help: 'Centre of the ember, px from the mount.' }),
    seed: param.seed({ default: 4, title: 'Seed', rare: true }),
    ...thrownParams({ onSubject: 100, onGround: 0, inAir: 0 }),
  },
  inputs: { mount: { kind: 'mount', optional: true, title: 'Mount' } },
  idle: (v) => v.strength <= 0 || v.gate <= 0,
  bearsLoss: (v) => v.lost === 'goes out',
  render(draw, v, { mount }) {
    if (!mount.hung || (mount.lost && v.lost === 'goes out')) return {};
    const { pictures, width, height } = draw,
      seconds = draw.frame / draw.framesPerSecond,
      time = seconds * v.churn,
      wander = 1 - v.flicker + 2 * v.flicker * noise2(seconds * 9, 0.5, v.seed + 40),
      power = v.strength * v.gate * wander;
    if (power <= 0) return { light: emptyPicture(width, height, pictures) };
    const ux = cos(radians(v.direction)),
      uy = sin(radians(v.direction)),
      long = v.reach * (1 + v.streak),
      fine = 1 / Math.max(0.5, v.detail),
      light =
        v.around > 0
          ? discOfLight(draw, mount, { place: v.place, reach: AROUND * long, power: THROWN * power * v.around, colour: v.cool })
          : emptyPicture(width, height, pictures),
      o = light.data;
    eachPixel(draw, mount, v.place, long * (1 + 0.5 * v.ragged), (dx, dy, i) => {
      const along = (dx * ux + dy * uy) / long,
        across = (dy * ux - dx * uy) / v.reach,
        r = Math.sqrt(along * along + across * across);
      if (r >= 1 + 0.5 * v.ragged) return;
      // Noise is held to the mount, so that it does not swim through the light when the mount moves.
      const n = tongues(dx * fine, dy * fine, time, v.seed) - 0.5,
        body = clamp(1 - r + n * v.ragged, 0, 1),
        hard = body * body * (3 - 2 * body),
        // Faded light is strong in its middle alone: no edge of it stands on the skin as a stencil.
        dense = (hard + v.soft * (hard * body - hard)) * smoothstep(1 + 0.5 * v.ragged, 0.75 - 0.6 * v.soft, r),
        heat = smoothstep(0.25, 0.85, dense),
        k = power * dense;
      for (let c = 0; c < 3; c++) o[i + c]! += k * (v.cool[c]! + (v.hot[c]! - v.cool[c]!) * heat);
    });
    return { light, ...(v.surround > 0 ? { shade: darkened(draw, mount, v, SURROUND * long, v.surround * Math.min(1, power)) } : {}) };
  },
  checks: [
    {
      id: 'no-mount',
      find: ({ mount, name }) =>
        mount ? null : { text: `${name} hangs on nothing, so it is not drawn.`, fix: 'Choose what it hangs on.' },
    },
  ],
  handles: [
    { shape: 'point', moves: 'place' },
    { shape: 'radius', sets: 'reach', about: 'place' },
  ],
});

/** Visits the pixels about a place of a mount: where each lies from that place in the mount's own pixels, and where it begins in a picture's data. */
function eachPixel(
  { width, height }: Canvas,
  mount: Frame,
  place: readonly [number, number],
  reach: number,
  visit: (dx: number, dy: number, at: number) => void,
): void {
  const [cx, cy] = mount.toPicture(place),
    [uByX, vByX, uByY, vByY] = inverseSlopes(mount, place),
    [wide, high] = spanAt(mount, place, reach);
  for (let y = Math.max(0, Math.floor(cy - high)); y < Math.min(height, cy + high); y++)
    for (let x = Math.max(0, Math.floor(cx - wide)); x < Math.min(width, cx + wide); x++) {
      const px = x + 0.5 - cx,
        py = y + 0.5 - cy;
      visit(px * uByX + py * uByY, px * vByX + py * vByY, (y * width + x) * 4);
    }
}

/**
 * The darker surround of the light, premultiplied: a dim colour of its own cool end, so that it is rich and not grey. It is round, also about a long light:
 * a shade, not a shape.
 */
function darkened(
  draw: Canvas,
  mount: Frame,
  v: { place: readonly [number, number]; cool: readonly [number, number, number] },
  reach: number,
  power: number,
): Picture {
  const out = emptyPicture(draw.width, draw.height, draw.pictures),
    o = out.data;
  eachPixel(draw, mount, v.place, reach, (dx, dy, i) => {
    const fall = 1 - (dx * dx + dy * dy) / (reach * reach);
    if (fall <= 0) return;
    const a = power * fall * fall;
    for (let c = 0; c < 3; c++) o[i + c] = RICH * a * v.cool[c]!;
    o[i + 3] = a;
  });
  return out;
}
