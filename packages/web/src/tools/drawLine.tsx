import type { Point } from '@wraithos/core/motion';
import { drawRowLine, drawnRows } from '@wraithos/core/shot';
import { BrushWay } from '../viewer/brushMarks';
import { colours } from '../viewer/marks';
import { toScreen, type Space } from '../viewer/space';
import { standingAt } from '../viewer/useStanding';
import { tracksNow } from '../workbench/tracks';
import { tool } from './describe';

/** A line of a row, as it is being drawn: whole-shot pixels; and what to do, in words for what the line is for. */
interface DrawingLine {
  row: string;
  hint: string;
  points: [number, number][];
}
/** Whole-shot pixels from one point of a line to the next: finer than the cells in which its order is worked out. */
const STEP = 3;
/** Width at which it is shown, pixels of the screen. */
const SHOWN = 2;

/** Draws lines for the frame at the playhead: where the front of an arrival stands, or the path of light. */
export const drawLine = tool<DrawingLine>()({
  kind: 'draw line',
  hint: (state) => state.hint,
  press: (state, at, { shot }) => (shot?.rows[state.row] ? { ...state, points: [at] } : null),
  drag(state, at) {
    const last = state.points.at(-1);
    return !last || Math.hypot(at[0] - last[0], at[1] - last[1]) < STEP ? state : { ...state, points: [...state.points, at] };
  },
  lift(state, { shot, frame, edit, set }) {
    const standing = shot && standingAt(shot, tracksNow(), state.row, frame),
      row = shot && drawnRows(shot).of(state.row)[0];
    if (standing && row && state.points.length) {
      if (frame < row.first || frame > row.last)
        set({ notice: `${row.name} is not there on this frame: it goes from ${row.first} to ${row.last}.` });
      else
        edit(
          drawRowLine(
            state.row,
            frame - row.first,
            state.points.map((p): Point => standing.body.toBody(p)),
          ),
        );
    }
    return { ...state, points: [] };
  },
  Overlay: ({ state, space }: { state: DrawingLine; space: Space }) =>
    state.points.length ? (
      <BrushWay points={state.points.map(([x, y]) => toScreen(space, x, y))} radius={SHOWN} colour={colours.mount} />
    ) : null,
});
