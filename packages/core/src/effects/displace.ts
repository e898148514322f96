import { weighedSum } from '../image/blur';
import { smoothstep } from '../image/exactMath';
import type { Picture } from '../image/picture';
import { edgeNames, warp } from '../image/warp';
import { param } from '../params/describe';
import { effect } from './describe';
import { aroundOf, fieldOf, showBeyond } from './displaceField';
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
