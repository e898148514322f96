import { create } from 'zustand';
import { corner, insideOf, type AreaLine, type AreaStroke } from '@wraithos/core/matte';
import { matteClip, together, type OutlineMode } from '@wraithos/core/shot';
import { useShot, type ShotState } from '../state/shotStore';
import { BrushRing, BrushWay } from '../viewer/brushMarks';
import { usePointer } from '../viewer/pointer';
import { colours, Outlined } from '../viewer/marks';
import { toScreen, type Space } from '../viewer/space';
import { Dropped, drawer } from '../workers/pool';
import { tool } from './describe';
import { fitted } from './drawShape';
import { outlineEdit } from './putOutline';

/** Strokes over what is inside and outside of an area, whole-shot pixels. */
interface Stroking {
  matte: string;
  mode: OutlineMode;
  inside: boolean;
  strokes: AreaStroke[];
}
/** The lines around the area that the strokes mean, as far as they were found. */
const useFound = create<{ lines: AreaLine[]; looking: boolean }>(() => ({ lines: [], looking: false }));
/** Radius of the brush, a share of the picture's width. */
const BRUSH = 0.006;
/** Areas smaller than this share of the largest one are crumbs, and are left out. */
const CRUMB = 0.02;
let asked = 0;

/** Asks what the strokes mean; an answer that is overtaken is dropped. */
async function look({ matte, strokes }: Stroking, { shot, frame, set }: ShotState): Promise<void> {
  const own = ++asked,
    of = shot?.mattes[matte];
  if (!shot || !of || !strokes.some((s) => s.inside)) {
    useFound.setState({ lines: [], looking: false });
    return;
  }
  useFound.setState({ looking: true });
  try {
    const answer = await drawer().ask(
      { kind: 'strokes', shot: { ...shot, rows: {} }, clip: matteClip(shot, of)?.id ?? null, frame, strokes },
      10,
    );
    if (own !== asked || answer.kind !== 'strokes') return;
    const largest = Math.max(0, ...answer.lines.map((l) => l.area));
    const meant = answer.lines.filter((l) => {
      const inside = insideOf(l.points.map(([x, y]) => corner(x, y)));
      // An area that no stroke is in only looks alike.
      return l.area >= CRUMB * largest && (l.hole || strokes.some((s) => s.inside && s.points.some((p) => inside(p))));
    });
    useFound.setState({ lines: meant, looking: false });
  } catch (error) {
    if (error instanceof Dropped || own !== asked) return;
    useFound.setState({ looking: false });
    set({ notice: (error as Error).message });
  }
}

function Strokes({ state, space }: { state: Stroking; space: Space }) {
  const at = usePointer((s) => s.at),
    width = useShot((s) => s.shot?.width ?? 0),
    { lines } = useFound(),
    paint = (inside: boolean) => (inside ? colours.matte : colours.trouble);
  return (
    <>
      {state.strokes.map((s, i) => (
        <BrushWay
          key={i}
          points={s.points.map(([x, y]) => toScreen(space, x, y))}
          radius={s.radius * space.zoom}
          colour={paint(s.inside)}
        />
      ))}
      {lines.map((l, i) => (
        <Outlined key={i} points={l.points.flatMap(([x, y]) => toScreen(space, x, y))} closed colour={colours.matte} />
      ))}
      {at && <BrushRing at={toScreen(space, ...at)} radius={Math.max(2, BRUSH * width) * space.zoom} colour={paint(state.inside)} />}
    </>
  );
}

/** Makes outlines of what the strokes mean: one around each area, and one that takes each hole away. */
function keep(state: Stroking, now: ShotState): Stroking | null {
  const { lines } = useFound.getState();
  if (!lines.length) return state;
  now.edit(
    together('Outline by strokes', ...lines.map((l) => outlineEdit(now, state.matte, l.hole ? 'take away' : state.mode, fitted(l.points)))),
  );
  now.set({ outline: useShot.getState().shot!.mattes[state.matte]!.outlines.at(-lines.length)?.id ?? null });
  useFound.setState({ lines: [] });
  return null;
}

/** Finds an outline by a few strokes inside and outside of what it is to surround. */
export const strokes = tool<Stroking>()({
  kind: 'strokes',
  hint: ({ inside, strokes: all }) =>
    `Paint over what is ${inside ? 'inside' : 'outside'}; R changes to ${inside ? 'outside' : 'inside'}.${all.length ? ' Enter makes the outline, Backspace takes the last stroke back.' : ''} Esc leaves.`,
  press: (state, at, { shot }) => ({
    ...state,
    strokes: [...state.strokes, { inside: state.inside, points: [at], radius: Math.max(2, BRUSH * (shot?.width ?? 0)) }],
  }),
  drag(state, at) {
    const all = [...state.strokes],
      last = all.pop();
    return last ? { ...state, strokes: [...all, { ...last, points: [...last.points, at] }] } : state;
  },
  lift(state, now) {
    void look(state, now);
    return state;
  },
  key(state, key, now) {
    if (key === 'r') return { ...state, inside: !state.inside };
    if (key === 'Enter') return keep(state, now);
    if (key === 'Backspace') {
      const next = { ...state, strokes: state.strokes.slice(0, -1) };
      void look(next, now);
      return next;
    }
    if (key === 'Escape') useFound.setState({ lines: [] });
    return undefined;
  },
  Overlay: Strokes,
});
