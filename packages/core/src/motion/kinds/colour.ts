import { param } from '../../params/describe';
import { ColourTracker } from '../colourTracker';
import { layerParams } from '../layers';
import { area } from './area';
import { trackKind } from './describe';

/** A connected area of one colour, with its turn and growth: for drawings. */
export const colour = trackKind({
  kind: 'colour',
  title: 'Colour area',
  summary: 'Follows a connected area of one colour: its middle, turn and growth. For drawings, also where each is shown for two frames.',
  click: 'the colour to follow',
  params: {
    tolerance: param.share({
      default: 15,
      title: 'Tolerance',
      curve: false,
      help: 'Largest difference from the colour that still counts as it.',
    }),
    search: param.number({
      default: 161,
      title: 'Search',
      unit: 'px',
      range: [11, 801],
      step: 2,
      curve: false,
      help: 'Side of the box that it is looked for in, px, around where it was.',
    }),
    ...layerParams,
  },
  boxes: ['search'],
  follow(v, _, clipFrame, { x, y }, codes) {
    const tracker = new ColourTracker(codes, clipFrame, [x, y], v);
    return { start: tracker.start, step: (__, frame, next) => tracker.step(next, frame) };
  },
  frame: area.frame as never,
});
