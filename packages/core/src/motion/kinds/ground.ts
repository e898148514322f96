import { param, type StoredOf } from '../../params/describe';
import { layerParams } from '../layers';
import { measureParams } from '../measured';
import { trackKind, type Measured } from './describe';
import { cornerParams, drawnCorners, followCorners, planeFrame, rectangleOf } from './plane';

const metres = (title: string, help: string) =>
  param.number({ default: 2, title, unit: 'm', range: [0.01, 10_000], step: 0.1, curve: false, help });
/** A rectangle on the floor: its corners on the picture, and how large it is. */
export const groundParams = {
  ...cornerParams,
  topLeft: { ...cornerParams.topLeft, default: [-110, -40] as const },
  topRight: { ...cornerParams.topRight, default: [110, -40] as const },
  bottomRight: { ...cornerParams.bottomRight, default: [180, 50] as const },
  bottomLeft: { ...cornerParams.bottomLeft, default: [-180, 50] as const },
  wide: metres('Width on the floor', 'Length of the side that runs from left to right, metres.'),
  deep: metres('Depth on the floor', 'Length of the side that runs away from the camera, metres.'),
};
const params = { ...groundParams, ...measureParams, ...layerParams };
type Ground = StoredOf<typeof groundParams>;

/** Pixels of the floor's own plane for each metre, as what lies on it counts them. */
export const floorPixelsPerMetre = (v: Ground): number => rectangleOf(drawnCorners(v, [0, 0]), v.wide / v.deep).width / v.wide;

/** The floor, by a rectangle of known size on it. */
export const ground = trackKind({
  kind: 'ground',
  title: 'Ground',
  summary: 'The floor, by a rectangle of known size on it: what hangs on it lies flat, and heights in metres follow from it.',
  click: 'the middle of a rectangle on the floor',
  params,
  boxes: [],
  corners: ['topLeft', 'topRight', 'bottomRight', 'bottomLeft'],
  goesOn: true,
  follow: followCorners,
  frame: (measured: Measured<Ground>, clipFrame) =>
    planeFrame(
      {
        ...measured,
        values: { ...measured.values, lies: 'flat on it', proportion: measured.values.wide / measured.values.deep },
      },
      clipFrame,
    ),
});
