import { layerParams } from '../layers';
import { area } from './area';
import { trackKind } from './describe';

/** Faces jump about a little from frame to frame where they are found: calmed so much at first. */
export const faceLayers = { ...layerParams, smoothing: { ...layerParams.smoothing, default: 40 } };

/** The face of a filmed person, as a whole. */
export const face = trackKind({
  kind: 'face',
  title: 'Face',
  summary: 'Finds the face of a filmed person on every frame: eyes, pupils, brows, mouth and outline each become a track, the lids gates.',
  click: 'the face',
  params: faceLayers,
  boxes: [],
  finds: 'face',
  frame: area.frame as never,
});
