import { RenderPage } from '../render/RenderPage';
import { plainView, type StepDefinition } from './describe';

export const render: StepDefinition = {
  id: 'render',
  title: 'Render',
  about: 'Look the shot over, and make the film.',
  hint: '',
  Page: RenderPage,
  settles: [],
  view: () => ({ ...plainView, plain: false }),
};
