import type { Pictures } from '../image/arena';
import { blur, halfSize, twiceSize } from '../image/blur';
import { clamp } from '../image/exactMath';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { growMatte } from '../matte/grow';
import type { Frame } from '../motion/frame';
import type { Draw } from './describe';

/** What a displacement is worked out by; lengths in pixels of the picture, shares 0..1. */
interface Bends {
  by: 'heat haze' | 'ripple' | 'shock ring' | 'a matte';
  strength: number;
  size: number;
  speed: number;
  place: readonly [number, number];
  radius: number;
  sideways: number;
  upDown: number;
  seed: number;
}

/** How near each pixel is to a body: 1 on it, easing out to 0 at `reach` pixels from it. Soft, so half the size is enough. */
export function aroundOf(matte: Plane, reach: number, pictures: Pictures): Plane {
  const half = halfSize(matte, pictures),
    far = reach / 2;
  // A soft edge as wide as a mean of its neighbours: grown by half of the reach, it begins on the body and ends at the reach.
  growMatte(half, far / 2, pictures);
  const soft = blur(half, Math.max(0.5, far / 5), pictures),
    out = twiceSize(soft, matte.width, matte.height, pictures);
  for (const working of [half, soft]) pictures.give(working);
  return out;
}
/** Shows the clean plate where a pixel would be taken from beyond the picture, over a pixel; in place. */
export function showBeyond(out: Picture, clean: Picture, dx: Plane, dy: Plane): void {
  const { width, height, data } = out;
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const u = x + dx.data[p]!,
        v = y + dy.data[p]!,
        beyond = clamp(Math.max(-u, u - (width - 1), -v, v - (height - 1)), 0, 1);
      if (beyond > 0) for (let c = 0; c < 4; c++) data[4 * p + c]! += beyond * (clean.data[4 * p + c]! - data[4 * p + c]!);
    }
}

/** Where each pixel is taken from, relative to itself, pixels. */
export function fieldOf(draw: Draw<'frame' | 'frameInRow'>, v: Bends, mount: Frame, pattern: Plane | null): [dx: Plane, dy: Plane] {
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
  else if (v.by === 'a matte') bySlopes(dx, dy, pattern!, [cx, cy], v.size, radius, strength, pictures);
  else
    withAddresses(pictures, [dx, dy], (toX, toY) =>
      pictures.run('spreadRipple', height, cx, cy, radius, strength, waves / grown, moved * grown, toX!, toY!, width),
    );
  for (const [plane, share] of [
    [dx, v.sideways],
    [dy, v.upDown],
  ] as const)
    if (share !== 1) for (let p = 0; p < plane.data.length; p++) plane.data[p]! *= share;
  return [dx, dy];
}

/**
 * The slopes of a matte, made soft, as those of a pane of glass: a rise from 0 to 1 over `size` pixels moves by `strength`, and none by more. It fades out to the radius
 * (0: everywhere).
 */
function bySlopes(
  dx: Plane,
  dy: Plane,
  pattern: Plane,
  [cx, cy]: readonly [number, number],
  size: number,
  radius: number,
  strength: number,
  pictures: Pictures,
): void {
  const { width, height } = dx,
    soft = blur(pattern, Math.max(0.5, size / 4), pictures),
    k = (strength * size) / 2;
  withAddresses(pictures, [soft, dx, dy], (from, toX, toY) =>
    pictures.run('slopeField', height, from!, cx, cy, radius, k, Math.abs(strength), toX!, toY!, width, height),
  );
  pictures.give(soft);
}

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
