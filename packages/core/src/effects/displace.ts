import { exp, hypot, PI, sin } from '../image/exactMath';
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
      field = plane.data,
      cx = (mount ? mount.x * draw.scale : width / 2) + v.place[0],
      cy = (mount ? mount.y * draw.scale : height / 2) + v.place[1],
      k = 1 / Math.max(0.5, v.size),
      moved = draw.frame * v.speed,
      haze = v.by === 'heat haze' ? hazeOver(width, height, k, moved, draw.frame, v.seed, v.radius > 0 ? [cx, cy, v.radius] : null) : null;
    for (let y = 0, p = 0; y < height; y++)
      for (let x = 0; x < width; x++, p++) {
        const dx = x + 0.5 - cx,
          dy = y + 0.5 - cy,
          squared = dx * dx + dy * dy;
        field[2 * p] = 0;
        field[2 * p + 1] = 0;
        if (v.radius > 0 && squared >= v.radius * v.radius) continue;
        const t = v.radius > 0 ? squared / (v.radius * v.radius) : 0,
          amount = (1 - t) * (1 - t) * v.strength;
        if (haze) {
          haze(x, y, field, 2 * p);
          field[2 * p]! *= amount;
          field[2 * p + 1]! *= amount;
        } else {
          const d = Math.sqrt(squared),
            run = sin((d - moved) * k * 2 * PI) * exp(-d * k * 0.08) * amount;
          if (d > 0.01) {
            field[2 * p] = (dx / d) * run;
            field[2 * p + 1] = (dy / d) * run;
          }
        }
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

/**
 * Wobble of rising air, each side within -1..1. It lives in the world: it does not travel with the mount. The noise is soft, so it is
 * made on a grid of a few points in its smallest wave and read between them in straight lines; points outside the disc are not made.
 * @returns a reader that writes the wobble at a pixel into two places of an array.
 */
function hazeOver(
  width: number,
  height: number,
  k: number,
  moved: number,
  frame: number,
  seed: number,
  disc: [number, number, number] | null,
) {
  const step = Math.max(1, Math.min(8, Math.floor(1 / (k * 2.3 * 5)))),
    columns = Math.ceil(width / step) + 1,
    rows = Math.ceil(height / step) + 1,
    grid = new Float32Array(columns * rows * 2),
    z = frame * 0.045;
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const x = i * step + 0.5,
        y = j * step + 0.5;
      if (disc && hypot(x - disc[0], y - disc[1]) > disc[2] + 2 * step) continue;
      const a = x * k,
        b = (y + moved) * k * 0.7,
        at = (j * columns + i) * 2;
      grid[at] = (noise3(a, b, z, seed) * 2 - 1 + (noise3(a * 2.3, b * 2.3, z * 1.6, seed + 5) * 2 - 1) * 0.4) * 0.72;
      grid[at + 1] = (noise3(a + 71.3, b, z, seed + 9) * 2 - 1) * 0.6;
    }
  const wide = columns * 2,
    part = 1 / step;
  return (x: number, y: number, out: Float32Array<ArrayBufferLike>, at: number): void => {
    const i = Math.floor(x * part),
      j = Math.floor(y * part),
      u = x * part - i,
      w = y * part - j,
      a = j * wide + i * 2;
    for (let c = 0; c < 2; c++) {
      const top = grid[a + c]! + (grid[a + c + 2]! - grid[a + c]!) * u,
        bottom = grid[a + c + wide]! + (grid[a + c + wide + 2]! - grid[a + c + wide]!) * u;
      out[at + c] = top + (bottom - top) * w;
    }
  };
}
