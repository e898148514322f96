import { param } from '../../params/describe';
import { fillSmall } from '../fillSmall';
import { refinement } from './describe';

/** Closes small holes. */
export const fillHoles = refinement({
  kind: 'fill holes',
  title: 'Fill holes',
  summary: 'Closes holes inside the matte; bays that are open to the outside stay.',
  params: { area: param.area({ default: 4000, title: 'Fill holes', step: 100, help: 'Holes smaller than this, px², are closed.' }) },
  inputs: [],
  idle: ({ area }) => !(area > 0),
  apply(matte, { area }) {
    fillSmall(matte, area, 0.95, true, 1, true);
    return matte;
  },
});
