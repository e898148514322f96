import { exp, smoothstep } from '../image/exactMath';
import { param } from '../params/describe';
import { effect } from './describe';
import { discOfLight } from './disc';
import { recipes } from './recipes/flash';

/** How strong a flash is so many frames after it began: it rises over `rise` frames (there at once where that is 0) and falls to 1/e in `fall`. */
export function flashAt(frameInRow: number, rise: number, fall: number): number {
  if (frameInRow < 0) return 0;
  const after = frameInRow - rise;
  if (after < 0) return smoothstep(-1, rise, frameInRow);
  return fall > 0 ? exp(-after / fall) : after > 0 ? 0 : 1;
}

/** A burst of light when its row begins (hang its start on a cue): over the whole picture, or about a mount. */
export const flash = effect({
  type: 'flash',
  version: 1,
  title: 'Flash',
  summary: 'A burst of light when its row begins, over the whole picture or about a mount.',
  recipes,
  shown: { frame: 1066, on: 'lantern' },
  lanes: ['whole', 'foreground', 'front', 'on', 'behind', 'background'],
  light: true,
  facts: ['frameInRow'],
  origin: 'middle',
  happens: true,
  suggest: ({ framesPerSecond, rest }) => ({ length: Math.min(Math.round(framesPerSecond), rest) }),
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
      default: 4,
      title: 'Fall time',
      unit: 'frames',
      range: [0, 400],
      step: 0.5,
      help: 'Frames in which it falls to 37 % (1/e) of its strength.',
      curve: false,
    }),
    place: param.point({
      default: [0, 0],
      title: 'Place',
      help: 'Centre of the flash, px from the mount.',
      when: { param: 'over', is: ['about the mount'] },
    }),
    reach: param.length({
      default: 360,
      title: 'Reach',
      help: 'Radius at which the light has faded out, px.',
      range: [1, 3000],
      when: { param: 'over', is: ['about the mount'] },
    }),
  },
  inputs: { mount: { kind: 'mount', optional: true, title: 'Mount' } },
  without: (v) => (v.over === 'whole picture' ? ['mount'] : []),
  idle: (v) => v.strength <= 0,
  render(draw, v, { mount }) {
    const { pictures, width, height } = draw,
      power = v.strength * flashAt(draw.frameInRow, v.rise, v.fall);
    if (power < 1 / 2048) return {};
    if (v.over === 'about the mount') {
      if (!mount.hung) return {};
      return { light: discOfLight(draw, mount, { ...v, power }) };
    }
    // The same everywhere: half the size says as much.
    const light = pictures.takePicture((width + 1) >> 1, (height + 1) >> 1),
      o = light.data;
    for (let i = 0; i < o.length; i += 4) {
      o[i] = power * v.colour[0];
      o[i + 1] = power * v.colour[1];
      o[i + 2] = power * v.colour[2];
      o[i + 3] = 0;
    }
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
