import { clamp, cos, radians, sin } from '../image/exactMath';
import { blur } from '../image/blur';
import { inverseSlopes } from '../motion/frame';
import { param } from '../params/describe';
import { effect } from './describe';
import { recipes } from './recipes/fill';

/** One colour, or a run from one to another, through a soft matte: shade, a wash of light, a backdrop. */
export const fill = effect({
  type: 'fill',
  version: 1,
  title: 'Fill',
  summary: 'A colour or a gradient through a matte, as soft as wanted.',
  recipes,
  lanes: ['whole', 'foreground', 'front', 'on', 'behind', 'background'],
  origin: 'middle',
  params: {
    with: param.choice({
      default: 'colour',
      of: ['colour', 'gradient across', 'gradient outwards'],
      title: 'Fill',
      help: 'One colour, or a gradient.',
    }),
    through: param.choice({ default: 'matte', of: ['matte', 'everything'], title: 'Area', help: 'Inside the matte, or everywhere.' }),
    colour: param.colour({ default: '#1d2b45', title: 'Colour' }),
    other: param.colour({
      default: '#e0894a',
      title: 'Other colour',
      when: { param: 'with', is: ['gradient across', 'gradient outwards'] },
    }),
    amount: param.share({ default: 60, title: 'Amount', help: 'Cover of the fill, %.' }),
    clear: param.share({
      default: 0,
      title: 'Fade',
      help: 'Loss of cover at the other end of the gradient.',
      when: { param: 'with', is: ['gradient across', 'gradient outwards'] },
      rare: true,
    }),
    soft: param.length({
      default: 0,
      title: 'Softness',
      range: [0, 400],
      help: 'Blur of the matte: radius in px, 2 × standard deviation.',
    }),
    place: param.point({
      default: [0, 0],
      title: 'Place',
      help: 'Centre of the gradient, px from the mount, or from the middle of the picture without one.',
    }),
    extent: param.length({ default: 400, title: 'Extent', range: [1, 4000], help: 'Length of the gradient, px.' }),
    direction: param.angle({
      default: 90,
      title: 'Direction',
      help: 'Direction of the gradient, degrees clockwise.',
      when: { param: 'with', is: ['gradient across'] },
    }),
  },
  inputs: { matte: { kind: 'matte', optional: true, title: 'Matte' }, mount: { kind: 'mount', optional: true, title: 'Mount' } },
  without: (v) => [...(v.through === 'matte' ? [] : ['matte' as const]), ...(v.with === 'colour' ? ['mount' as const] : [])],
  idle: (v) => v.amount <= 0,
  render({ pictures, width, height }, v, { matte, mount }) {
    if (v.through === 'matte' && !matte) return {};
    const layer = pictures.takePicture(width, height),
      o = layer.data,
      within = v.through === 'matte' ? (v.soft > 0 ? blur(matte!, v.soft / 2, pictures) : matte!) : null,
      [cx, cy] = mount.toPicture(v.place),
      [uByX, vByX, uByY, vByY] = inverseSlopes(mount, v.place),
      angle = radians(v.direction),
      ux = cos(angle) / Math.max(1e-3, v.extent),
      uy = sin(angle) / Math.max(1e-3, v.extent),
      plain = v.with === 'colour',
      across = v.with === 'gradient across';
    for (let y = 0, p = 0; y < height; y++) {
      const onY = y + 0.5 - cy;
      for (let x = 0; x < width; x++, p++) {
        const onX = x + 0.5 - cx,
          dx = onX * uByX + onY * uByY,
          dy = onX * vByX + onY * vByY,
          t = plain
            ? 0
            : across
              ? clamp(dx * ux + dy * uy + 0.5, 0, 1)
              : clamp(Math.sqrt(dx * dx + dy * dy) / Math.max(1e-3, v.extent), 0, 1),
          a = (within ? clamp(within.data[p]!, 0, 1) : 1) * v.amount * (1 - t * v.clear),
          i = p * 4;
        o[i] = (v.colour[0] + (v.other[0] - v.colour[0]) * t) * a;
        o[i + 1] = (v.colour[1] + (v.other[1] - v.colour[1]) * t) * a;
        o[i + 2] = (v.colour[2] + (v.other[2] - v.colour[2]) * t) * a;
        o[i + 3] = a;
      }
    }
    if (within && within !== matte) pictures.give(within);
    return { layer };
  },
  checks: [
    {
      id: 'no-matte',
      find: ({ matte, name, values }) =>
        matte || values.through !== 'matte'
          ? null
          : { text: `${name} goes through a matte, and there is none.`, fix: 'Choose a matte, or let it go through everything.' },
    },
  ],
  handles: [
    { shape: 'point', moves: 'place' },
    { shape: 'radius', sets: 'extent', about: 'place' },
  ],
});
