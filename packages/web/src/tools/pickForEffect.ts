import { setValue } from '@wraithos/core/shot';
import { boxAt, colourIn } from '../workers/colourIn';
import { tool } from './describe';

/** Takes a colour of an effect from the plate. */
export const pickForEffect = tool<{ row: string; param: string }>()({
  kind: 'pick for effect',
  hint: () => 'Click the colour on the plate. Esc leaves.',
  press({ row, param }, [x, y], { shot, frame, edit, set }) {
    if (shot)
      colourIn(shot, frame, boxAt(x, y)).then(
        (colour) => colour && edit(setValue(row, param, colour)),
        (error: Error) => set({ notice: error.message }),
      );
    return null;
  },
});
