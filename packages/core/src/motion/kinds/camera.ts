import { quadToQuad, type Quad } from '../fitHomography';
import { AffineFrame } from '../frame';
import { layerParams, placeAt } from '../layers';
import { measureParams } from '../measured';
import { PlaneTracker } from '../planeTracker';
import { SeenFrame } from '../seen';
import { trackKind } from './describe';
import { pointFrame } from './point';

/** Share of the picture that is left out at each of its sides: what comes in there was not there before. */
const INSET = 0.06;

/** Deviation of a corner of the picture that is borne, pixels: what hangs on the camera lies nearer to its middle, where it is a third of that. */
const STEADY = 0.32;

/** The camera, by all of the picture that moves as one. */
export const camera = trackKind({
  kind: 'camera',
  title: 'Camera',
  summary:
    'Follows how the whole picture moves, turns and grows with the camera; whoever moves in it has no say. What hangs on it stays in the scene.',
  params: { ...measureParams, ...layerParams },
  boxes: [],
  follow(_, luma, clipFrame, { x, y, corners }) {
    const [l, t] = [luma.width * INSET, luma.height * INSET],
      [r, b] = [luma.width - l, luma.height - t],
      whole: Quad = [
        [l, t],
        [r, t],
        [r, b],
        [l, b],
      ];
    return new PlaneTracker(luma, clipFrame, [x, y], { corners: corners ?? whole, learns: true, steady: STEADY });
  },
  frame({ samples, reference }, clipFrame) {
    const standing = pointFrame(samples, clipFrame),
      now = placeAt(samples, clipFrame),
      then = placeAt(samples, reference),
      map = now?.corners && then?.corners ? quadToQuad(then.corners, now.corners) : null;
    return standing && map && then ? new SeenFrame(new AffineFrame(then.x, then.y, undefined, standing), map) : standing;
  },
});
