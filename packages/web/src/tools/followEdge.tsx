import { useEffect } from 'react';
import { EdgePaths, type EdgeCosts } from '@wraithos/core/matte';
import { matteClip, type OutlineMode } from '@wraithos/core/shot';
import { useShot, type ShotState } from '../state/shotStore';
import { colours, Outlined, SetPoint } from '../viewer/marks';
import { usePointer } from '../viewer/pointer';
import { toScreen, type Space } from '../viewer/space';
import { Dropped, drawer } from '../workers/pool';
import { tool } from './describe';
import { fitted } from './drawShape';
import { putOutline } from './putOutline';

/** Points that were set along an edge, with the way along it from each to the next, whole-shot pixels. */
interface Following {
  matte: string;
  mode: OutlineMode;
  /** One way a point: from the point before, which is in the first one alone. */
  ways: [number, number][][];
}
/** How far around a point ways are looked for, a share of the picture's width. */
const REACH = 0.22;
/** A press so near to the first point closes the outline, pixels of the screen at full size. */
const CLOSES = 9;

/** Costs of the picture that is shown, and the ways from the point that was set last. */
let known: { shot: ShotState['shot']; frame: number; clip: string | null; costs: EdgeCosts; factor: number } | null = null;
let paths: EdgePaths | null = null;
let asked = '';

/** Has the costs of the picture at the playhead looked up, once. */
function look(matte: string, { shot, frame, set }: Pick<ShotState, 'shot' | 'frame' | 'set'>): void {
  const of = shot?.mattes[matte];
  if (!shot || !of) return;
  const clip = matteClip(shot, of)?.id ?? null,
    key = `${shot.code} ${clip} ${frame}`;
  if (known && known.clip === clip && known.frame === frame && known.shot?.clips === shot.clips) return;
  if (asked === key) return;
  // Edges of another picture say nothing here.
  asked = key;
  known = paths = null;
  drawer()
    .ask({ kind: 'edge costs', shot: { ...shot, rows: {} }, clip, frame }, 10)
    .then(
      (answer) => {
        if (answer.kind === 'edge costs' && asked === key) known = { shot, frame, clip, costs: answer.costs, factor: answer.factor };
      },
      (error: Error) => {
        if (!(error instanceof Dropped)) set({ notice: error.message });
      },
    )
    .finally(() => {
      if (asked === key) asked = '';
    });
}
/** The way along the edges from a place to another; straight while the costs are not there. */
function wayTo(from: readonly [number, number], to: readonly [number, number]): [number, number][] {
  if (!known) return [[...from], [...to]];
  const { costs, factor } = known,
    [fx, fy] = [from[0] / factor, from[1] / factor];
  if (!paths || paths.from[0] !== fx || paths.from[1] !== fy) paths = new EdgePaths(costs, [fx, fy], Math.round(REACH * costs.width));
  return paths.to([to[0] / factor, to[1] / factor]).map(([x, y]): [number, number] => [x * factor, y * factor]);
}

/** Closes the outline along the edges and makes it; with fewer than three points there is nothing to close. */
function close(state: Following, now: ShotState): Following | null {
  const { ways } = state;
  if (ways.length < 3) return state;
  const all = [...ways.flat(), ...wayTo(ways.at(-1)!.at(-1)!, ways[0]![0]!).slice(1, -1)];
  putOutline(now, state.matte, state.mode, fitted(all));
  paths = known = null;
  return null;
}

function Edge({ state, space }: { state: Following; space: Space }) {
  const { shot, frame, set } = useShot(),
    at = usePointer((s) => s.at),
    { ways, matte } = state;
  useEffect(() => look(matte, { shot, frame, set }), [matte, shot, frame, set]);
  const last = ways.at(-1)?.at(-1),
    ahead = at && last ? wayTo(last, at) : [],
    line = (points: readonly (readonly [number, number])[]) => points.flatMap(([x, y]) => toScreen(space, x, y));
  return (
    <>
      {ways.length > 0 && <Outlined points={line(ways.flat())} colour={colours.matte} />}
      {ahead.length > 1 && <Outlined points={line(ahead)} colour={colours.matte} dash={[3, 3]} />}
      {ways.map((way, i) => {
        const [x, y] = toScreen(space, ...way.at(-1)!);
        return <SetPoint key={i} x={x} y={y} first={i === 0} />;
      })}
    </>
  );
}

/** Draws an outline that runs along the edges of the picture from point to point. */
export const followEdge = tool<Following>()({
  kind: 'follow edge',
  hint: ({ ways }) =>
    `${ways.length < 3 ? 'Click along an edge: the line follows it from point to point.' : 'Click the first point or press Enter to close it.'} Backspace takes the last point away, Esc leaves.`,
  press(state, at, now) {
    const { ways } = state,
      first = ways[0]?.[0];
    if (!first) return { ...state, ways: [[at]] };
    if (ways.length >= 3 && Math.hypot(at[0] - first[0], at[1] - first[1]) < CLOSES) return close(state, now);
    return { ...state, ways: [...ways, wayTo(ways.at(-1)!.at(-1)!, at).slice(1)] };
  },
  key(state, key, now) {
    if (key === 'Enter') return close(state, now);
    if (key === 'Backspace') return { ...state, ways: state.ways.slice(0, -1) };
    return undefined;
  },
  Overlay: Edge,
});
