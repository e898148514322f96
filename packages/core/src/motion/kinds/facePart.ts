import { param } from '../../params/describe';
import { faceParts } from '../face';
import { area } from './area';
import { trackKind } from './describe';
import { faceLayers } from './face';

/** One part of a face that was found. */
export const facePart = trackKind({
  kind: 'face part',
  title: 'Part of a face',
  summary: 'An eye, a pupil, a brow, the mouth or the outline of a face. It turns and grows with the face.',
  params: {
    part: param.choice({
      default: 'left eye',
      of: faceParts,
      title: 'Part',
      help: "Left and right are the person's own: the left eye of somebody who looks into the camera is on the right of the screen.",
    }),
    ...faceLayers,
  },
  boxes: [],
  joins: 'pair',
  joinWords: ['Face', 'The face that it is a part of.'],
  finds: 'face',
  frame: area.frame as never,
});
