import { param } from '../../params/describe';
import { differenceMatte } from '../keys';
import { wholeBody } from '../wholeBody';
import { matteSource } from './describe';

/** What is in the plate and not in the clean plate. */
export const difference = matteSource({
  kind: 'difference',
  title: 'Difference from the clean plate',
  called: 'Difference',
  summary: 'Everything that differs from the clean plate.',
  params: {
    looks: param.choice({
      default: 'the whole body',
      of: ['the whole body', 'each pixel that differs'],
      title: 'Looks for',
      help: 'The whole body measures grain and light by itself, and closes what is like the background. Each pixel that differs goes by the threshold alone.',
    }),
    threshold: param.number({
      default: 5,
      title: 'Threshold',
      unit: '%',
      range: [0, 100],
      step: 0.1,
      curve: false,
      when: { param: 'looks', is: ['each pixel that differs'] },
      help: 'Difference at which a pixel counts as subject, % of the display range.',
    }),
    softness: param.number({
      default: 3,
      title: 'Softness',
      unit: '%',
      range: [0, 100],
      step: 0.1,
      curve: false,
      when: { param: 'looks', is: ['each pixel that differs'] },
      help: 'Width of the ramp around the threshold, % of the display range.',
    }),
    smooth: param.length({
      default: 3,
      title: 'Smooth',
      range: [0, 40],
      step: 0.5,
      curve: false,
      when: { param: 'looks', is: ['each pixel that differs'] },
      help: 'Smooths the difference first, against grain: radius in px, 2 × standard deviation.',
    }),
    shadow: param.choice({
      default: 'dropped',
      of: ['kept', 'dropped'],
      title: 'Shadow',
      help: 'Dropped leaves out what is only the clean plate made darker, or lit: by a lamp in a hand too, in its own colour.',
    }),
  },
  inputs: ['plate', 'clean'],
  refined: { blur: 1.5, despeckle: 400, fillHoles: 4000 },
  make: ({ pictures }, v, { plate, clean }) =>
    v.looks === 'the whole body' ? wholeBody(plate, clean, v.shadow, pictures) : differenceMatte(plate, clean, v, pictures),
});
