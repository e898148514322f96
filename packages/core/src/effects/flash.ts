import { exp, smoothstep } from '../image/exactMath';
import { emptyPicture } from '../image/planeMath';
import { param } from '../params/describe';
import { effect } from './describe';
import { discOfLight } from './disc';
import { recipes } from './recipes/flash';
import { awayFor, throwsNothing, thrownParams } from './surroundings';

/** Time constants within the frames in which a flash fades out: at their end it is 2 % of what it was. */
const FADES = 4;
/** How strong a flash is so many frames after it began: it rises over `rise` frames (there at once where that is 0) and fades out in `fall`. */
export function flashAt(frameInRow: number, rise: number, fall: number): number {
  if (frameInRow < 0) return 0;
  const after = frameInRow - rise;
  if (after < 0) return smoothstep(-1, rise, frameInRow);
  return fall > 0 ? exp((-FADES * after) / fall) : after > 0 ? 0 : 1;
}

/** The white heart of a hot middle: its radius as a share of the reach, its strength, and how white it is. */
const HEART = { reach: 0.26, power: 0.9, white: 0.6 };
/** By how much the light of the middle is stronger than the veil that it takes the place of: it falls off. */
const MIDDLE = 2.2;

/** A burst of light when its row begins (hang its start on a cue): over the whole picture, or about a mount. */
export const flash = effect({
  type: 'flash',
  version: 3,
  // Up to 1 the fall was the time to 1/e, and the whole picture was lit alike; up to 2 nothing had a side that was lit.
  upgrade: ({ values, curves }, version) => ({
    values: {
      ...values,
      ...(version < 2 ? { fall: FADES * ((values.fall as number | undefined) ?? 4), middle: 0 } : {}),
      ...throwsNothing,
    },
    curves,
  }),
  title: 'Flash',
  summary: 'A burst of light when its row begins, over the whole picture or about a mount.',
  recipes,
  shown: { frame: 1065, on: 'lantern' },
  lanes: ['whole', 'foreground', 'front', 'on', 'behind', 'background'],
  light: true,
  throws: (v) => ({ ...v, surround: 0 }),
  facts: ['frameInRow'],
  origin: 'middle',
  happens: true,
  suggest: ({ framesPerSecond, rest, subjectPixels }) => ({
    length: Math.min(Math.round(framesPerSecond), rest),
    values: { reach: Math.max(20, Math.round(subjectPixels * 0.85)), ...awayFor(subjectPixels) },
  }),
  params: {
    over: param.choice({ default: 'whole picture', of: ['whole picture', 'about the mount'], title: 'Over' }),
    strength: param.share({ default: 60, title: 'Strength', range: [0, 1000] }),
    colour: param.colour({ default: '#cfe8ff', title: 'Colour' }),
    rise: param.number({
      default: 0,
      title: 'Rise time',
      help: 'Frames until the flash is at its brightest; 0 = at once.',
      unit: 'frames',
      range: [0, 200],
      step: 1,
      curve: false,
    }),
    fall: param.number({
      default: 8,
      title: 'Fall time',
      unit: 'frames',
      range: [0, 1600],
      step: 0.5,
      help: 'Frames in which it fades out, to 2 % of its strength.',
      curve: false,
    }),
    middle: param.share({
      default: 75,
      title: 'Hot middle',
      help: 'Share of the light that comes from its place, hottest and whitest there; the rest lies evenly on the whole picture.',
      when: { param: 'over', is: ['whole picture'] },
    }),
    place: param.point({
      default: [0, 0],
      title: 'Place',
      help: 'Centre of the flash, px from the mount, or from the middle of the picture without one.',
    }),
    reach: param.length({
      default: 360,
      title: 'Reach',
      help: 'Radius at which the light has faded out, px.',
      range: [1, 3000],
    }),
    ...thrownParams({ onSubject: 80, onGround: 60, inAir: 0 }),
  },
  inputs: { mount: { kind: 'mount', optional: true, title: 'Mount' } },
  without: (v) => (v.over === 'whole picture' && v.middle <= 0 ? ['mount'] : []),
  idle: (v) => v.strength <= 0,
  render(draw, v, { mount }) {
    const { pictures, width, height } = draw,
      power = v.strength * flashAt(draw.frameInRow, v.rise, v.fall);
    if (power < 1 / 2048) return {};
    if (v.over === 'about the mount') {
      if (!mount.hung) return {};
      return { light: discOfLight(draw, mount, { ...v, power }) };
    }
    // It is soft: half the size says as much.
    const [wide, high] = [(width + 1) >> 1, (height + 1) >> 1],
      half = { pictures, width: wide, height: high, scale: draw.scale / 2 },
      [red, green, blue] = v.colour,
      veil = power * (1 - v.middle);
    if (v.middle <= 0) {
      const light = emptyPicture(wide, high, pictures);
      veiled(light.data, veil, v.colour);
      return { light };
    }
    const standing = mount.resized(0.5),
      own = { place: v.place, reach: v.reach },
      light = discOfLight(half, standing, { ...own, power: MIDDLE * power * v.middle, colour: v.colour }),
      white = (c: number) => c + HEART.white * (1 - c),
      heart = discOfLight(half, standing, {
        ...own,
        reach: HEART.reach * v.reach,
        power: HEART.power * power * v.middle,
        colour: [white(red), white(green), white(blue)],
      }),
      [o, h] = [light.data, heart.data];
    for (let i = 0; i < o.length; i++) o[i]! += h[i]!;
    pictures.give(heart);
    veiled(o, veil, v.colour);
    return { light };
  },
  checks: [
    {
      id: 'no-mount',
      find: ({ mount, name, values }) =>
        mount || values.over !== 'about the mount'
          ? null
          : {
              text: `${name} flashes about a mount, but hangs on nothing.`,
              fix: 'Choose what it hangs on, or let it go over the whole picture.',
            },
    },
  ],
  handles: [
    { shape: 'point', moves: 'place' },
    { shape: 'radius', sets: 'reach', about: 'place' },
  ],
});

/** Adds light that is the same everywhere, in place. */
function veiled(o: Float32Array, power: number, [red, green, blue]: readonly [number, number, number]): void {
  for (let i = 0; i < o.length; i += 4) {
    o[i]! += power * red;
    o[i + 1]! += power * green;
    o[i + 2]! += power * blue;
  }
}
