import { findPerson } from '../steps/findPerson';
import { tool } from './describe';

/** Finds the person who is pressed, on every frame of the clip. */
export const pickPerson = tool<object>()({
  kind: 'pick person',
  hint: () => 'Click the middle of a person, on a frame that shows as much of the body as can be. Esc leaves.',
  press(_, at) {
    void findPerson(at);
    return null;
  },
});
