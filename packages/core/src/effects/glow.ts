import { exp, smoothstep } from '../image/exactMath';
import { blur } from '../image/blur';
import { noise2 } from '../image/noise';
import { effect, param } from './describe';

const OCTAVES = [
  { spread: 0.22, weight: 0.5 },
  { spread: 0.55, weight: 0.32 },
  { spread: 1, weight: 0.18 },
];

/**
 * Light that spreads from what is bright. Around a mount it spreads from a soft point of its own there, so its middle is exactly
 * the mount's place whatever the picture shows; elsewhere from the parts of the picture (or of the matte) above a level.
 */
export const glow = effect({
  type: 'glow',
  version: 1,
  title: 'Glow',
  summary: 'Light that spreads from a mount, a matte or everything bright, and spills past edges.',
  lanes: ['whole', 'foreground', 'front', 'on', 'behind', 'background'],
  light: true,
  origin: 'middle',
  params: {
    from: param.choice({
      default: 'mount',
      of: ['mount', 'matte', 'all'],
      title: 'Shines from',
      help: 'A point on the mount, the bright parts inside the matte, or all bright parts.',
    }),
    startsAbove: param.share({
      default: 45,
      title: 'Starts above',
      range: [0, 400],
      help: 'Brightness above which the picture glows, of display white.',
      when: { param: 'from', is: ['matte', 'all'] },
    }),
    place: param.point({ default: [0, 0], title: 'Offset', help: 'From the mount.', when: { param: 'from', is: ['mount'] } }),
    reach: param.length({ default: 150, title: 'Reach', range: [1, 1200], help: 'Radius (twice the deviation) of its widest part.' }),
    strength: param.share({ default: 70, title: 'Strength', range: [0, 1000] }),
    tint: param.colour({ default: '#ffb469', title: 'Tint' }),
    flicker: param.share({ default: 0, title: 'Flicker', help: 'How much its strength wanders from frame to frame.', rare: true }),
    seed: param.seed({ default: 1, title: 'Seed', rare: true }),
  },
  inputs: {
    below: { kind: 'below', title: 'Picture below' },
    matte: { kind: 'matte', optional: true, title: 'Matte' },
    mount: { kind: 'mount', optional: true, title: 'Mount' },
  },
  idle: (v) => v.strength <= 0 || v.reach <= 0,
  reach: () => 'everywhere',
  render(draw, v, { below, matte, mount }) {
    const { pictures, width, height } = draw,
      light = pictures.takePicture(width, height),
      o = light.data;
    o.fill(0);
    const wander = v.flicker > 0 ? 1 - v.flicker * 0.5 + v.flicker * smoothstep(0, 1, wave(draw.frame, v.seed)) : 1,
      power = v.strength * wander;
    if (v.from === 'mount') {
      if (!mount) return { light };
      // Sum of soft discs whose middle is the mount; each pixel from its own distance, so no resampling moves it.
      const cx = mount.x * draw.scale + v.place[0],
        cy = mount.y * draw.scale + v.place[1],
        far = v.reach * 1.8;
      for (let y = Math.max(0, Math.floor(cy - far)); y < Math.min(height, cy + far); y++)
        for (let x = Math.max(0, Math.floor(cx - far)); x < Math.min(width, cx + far); x++) {
          const dx = x + 0.5 - cx,
            dy = y + 0.5 - cy,
            d = Math.sqrt(dx * dx + dy * dy) / v.reach;
          if (d >= 1.8) continue;
          const fall = (0.62 * exp(-d * d * 60) + 0.3 * exp(-d * 7) + 0.16 * exp(-d * 2.6)) * smoothstep(1.8, 0.9, d) * power,
            i = (y * width + x) * 4;
          for (let c = 0; c < 3; c++) o[i + c] = v.tint[c]! * fall;
        }
      return { light };
    }
    const bright = pictures.takePicture(width, height),
      b = bright.data,
      p = below.data,
      level = v.startsAbove * v.startsAbove;
    for (let i = 0, k = 0; i < b.length; i += 4, k++) {
      const most = Math.max(p[i]!, p[i + 1]!, p[i + 2]!),
        over = most > level ? (most - level) / most : 0,
        inside = v.from === 'matte' ? (matte ? matte.data[k]! : 0) : 1;
      for (let c = 0; c < 3; c++) b[i + c] = p[i + c]! * over * inside;
      b[i + 3] = 0;
    }
    for (const octave of OCTAVES) {
      const soft = blur(bright, (v.reach * octave.spread) / 2, pictures),
        s = soft.data;
      for (let i = 0; i < o.length; i += 4) for (let c = 0; c < 3; c++) o[i + c]! += s[i + c]! * v.tint[c]! * octave.weight * power * 2;
      pictures.give(soft);
    }
    pictures.give(bright);
    return { light };
  },
  checks: [
    {
      id: 'no-mount',
      find: ({ mount, name, values }) =>
        mount || values.from !== 'mount'
          ? null
          : {
              text: `${name} shines from a mount, but hangs on nothing.`,
              fix: 'Choose what it hangs on, or let it shine from a matte or from all.',
            },
    },
    {
      id: 'no-matte',
      find: ({ matte, name, values }) =>
        matte || values.from !== 'matte'
          ? null
          : { text: `${name} shines from a matte, and there is none.`, fix: 'Choose a matte, or let it shine from all.' },
    },
  ],
  handles: [
    { shape: 'point', moves: 'place' },
    { shape: 'radius', sets: 'reach', about: 'place' },
  ],
});

/** A slow random wave 0..1. */
function wave(frame: number, seed: number): number {
  return noise2(frame / 3.1, 0.5, seed + 700);
}
