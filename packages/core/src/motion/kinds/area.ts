import { param } from '../../params/describe';
import { AreaTracker } from '../areaTracker';
import { AffineFrame } from '../frame';
import { layerParams, placeAt } from '../layers';
import { measureParams } from '../measured';
import { trackKind } from './describe';
import { pointFrame } from './point';

/** An area of the picture, with its turn and growth. */
export const area = trackKind({
  kind: 'area',
  title: 'Area',
  summary:
    'Follows an area by many places of it: its mean motion, turn and growth. For cloth, faces, and whatever has little that is sharp.',
  click: 'the middle of what is to be followed',
  params: {
    area: param.number({
      default: 121,
      title: 'Area',
      unit: 'px',
      range: [31, 801],
      step: 2,
      curve: false,
      help: 'Side of the square that is followed, px. What lies in it and moves otherwise, such as the background, is left out.',
    }),
    ...measureParams,
    ...layerParams,
  },
  fit: (v) => ({ ...v, area: Math.min(801, Math.max(31, Math.round((v.area - 1) / 2) * 2 + 1)) }),
  boxes: ['area'],
  follow: (v, luma, clipFrame, { x, y }) => new AreaTracker(luma, clipFrame, [x, y], v),
  frame({ samples, reference }, clipFrame) {
    const at = pointFrame(samples, clipFrame),
      now = placeAt(samples, clipFrame),
      then = placeAt(samples, reference);
    return at && now && then ? AffineFrame.turned(at.x, at.y, now.rotation - then.rotation, now.scale / then.scale, at) : at;
  },
});
