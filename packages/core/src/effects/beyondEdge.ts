import { edgeNames } from '../image/warp';
import { param } from '../params/describe';

/** The parameter of every effect that moves the picture: what comes in from beyond its edges. */
export const beyondEdge = param.choice({
  default: 'mirror',
  of: edgeNames,
  title: 'Beyond the edge',
  help: 'Stand-in for pixels beyond the picture: its mirror image, or its last pixels.',
  rare: true,
});
