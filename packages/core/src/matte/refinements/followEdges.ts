import { param } from '../../params/describe';
import { atPictureEdges } from '../pictureEdges';
import { refinement } from './describe';

/** Lets the edge follow the edges of the picture: hair, cloth, blurred motion. */
export const followEdges = refinement({
  kind: 'follow edges',
  title: "Follow the picture's edges",
  summary: 'Pulls a rough or too smooth edge onto the edges of the picture near it: hair, cloth, leaves.',
  params: {
    radius: param.length({
      default: 12,
      title: 'Looks within',
      range: [1, 100],
      step: 1,
      curve: false,
      help: 'Distance in px to both sides of the edge in which the matte may change.',
    }),
    noise: param.share({
      default: 2,
      title: 'Noise',
      range: [0.1, 20],
      step: 0.1,
      curve: false,
      help: 'Contrast, % of the display range, up to which the picture counts as even.',
    }),
  },
  inputs: ['plate'],
  apply(matte, { radius, noise }, pictures, { plate }) {
    const out = atPictureEdges(plate, matte, radius, noise, pictures);
    pictures.give(matte);
    return out;
  },
});
