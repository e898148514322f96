import { clipOfSource, pickColour as pick } from '@wraithos/core/shot';
import { colourAt } from '../workers/colourAt';
import { tool } from './describe';
import { onMatte } from './onMatte';

/** Takes a colour of a matte's source from the picture. */
export const pickColour = tool<{ matte: string; source: string; param: string }>()({
  kind: 'pick colour',
  hint: () => 'Click the colour. Esc leaves.',
  press({ matte, source, param }, [x, y], { shot, frame, edit, set }) {
    const of = shot?.mattes[matte],
      entry = of?.sources.find((one) => one.id === source);
    if (shot && of && entry)
      colourAt(shot, frame, x, y, clipOfSource(shot, of, entry)?.id).then(
        (colour) => {
          const [px, py] = onMatte({ shot, frame }, matte, [x, y]);
          if (colour) edit(pick(shot, matte, source, param, colour, [Math.round(px), Math.round(py)]));
        },
        (error: Error) => set({ notice: error.message }),
      );
    return null;
  },
});
