import { param } from '../../params/describe';
import { matteSource } from './describe';

/** What an effect draws, as a matte: so one row feeds the displacement, the particles, the glow or the limit of another. */
export const row = matteSource({
  kind: 'row',
  title: 'The picture of an effect',
  called: 'Effect',
  summary: 'The picture that an effect of this shot draws, as its cover or its brightness. A muted effect counts too.',
  params: {
    of: param.choice({
      default: 'cover and light',
      of: ['cover and light', 'cover', 'light'],
      title: 'Value of',
      help: 'Measures what the effect covers, how bright its picture is on the display, or the larger of the two.',
    }),
    gain: param.share({
      default: 100,
      title: 'Gain',
      range: [0, 2000],
      curve: false,
      help: 'Multiplies the value, %.',
    }),
  },
  names: 'row',
  inputs: ['row'],
  refined: { blur: 0, despeckle: 0, fillHoles: 0 },
  make({ pictures }, v, { row: drawn }) {
    const { width, height, data } = drawn,
      out = pictures.takePlane(width, height),
      o = out.data,
      [covers, lights] = [v.of !== 'light', v.of !== 'cover'];
    for (let p = 0, i = 0; p < o.length; p++, i += 4) {
      const cover = covers ? data[i + 3]! : 0,
        // Luma weights of Rec. 709; the square root stands for the display's curve.
        light = lights ? Math.sqrt(Math.max(0, 0.2126 * data[i]! + 0.7152 * data[i + 1]! + 0.0722 * data[i + 2]!)) : 0;
      o[p] = Math.min(1, v.gain * Math.max(cover, light));
    }
    return out;
  },
});
