import { param } from '../../params/describe';
import { layerParams } from '../layers';
import { matteSpots } from '../matteMeter';
import { area } from './area';
import { trackKind } from './describe';

/** A matte's middle or edge: for what has nothing sharp to follow, and is cut out anyway. */
export const matte = trackKind({
  kind: 'matte',
  title: 'Matte',
  summary:
    'Stands in the middle of a matte or at one of its edges, and turns and grows with it. For bodies that have nothing sharp to follow.',
  params: {
    spot: param.choice({ default: 'in its middle', of: matteSpots, title: 'Stands', help: 'Place on the matte that the track keeps to.' }),
    ...layerParams,
  },
  boxes: [],
  joins: 'matte',
  finds: 'matte',
  frame: area.frame as never,
});
