import { corner, flatten, type Vertex } from '@wraithos/core/matte';
import type { OutlineMode } from '@wraithos/core/shot';
import { useShot, type ShotState } from '../state/shotStore';
import { colours, Outlined, SetPoint } from '../viewer/marks';
import { toScreen, type Space } from '../viewer/space';
import { tool } from './describe';
import { putOutline } from './putOutline';

interface Drawing {
  matte: string;
  mode: OutlineMode;
  /** What is drawn so far, whole-shot pixels. */
  points: Vertex[];
}

/** Makes the outline and selects it; with fewer than three points there is nothing to close. */
function close(state: Drawing, now: ShotState): Drawing | null {
  if (state.points.length < 3) return state;
  putOutline(now, state.matte, state.mode, state.points);
  return null;
}

function Points({ state, space }: { state: Drawing; space: Space }) {
  const set = useShot((s) => s.set);
  if (!state.points.length) return null;
  // The line so far, without the way back to its beginning.
  const line = flatten([...state.points, state.points.at(-1)!], 1),
    shown: number[] = [];
  for (let i = 0; i < line.length; i += 2) shown.push(...toScreen(space, line[i]!, line[i + 1]!));
  return (
    <>
      <Outlined points={shown.slice(0, -2)} colour={colours.matte} />
      {state.points.map((v, i) => {
        const [sx, sy] = toScreen(space, v.x, v.y);
        return (
          <SetPoint
            key={i}
            x={sx}
            y={sy}
            first={i === 0}
            onPress={
              i === 0
                ? () => {
                    const next = close(state, useShot.getState());
                    set({ tool: next && { kind: 'draw outline', state: next } });
                  }
                : undefined
            }
          />
        );
      })}
    </>
  );
}

/** Draws an outline point by point: a press sets a corner, a drag a smooth point. The first point, or Enter, closes it. */
export const drawOutline = tool<Drawing>()({
  kind: 'draw outline',
  hint: ({ points }) =>
    `${points.length < 3 ? 'Click around the area; drag for a smooth point.' : 'Click the first point or press Enter to close it.'} Backspace takes the last point away, Esc leaves.`,
  press: (state, at) => ({ ...state, points: [...state.points, corner(...at)] }),
  drag(state, at) {
    const last = state.points.at(-1);
    if (!last) return state;
    const out: [number, number] = [at[0] - last.x, at[1] - last.y];
    // A hand that shakes while it clicks draws a corner.
    if (Math.hypot(...out) < 4) return state;
    return { ...state, points: [...state.points.slice(0, -1), { ...last, in: [-out[0], -out[1]], out }] };
  },
  key(state, key, now) {
    if (key === 'Enter') return close(state, now);
    if (key === 'Backspace') return { ...state, points: state.points.slice(0, -1) };
    return undefined;
  },
  Overlay: Points,
});
