import { smoothstep } from '../image/exactMath';
import { blurSum, halfSigma } from '../image/blur';
import { withAddresses } from '../image/kernelCall';
import { noise2 } from '../image/noise';
import { param } from '../params/describe';
import { effect } from './describe';
import { discOfLight } from './disc';
import { recipes } from './recipes/glow';
import { surroundParam, thrownParams } from './surroundings';

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
  recipes,
  shown: { on: 'lantern' },
  lanes: ['whole', 'foreground', 'front', 'on', 'behind', 'background'],
  light: true,
  throws: (v) => v,
  facts: ['frame'],
  origin: 'middle',
  params: {
    from: param.choice({
      default: 'mount',
      of: ['mount', 'matte', 'all'],
      title: 'Source',
      help: 'A point on the mount, the bright parts inside the matte, or all bright parts.',
    }),
    startsAbove: param.share({
      default: 45,
      title: 'Threshold',
      range: [0, 400],
      help: 'Brightness above which the picture glows, % of display white.',
      when: { param: 'from', is: ['matte', 'all'] },
    }),
    place: param.point({
      default: [0, 0],
      title: 'Place',
      help: 'Centre of the glow, px from the mount.',
      when: { param: 'from', is: ['mount'] },
    }),
    reach: param.length({
      default: 150,
      title: 'Reach',
      range: [1, 1200],
      help: 'Radius of the widest part in px, 2 × standard deviation.',
    }),
    strength: param.share({ default: 70, title: 'Strength', range: [0, 1000] }),
    tint: param.colour({ default: '#ffb469', title: 'Tint' }),
    flicker: param.share({ default: 0, title: 'Flicker', help: 'Random change of strength from frame to frame, %.', rare: true }),
    seed: param.seed({ default: 1, title: 'Seed', rare: true }),
    ...surroundParam(0),
    ...thrownParams({ onSubject: 0, onGround: 0, inAir: 0 }),
  },
  inputs: {
    below: { kind: 'below', title: 'Picture below' },
    matte: { kind: 'matte', optional: true, title: 'Matte' },
    mount: { kind: 'mount', optional: true, title: 'Mount' },
  },
  without: (v) => (v.from === 'matte' ? ['mount'] : v.from === 'all' ? ['matte', 'mount'] : ['matte']),
  idle: (v) => v.strength <= 0 || v.reach <= 0,
  render(draw, v, { below, matte, mount }) {
    const { pictures, width, height } = draw,
      wander = v.flicker > 0 ? 1 - v.flicker * 0.5 + v.flicker * smoothstep(0, 1, wave(draw.frame, v.seed)) : 1,
      power = v.strength * wander;
    if (v.from === 'mount') {
      if (!mount.hung) return {};
      return { light: discOfLight(draw, mount, { ...v, power, colour: v.tint }) };
    }
    if (v.from === 'matte' && !matte) return {};
    const bright = pictures.takePicture((width + 1) >> 1, (height + 1) >> 1),
      level = v.startsAbove * v.startsAbove,
      within = v.from === 'matte' ? matte : null;
    withAddresses(pictures, [below, bright, ...(within ? [within] : [])], (from, to, where = 0) =>
      pictures.run('brightHalf', bright.height, from!, where, level, to!, width, height),
    );
    const parts = OCTAVES.map(({ spread, weight }) => {
      const k = weight * power * 2;
      return { sigma: halfSigma((v.reach * spread) / 2), weight: [v.tint[0] * k, v.tint[1] * k, v.tint[2] * k, 0] as const };
    });
    const light = blurSum(bright, parts, pictures);
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
