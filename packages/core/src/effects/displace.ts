import type { Pictures } from '../image/arena';
import { blur, halfSize, twiceSize, weighedSum } from '../image/blur';
import { clamp, smoothstep } from '../image/exactMath';
import { withAddresses } from '../image/kernelCall';
import type { Picture, Plane } from '../image/picture';
import { edgeNames, warp } from '../image/warp';
import { growMatte } from '../matte/grow';
import type { Frame } from '../motion/frame';
import { param, type Values } from '../params/describe';
import { effect, type Draw } from './describe';
import { recipes } from './recipes/displace';

/** Moves the picture below about: rising heat, or a ripple that runs out from a point. What lies beyond the edge mirrors or holds, so no black is pulled in. */
export const displace = effect({
  type: 'displace',
  version: 1,
  title: 'Displace',
  recipes,
  summary: 'Heat haze, a ripple, a shock ring or the slopes of a matte on the picture below.',
  // Its defaults are haze that is seen as it moves.
  shown: { on: 'lantern', values: { by: 'ripple', strength: 16, size: 48, radius: 300 } },
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
      of: ['heat haze', 'ripple', 'shock ring', 'a matte'],
      title: 'Pattern',
      help: 'Heat haze, a ripple that runs out from the place, one ring that does so from the first frame on, or the slopes of a matte, as of glass.',
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
      help: 'Size of the wobbles, distance from crest to crest, half the width of the ring, or softness of the matte, px.',
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
    aroundBody: param.length({
      default: 0,
      title: 'Around the subject',
      range: [0, 2000],
      help: 'Distance from the subject over which the displacement eases out, px; it moves with the subject. 0 = not limited by it.',
    }),
    sideways: param.share({
      default: 100,
      title: 'Sideways amount',
      range: [0, 200],
      help: 'Share of the move to the sides, %.',
      rare: true,
    }),
    upDown: param.share({
      default: 100,
      title: 'Up and down amount',
      range: [0, 200],
      help: 'Share of the move up and down, %.',
      rare: true,
    }),
    dispersion: param.share({
      default: 0,
      title: 'Dispersion',
      help: 'Difference between the moves of red and blue, % of the move: glass bends blue more.',
    }),
    edge: param.choice({
      default: 'mirror',
      of: [...edgeNames, 'clean plate'],
      title: 'Beyond the edge',
      help: 'Stand-in for pixels beyond the picture: its mirror image, its last pixels, or the clean plate, which does not move.',
      rare: true,
    }),
    seed: param.seed({ default: 3, title: 'Seed', rare: true }),
  },
  inputs: {
    below: { kind: 'below', title: 'Picture below' },
    mount: { kind: 'mount', optional: true, title: 'Mount' },
    pattern: { kind: 'pattern', optional: true, title: 'Displaced by' },
    matte: { kind: 'matte', optional: true, title: 'Subject' },
    clean: { kind: 'clean', optional: true, title: 'Clean plate' },
  },
  without: (v) => [
    ...(v.by === 'a matte' ? [] : (['pattern'] as const)),
    ...(v.aroundBody > 0 ? [] : (['matte'] as const)),
    ...(v.edge === 'clean plate' ? [] : (['clean'] as const)),
  ],
  idle: (v) => v.strength <= 0,
  render(draw, v, { below, mount, pattern, matte, clean }) {
    if (v.by === 'a matte' && !pattern) return {};
    const { pictures } = draw,
      near = v.aroundBody > 0 && matte ? aroundOf(matte, v.aroundBody, pictures) : null,
      moved = (share: number): Picture => {
        const [dx, dy] = fieldOf(draw, { ...v, strength: share * v.strength }, mount, pattern);
        if (near) for (const plane of [dx, dy]) for (let p = 0; p < plane.data.length; p++) plane.data[p]! *= near.data[p]!;
        const out = warp(below, dx, dy, v.edge === 'mirror' ? 'mirror' : 'hold', pictures);
        if (v.edge === 'clean plate' && clean) showBeyond(out, clean, dx, dy);
        for (const working of [dx, dy]) pictures.give(working);
        return out;
      },
      done = (changed: Picture) => {
        if (near) pictures.give(near);
        return { changed };
      };
    if (v.dispersion <= 0) return done(moved(1));
    // Each colour by its own move: fields are proportional to the strength.
    const [red, green, blue] = [moved(1 - v.dispersion / 2), moved(1), moved(1 + v.dispersion / 2)],
      two = weighedSum(red, [1, 0, 0, 0], green, [0, 1, 0, 1], pictures, red),
      changed = weighedSum(two, [1, 1, 0, 1], blue, [0, 0, 1, 0], pictures, two);
    pictures.give(green);
    pictures.give(blue);
    return done(changed);
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
  checks: [
    {
      id: 'no-subject-around',
      find: ({ matte, name, values }) =>
        matte || !(Number(values.aroundBody) > 0)
          ? null
          : {
              text: `${name} is to stay around the subject, whose matte it does not have.`,
              fix: 'Make a matte on Mattes and give it to the subject, or set Around the subject to 0.',
            },
    },
    {
      id: 'no-pattern',
      find: ({ pattern, name, values }) =>
        pattern || values.by !== 'a matte'
          ? null
          : {
              text: `${name} displaces by a matte, and has none.`,
              fix: 'Choose a matte in its settings; a luma key of any clip gives one.',
            },
    },
  ],
  handles: [
    { shape: 'point', moves: 'place' },
    { shape: 'radius', sets: 'radius', about: 'place' },
  ],
});

/** How near each pixel is to a body: 1 on it, easing out to 0 at `reach` pixels from it. Soft, so half the size is enough. */
function aroundOf(matte: Plane, reach: number, pictures: Pictures): Plane {
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
function showBeyond(out: Picture, clean: Picture, dx: Plane, dy: Plane): void {
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
function fieldOf(
  draw: Draw<'frame' | 'frameInRow'>,
  v: Values<typeof displace.params>,
  mount: Frame,
  pattern: Plane | null,
): [dx: Plane, dy: Plane] {
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
    s = soft.data,
    k = (strength * size) / 2,
    held = (m: number) => clamp(k * m, -strength, strength);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const px = x + 0.5 - cx,
        py = y + 0.5 - cy,
        near = radius > 0 ? Math.max(0, 1 - (px * px + py * py) / (radius * radius)) : 1,
        fade = near * near;
      dx.data[p] = fade > 0 ? fade * held(s[x < width - 1 ? p + 1 : p]! - s[x > 0 ? p - 1 : p]!) : 0;
      dy.data[p] = fade > 0 ? fade * held(s[y < height - 1 ? p + width : p]! - s[y > 0 ? p - width : p]!) : 0;
    }
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
