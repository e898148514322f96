import { Circle } from 'react-konva';
import { addOutline, type OutlineMode } from '@wraithos/core/shot';
import { onMatte } from './onMatte';
import { useShot, type ShotState } from '../state/shotStore';
import { colours, Outlined } from '../viewer/marks';
import { toScreen, type Space } from '../viewer/space';
import { tool } from './describe';

interface Drawing {
  matte: string;
  mode: OutlineMode;
  points: [number, number][];
}

/** Makes the outline and selects it; with fewer than three points there is nothing to close. */
function close(state: Drawing, now: ShotState): Drawing | null {
  const { edit, set } = now;
  if (state.points.length < 3) return state;
  edit(
    addOutline(
      state.matte,
      state.mode,
      state.points.map((p) => onMatte(now, state.matte, p)),
    ),
  );
  set({ outline: useShot.getState().shot!.mattes[state.matte]!.outlines.at(-1)?.id ?? null });
  return null;
}

function Points({ state, space }: { state: Drawing; space: Space }) {
  const set = useShot((s) => s.set);
  if (!state.points.length) return null;
  return (
    <>
      <Outlined points={state.points.flatMap(([x, y]) => toScreen(space, x, y))} colour={colours.matte} />
      {state.points.map(([x, y], i) => {
        const [sx, sy] = toScreen(space, x, y);
        return (
          <Circle
            key={i}
            x={sx}
            y={sy}
            radius={i === 0 ? 6 : 3.5}
            fill={colours.dark}
            stroke={colours.matte}
            strokeWidth={2}
            hitStrokeWidth={i === 0 ? 10 : 0}
            listening={i === 0}
            onMouseDown={(e) => {
              e.cancelBubble = true;
              const next = close(state, useShot.getState());
              set({ tool: next && { kind: 'draw outline', state: next } });
            }}
          />
        );
      })}
    </>
  );
}

/** Draws an outline point by point; the first point, or Enter, closes it. */
export const drawOutline = tool<Drawing>()({
  kind: 'draw outline',
  hint: ({ points }) =>
    `${points.length < 3 ? 'Click around the area.' : 'Click the first point or press Enter to close it.'} Backspace takes the last point away, Esc leaves.`,
  press: (state, at) => ({ ...state, points: [...state.points, at] }),
  key(state, key, now) {
    if (key === 'Enter') return close(state, now);
    if (key === 'Backspace') return { ...state, points: state.points.slice(0, -1) };
    return undefined;
  },
  Overlay: Points,
});
