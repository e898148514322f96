import { isolate } from '../steps/isolate';
import { tool } from './describe';

/** Isolates the body that is pressed, through the whole clip. */
export const isolateBody = tool<object>()({
  kind: 'isolate',
  hint: () => 'Click the middle of a body, on a frame that shows it whole and apart from others. Esc leaves.',
  press(_, at) {
    void isolate(at);
    return null;
  },
});
