import { param } from '../../params/describe';
import { fillSmall } from '../fillSmall';
import { refinement } from './describe';

/** Takes small specks away. */
export const despeckle = refinement({
  kind: 'despeckle',
  title: 'Despeckle',
  summary: 'Removes specks that hang on nothing.',
  params: { area: param.area({ default: 400, title: 'Despeckle', help: 'Specks smaller than this, px², go.' }) },
  inputs: [],
  idle: ({ area }) => !(area > 0),
  apply(matte, { area }) {
    fillSmall(matte, area, 0.05, false, 0, false);
    return matte;
  },
});
