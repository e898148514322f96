import { exp, pow } from '../image/exactMath';
import { gradeCurves, gradeMatrix, type ColourMatrix } from '../image/grade';
import { param, type Values } from '../params/describe';
import { effect } from './describe';
import { recipes } from './recipes/grade';

const params = {
  exposure: param.number({
    default: 0,
    title: 'Exposure',
    unit: 'stops',
    range: [-6, 6],
    step: 0.05,
    help: 'One stop is twice the light.',
  }),
  warmth: param.share({
    default: 0,
    title: 'Warmth',
    range: [-100, 100],
    help: 'Towards amber, or below 0 towards blue.',
    group: 'Balance',
  }),
  tint: param.share({
    default: 0,
    title: 'Green to magenta',
    range: [-100, 100],
    help: 'Below 0 towards green, above 0 towards magenta.',
    group: 'Balance',
  }),
  saturation: param.share({ default: 100, title: 'Saturation', range: [0, 300] }),
  lift: param.share({ default: 0, title: 'Lift', range: [-50, 50], step: 0.5, help: 'Moves black; white stays.', group: 'Tone' }),
  gamma: param.number({
    default: 1,
    title: 'Gamma',

    range: [0.2, 5],
    step: 0.01,
    help: 'Exponent of the middle tones; black and white stay.',
    group: 'Tone',
  }),
  gain: param.share({ default: 100, title: 'Gain', range: [0, 400], help: 'Moves white; black stays.', group: 'Tone' }),
  contrast: param.share({ default: 100, title: 'Contrast', range: [10, 300], help: 'Contrast about the pivot, %.', group: 'Tone' }),
  pivot: param.share({
    default: 18,
    title: 'Pivot',
    range: [1, 100],
    help: 'Light that contrast leaves as it is; 18 is middle grey.',
    group: 'Tone',
    rare: true,
  }),
};
type V = Values<typeof params>;

/** Light of red, green and blue, Rec.709. */
const LUMA = [0.2126, 0.7152, 0.0722] as const;
const twoTo = (x: number): number => exp(x * 0.6931471805599453);

/** Balance, exposure and gain, then saturation about the luma, then lift: one matrix with an offset. */
function gradeMatrixOf(v: V): ColourMatrix {
  const power = twoTo(v.exposure) * v.gain,
    balance = [twoTo(v.warmth * 0.5 + v.tint * 0.15), twoTo(-v.tint * 0.35), twoTo(-v.warmth * 0.5 + v.tint * 0.15)] as const,
    keep = 1 - v.lift,
    column = (c: 0 | 1 | 2) =>
      [0, 1, 2].map((to) => (LUMA[c] * (1 - v.saturation) + (to === c ? v.saturation : 0)) * balance[c] * power * keep);
  return [...column(0), ...column(1), ...column(2), v.lift, v.lift, v.lift] as unknown as ColourMatrix;
}

/** Exposure, balance, saturation and tone of the picture below, on linear light; values above white are kept. */
export const grade = effect({
  type: 'grade',
  version: 1,
  title: 'Grade',
  summary: 'Exposure, balance, saturation and tone of the picture below.',
  recipes,
  shown: { values: { exposure: -0.8, warmth: -38, saturation: 62, contrast: 112 } },
  lanes: ['whole', 'foreground', 'front', 'on', 'behind', 'background'],
  origin: 'middle',
  params,
  inputs: { below: { kind: 'below', title: 'Picture below' } },
  idle: (v) =>
    v.exposure === 0 &&
    v.warmth === 0 &&
    v.tint === 0 &&
    v.saturation === 1 &&
    v.lift === 0 &&
    v.gamma === 1 &&
    v.gain === 1 &&
    v.contrast === 1,
  render({ pictures }, v, { below }) {
    const graded = gradeMatrix(below, gradeMatrixOf(v), pictures);
    if (v.gamma === 1 && v.contrast === 1) return { changed: graded };
    const tone = (x: number) => pow(v.pivot * pow(x / v.pivot, v.contrast), 1 / v.gamma),
      changed = gradeCurves(graded, [tone, tone, tone], pictures);
    pictures.give(graded);
    return { changed };
  },
});
