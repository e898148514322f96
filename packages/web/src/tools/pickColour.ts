import { matteSource, pickColour as pick } from '@wraithos/core/shot';
import { colourAt } from '../workers/colourAt';
import { tool } from './describe';
import { onMatte } from './onMatte';

/** Takes a colour of a matte's source from the picture. */
export const pickColour = tool<{ matte: string; param: string }>()({
  kind: 'pick colour',
  hint: () => 'Click the colour. Esc leaves.',
  press({ matte, param }, [x, y], { shot, frame, edit, set }) {
    if (shot)
      colourAt(shot, frame, x, y, matteSource(shot, shot.mattes[matte]!)?.id).then(
        (colour) => {
          const [px, py] = onMatte({ shot, frame }, matte, [x, y]);
          if (colour) edit(pick(shot, matte, param, colour, [Math.round(px), Math.round(py)]));
        },
        (error: Error) => set({ notice: error.message }),
      );
    return null;
  },
});
