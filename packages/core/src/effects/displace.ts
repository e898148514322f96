import { smoothstep } from '../image/exactMath';
import { withAddresses } from '../image/kernelCall';
import type { Plane } from '../image/picture';
import { warp } from '../image/warp';
import { param } from '../params/describe';
import { beyondEdge } from './beyondEdge';
import { effect, type Draw } from './describe';
import { recipes } from './recipes/displace';

/** Moves the picture below about: rising heat, or a ripple that runs out from a point. What lies beyond the edge mirrors or holds, so no black is pulled in. */
export const displace = effect({
  type: 'displace',
  version: 1,
  title: 'Displace',
  recipes,
  summary: 'Heat haze, a ripple or a shock ring on the picture below.',
  shown: { on: 'lantern' },
  lanes: ['whole', 'foreground', 'front', 'on', 'behind', 'background'],
  facts: ['frame', 'frameInRow'],
  origin: 'middle',
  // As large as suits what it bends: waves of a tall figure would shatter a small one.
  suggest: ({ subjectPixels }) => ({
    values: {
      radius: Math.max(10, Math.round(subjectPixels * 0.4)),
      size: Math.max(4, Math.round(subjectPixels * 0.09)),
      strength: Math.max(1, Math.min(12, Math.round(subjectPixels * 0.028) / 2)),
    },
  }),
  params: {
    by: param.choice({
      default: 'heat haze',
      of: ['heat haze', 'ripple', 'shock ring'],
      title: 'Pattern',
      help: 'Heat haze, a ripple that runs out from the place, or one ring that does so from the first frame on.',
    }),
    strength: param.length({
      default: 6,
      title: 'Strength',
      range: [0, 200],
      step: 0.5,
      help: 'Largest distance by which a pixel moves, px.',
    }),
    size: param.length({
      default: 40,
      title: 'Wavelength',
      range: [2, 800],
      help: 'Size of the wobbles, distance from crest to crest, or half the width of the ring, px.',
    }),
    speed: param.length({
      default: 3,
      title: 'Speed',
      range: [-100, 100],
      step: 0.1,
      unit: 'px/frame',
      help: 'Speed at which haze rises and ripples run outwards, px in each frame.',
    }),
    place: param.point({
      default: [0, 0],
      title: 'Place',
      help: 'Centre of the ripple, px from the mount, or from the middle of the picture without one.',
    }),
    radius: param.length({
      default: 170,
      title: 'Radius',
      range: [0, 3000],
      help: 'Radius at which the displacement has faded out, px; 0 = everywhere.',
    }),
    edge: beyondEdge,
    seed: param.seed({ default: 3, title: 'Seed', rare: true }),
  },
  inputs: { below: { kind: 'below', title: 'Picture below' }, mount: { kind: 'mount', optional: true, title: 'Mount' } },
  idle: (v) => v.strength <= 0,
  render(draw, v, { below, mount }) {
    const { pictures, width, height } = draw,
      dx = pictures.takePlane(width, height),
      dy = pictures.takePlane(width, height),
      [cx, cy] = mount.toPicture(v.place),
      grown = mount.scaleAt(v.place),
      radius = v.radius * grown,
      strength = v.strength * grown,
      waves = 1 / Math.max(0.5, v.size),
      moved = draw.frame * v.speed;
    if (v.by === 'heat haze') {
      const wobble = wobbleGrid(draw, waves, moved, v.seed, radius > 0 ? [cy - radius, cy + radius] : [0, height]);
      withAddresses(pictures, [wobble.x, wobble.y, dx, dy], (x, y, toX, toY) =>
        pictures.run('spreadWobble', height, x!, y!, wobble.x.width, wobble.step, cx, cy, radius, strength, toX!, toY!, width),
      );
      pictures.give(wobble.x);
      pictures.give(wobble.y);
    } else if (v.by === 'shock ring') ringOut(dx, dy, [cx, cy], v.speed * grown * (draw.frameInRow + 1), v.size * grown, radius, strength);
    else
      withAddresses(pictures, [dx, dy], (toX, toY) =>
        pictures.run('spreadRipple', height, cx, cy, radius, strength, waves / grown, moved * grown, toX!, toY!, width),
      );
    const changed = warp(below, dx, dy, v.edge, pictures);
    pictures.give(dx);
    pictures.give(dy);
    return { changed };
  },
  // The waves reach as far as the radius; what they have passed lies within, with an edge as soft as a wave.
  passed({ pictures, width, height, scale }, v, { mount }) {
    const out = pictures.takePlane(width, height),
      [cx, cy] = mount.toPicture(v.place),
      radius = v.radius * mount.scaleAt(v.place),
      soft = Math.max(scale, v.size / 2);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        const dx = x + 0.5 - cx,
          dy = y + 0.5 - cy;
        out.data[i] = radius > 0 ? 1 - smoothstep(radius - soft, radius + soft, Math.sqrt(dx * dx + dy * dy)) : 0;
      }
    return out;
  },
  handles: [
    { shape: 'point', moves: 'place' },
    { shape: 'radius', sets: 'radius', about: 'place' },
  ],
});

/**
 * Wobble of rising air, each side within -1..1. It lives in the world: it does not travel with the mount. The noise is soft, so it is made on a
 * grid of four points in its smallest wave, between the rows that are wanted, and read between its points in straight lines.
 */
function wobbleGrid(
  { pictures, width, height, frame }: Draw<'frame'>,
  k: number,
  moved: number,
  seed: number,
  [top, bottom]: [number, number],
) {
  const step = Math.max(1, Math.min(8, Math.floor(1 / (k * 2.3 * 4)))),
    columns = (Math.ceil(width / step) + 4) & ~3,
    rows = Math.ceil(height / step) + 1,
    x = pictures.takePlane(columns, rows),
    y = pictures.takePlane(columns, rows),
    z = frame * 0.045,
    first = Math.max(0, Math.min(rows, Math.floor(top / step) - 1)),
    wanted = Math.max(0, Math.min(rows, Math.ceil(bottom / step) + 2) - first);
  x.data.fill(0);
  y.data.fill(0);
  const add = (plane: Plane, size: number, shift: number, depth: number, key: number, gain: number) =>
    withAddresses(pictures, [plane], (at) =>
      pictures.run(
        'addNoise',
        wanted,
        at! + first * columns * 4,
        0.5 * k * size + shift,
        step * k * size,
        (first * step + 0.5 + moved) * k * 0.7 * size,
        step * k * 0.7 * size,
        z * depth,
        key,
        gain,
        columns,
        columns,
      ),
    );
  add(x, 1, 0, 1, seed, 0.72);
  add(x, 2.3, 0, 1.6, seed + 5, 0.288);
  add(y, 1, 71.3, 1, seed + 9, 0.6);
  return { x, y, step };
}

/**
 * One ring that runs outwards and fades on its way to the radius: it pushes the picture before it out, most in its middle, and lets it fall back behind.
 * Moves are where a pixel is taken from; lengths in pixels of the picture.
 */
function ringOut(
  dx: Plane,
  dy: Plane,
  [cx, cy]: readonly [number, number],
  at: number,
  wide: number,
  radius: number,
  strength: number,
): void {
  const { width, height } = dx,
    fades = radius > 0 ? Math.max(0, 1 - at / radius) : 1,
    reach = at + wide;
  dx.data.fill(0);
  dy.data.fill(0);
  if (fades <= 0 || at <= 0) return;
  for (let y = Math.max(0, Math.floor(cy - reach)); y < Math.min(height, cy + reach); y++)
    for (let x = Math.max(0, Math.floor(cx - reach)); x < Math.min(width, cx + reach); x++) {
      const px = x + 0.5 - cx,
        py = y + 0.5 - cy,
        d = Math.sqrt(px * px + py * py),
        u = (d - at) / wide;
      if (u <= -1 || u >= 1 || d < 1e-6) continue;
      const bump = 1 - u * u,
        by = (strength * fades * bump * bump) / d;
      dx.data[y * width + x] = -by * px;
      dy.data[y * width + x] = -by * py;
    }
}
