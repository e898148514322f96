import fitCurve from 'fit-curve';
import { corner, flatten, splitCurve, type Vertex } from '@wraithos/core/matte';
import type { OutlineMode } from '@wraithos/core/shot';
import { colours, Outlined } from '../viewer/marks';
import { toScreen, type Space } from '../viewer/space';
import { tool } from './describe';
import { putOutline } from './putOutline';

export const shapes = ['rectangle', 'ellipse', 'freehand'] as const;
interface Shaping {
  matte: string;
  mode: OutlineMode;
  shape: (typeof shapes)[number];
  /** The way of the pointer, whole-shot pixels. */
  way: [number, number][];
}

/** Handles of a quarter of a circle, as a share of its radius. */
const QUARTER = 0.5522847498;
/** What a fitted line may be off the drawn one, pixels. */
const OFF = 2;

/** A closed outline along a way that was drawn by hand, with as few points as keep to it (Schneider 1990). */
export function fitted(way: readonly (readonly [number, number])[]): Vertex[] {
  const curves = fitCurve<[number, number]>([...way, way[0]!] as [number, number][], OFF * OFF);
  const vertices = curves.map(([from, out], i): Vertex => {
    const before = curves[(i + curves.length - 1) % curves.length]!;
    return {
      ...corner(...from),
      in: [before[2][0] - from[0], before[2][1] - from[1]] as [number, number],
      out: [out[0] - from[0], out[1] - from[1]] as [number, number],
    };
  });
  // A round way may be one or two curves: an outline has three points at the least.
  let enough = vertices;
  while (enough.length > 0 && enough.length < 3) enough = halved(enough);
  return enough;
}
/** An outline with a point in the middle of each of its ways. */
function halved(vertices: readonly Vertex[]): Vertex[] {
  const middles: Vertex[] = [];
  let rest = [...vertices];
  vertices.forEach((_, i) => {
    const next = (i + 1) % rest.length,
      [a, middle, b] = splitCurve(rest[i]!, rest[next]!, 0.5);
    rest = rest.map((v, k) => (k === next ? { ...b, out: k === i ? a.out : b.out } : k === i ? a : v));
    middles.push(middle);
  });
  return rest.flatMap((v, i) => [v, middles[i]!]);
}

/** The outline that a drag from one place to another draws. */
export function shapeOf(shape: Shaping['shape'], way: readonly (readonly [number, number])[]): Vertex[] {
  const [a, b] = [way[0]!, way.at(-1)!];
  if (shape === 'freehand') return way.length < 3 ? [] : fitted(way);
  const [l, r] = [Math.min(a[0], b[0]), Math.max(a[0], b[0])],
    [t, bottom] = [Math.min(a[1], b[1]), Math.max(a[1], b[1])];
  if (r - l < 3 || bottom - t < 3) return [];
  if (shape === 'rectangle') return [corner(l, t), corner(r, t), corner(r, bottom), corner(l, bottom)];
  const [x, y] = [(l + r) / 2, (t + bottom) / 2],
    [rx, ry] = [((r - l) / 2) * QUARTER, ((bottom - t) / 2) * QUARTER],
    smooth = (px: number, py: number, dx: number, dy: number): Vertex => ({ ...corner(px, py), in: [-dx, -dy], out: [dx, dy] });
  return [smooth(x, t, rx, 0), smooth(r, y, 0, ry), smooth(x, bottom, -rx, 0), smooth(l, y, 0, -ry)];
}

function Way({ state: { shape, way }, space }: { state: Shaping; space: Space }) {
  if (way.length < 2) return null;
  const vertices = shape === 'freehand' ? null : shapeOf(shape, way),
    line = vertices ? flatten(vertices, 1) : way.flat(),
    shown: number[] = [];
  for (let i = 0; i < line.length; i += 2) shown.push(...toScreen(space, line[i]!, line[i + 1]!));
  return <Outlined points={shown} closed colour={colours.matte} />;
}

/** Draws an outline with one drag: a rectangle, an ellipse, or freehand. */
export const drawShape = tool<Shaping>()({
  kind: 'draw shape',
  hint: ({ shape }) =>
    shape === 'freehand'
      ? 'Draw around the area; it closes by itself. Esc leaves.'
      : `Drag the ${shape} from corner to corner. Esc leaves.`,
  press: (state, at) => ({ ...state, way: [at] }),
  drag: (state, at) => {
    const last = state.way.at(-1);
    return last && Math.hypot(at[0] - last[0], at[1] - last[1]) < 2 ? state : { ...state, way: [...state.way, at] };
  },
  lift(state, now) {
    const vertices = shapeOf(state.shape, state.way);
    // A press without a drag draws nothing.
    if (vertices.length < 3) return { ...state, way: [] };
    putOutline(now, state.matte, state.mode, vertices);
    return null;
  },
  Overlay: Way,
});
