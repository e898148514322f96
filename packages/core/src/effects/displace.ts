import { exp, sin } from '../image/exactMath';
import { noise3 } from '../image/noise';
import { edgeNames, warp } from '../image/warp';
import { effect, param } from './describe';

/** Moves the picture below about: rising heat, or a ripple that runs out from a point. What lies beyond the edge mirrors or holds, so no black is pulled in. */
export const displace = effect({
  type: 'displace',
  version: 1,
  title: 'Displace',
  summary: 'Heat haze or a ripple on the picture below.',
  lanes: ['whole', 'foreground', 'front', 'on', 'behind', 'background'],
  origin: 'middle',
  params: {
    by: param.choice({ default: 'heat haze', of: ['heat haze', 'ripple'], title: 'Moved by' }),
    strength: param.length({ default: 6, title: 'Strength', range: [0, 200], step: 0.5, help: 'Farthest that a pixel is moved.' }),
    size: param.length({ default: 40, title: 'Size', range: [2, 800], help: 'Of the wobbles, or from crest to crest of the ripple.' }),
    speed: param.length({
      default: 3,
      title: 'Speed',
      range: [-100, 100],
      step: 0.1,
      unit: 'px/frame',
      help: 'Haze rises, ripples run outwards.',
    }),
    place: param.point({ default: [0, 0], title: 'Middle', help: 'From the mount; from the middle of the picture without one.' }),
    radius: param.length({ default: 170, title: 'Radius', range: [0, 3000], help: 'Where it has faded out; 0 is everywhere.' }),
    edge: param.choice({ default: 'mirror', of: edgeNames, title: 'Beyond the edge', rare: true }),
    seed: param.seed({ default: 3, title: 'Seed', rare: true }),
  },
  inputs: { below: { kind: 'below', title: 'Picture below' }, mount: { kind: 'mount', optional: true, title: 'Mount' } },
  idle: (v) => v.strength <= 0,
  reach: (v) => v.strength,
  render(draw, v, { below, mount }) {
    const { pictures, width, height } = draw,
      plane = pictures.takePicture(width, Math.ceil(height / 2)),
      field = plane.data;
    const cx = (mount ? mount.x * draw.scale : width / 2) + v.place[0],
      cy = (mount ? mount.y * draw.scale : height / 2) + v.place[1],
      k = 1 / Math.max(0.5, v.size),
      moved = draw.frame * v.speed;
    for (let y = 0, p = 0; y < height; y++)
      for (let x = 0; x < width; x++, p++) {
        const dx = x + 0.5 - cx,
          dy = y + 0.5 - cy,
          d = Math.sqrt(dx * dx + dy * dy);
        let fade = 1;
        if (v.radius > 0) {
          const t = d / v.radius;
          fade = t >= 1 ? 0 : (1 - t * t) * (1 - t * t);
        }
        let u = 0,
          w = 0;
        if (fade > 0) {
          if (v.by === 'ripple') {
            const run = sin((d - moved) * k * 6.283185307179586) * exp(-d * k * 0.08) * v.strength * fade;
            u = d > 0.01 ? (dx / d) * run : 0;
            w = d > 0.01 ? (dy / d) * run : 0;
          } else {
            // Haze lives in the world: its noise does not travel with the mount, it rises.
            const a = (x + 0.5) * k,
              b = (y + 0.5 + moved) * k * 0.7,
              z = draw.frame * 0.045;
            u =
              (noise3(a, b, z, v.seed) * 2 - 1 + (noise3(a * 2.3, b * 2.3, z * 1.6, v.seed + 5) * 2 - 1) * 0.4) * v.strength * fade * 0.72;
            w = (noise3(a + 71.3, b, z, v.seed + 9) * 2 - 1) * v.strength * fade * 0.6;
          }
        }
        field[2 * p] = u;
        field[2 * p + 1] = w;
      }
    const changed = warp(below, field, v.edge, pictures);
    pictures.give(plane);
    return { changed };
  },
  handles: [
    { shape: 'point', moves: 'place' },
    { shape: 'radius', sets: 'radius', about: 'place' },
  ],
});
