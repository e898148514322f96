import { clipOfSource, pickColour as pick } from '@wraithos/core/shot';
import type { ShotState } from '../state/shotStore';
import { colours, Outlined } from '../viewer/marks';
import { toScreen, type Space } from '../viewer/space';
import { boxAt, colourIn, type PictureBox } from '../workers/colourIn';
import { tool } from './describe';
import { onMatte } from './onMatte';

interface Picking {
  matte: string;
  source: string;
  param: string;
  /** Where it was pressed and where the pointer is, whole-shot pixels. */
  drag?: readonly [readonly [number, number], readonly [number, number]];
}
/** A drag shorter than this, pixels, is a click. */
const CLICK = 4;

/** The part of the picture that was dragged over; a few pixels about a click. */
function boxOf(drag: NonNullable<Picking['drag']>): PictureBox {
  const [[ax, ay], [bx, by]] = drag;
  return Math.hypot(bx - ax, by - ay) < CLICK ? boxAt(ax, ay) : [Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by)];
}
function take({ matte, source, param, drag }: Picking, { shot, frame, edit, set }: ShotState): void {
  const of = shot?.mattes[matte],
    entry = of?.sources.find((one) => one.id === source);
  if (!shot || !of || !entry || !drag) return;
  colourIn(shot, frame, boxOf(drag), clipOfSource(shot, of, entry)?.id).then(
    (colour) => {
      const [px, py] = onMatte({ shot, frame }, matte, drag[0]);
      if (colour) edit(pick(shot, matte, source, param, colour, [Math.round(px), Math.round(py)]));
    },
    (error: Error) => set({ notice: error.message }),
  );
}

function Box({ state: { drag }, space }: { state: Picking; space: Space }) {
  if (!drag) return null;
  const [l, t, r, b] = boxOf(drag),
    corners = [
      [l, t],
      [r, t],
      [r, b],
      [l, b],
    ] as const;
  return <Outlined points={corners.flatMap(([x, y]) => toScreen(space, x, y))} closed colour={colours.matte} />;
}

/** Takes a colour of a matte's source from the picture: of a place, or of a box that is dragged. */
export const pickColour = tool<Picking>()({
  kind: 'pick colour',
  hint: () => 'Click the colour, or drag a box over an even part of it. Esc leaves.',
  press: (state, at) => ({ ...state, drag: [at, at] }),
  drag: (state, at) => (state.drag ? { ...state, drag: [state.drag[0], at] } : state),
  lift(state, now) {
    take(state, now);
    return null;
  },
  Overlay: Box,
});
