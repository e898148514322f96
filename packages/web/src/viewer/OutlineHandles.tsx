import { Fragment, useRef } from 'react';
import { SURE_ENOUGH, type Vertex } from '@wraithos/core/matte';
import { useParts } from '../state/shotStore';
import { choosePoint, useOutlinePoints } from '../state/outlinePoints';
import { colours, Knob, Outlined } from './marks';
import { boxAround, outwards, toggled, turnedAbout, withHandle, type Point } from './outlineGeometry';
import type { OutlineInHand } from './outlineInHand';

/** Handles of the selected outline: its points, those of the selected ones for curve and feather, and one that turns and sizes it all. */
export function OutlineHandles({ hand }: { hand: OutlineInHand }) {
  const { edit, preview } = useParts('edit', 'preview'),
    { points } = useOutlinePoints(),
    { vertices } = hand,
    /** The points that go with one that is dragged. */
    together = (i: number) => (points.includes(i) ? points : [i]),
    moved = (i: number, sx: number, sy: number) => {
      const to = hand.stored(sx, sy),
        [dx, dy] = [to[0] - vertices[i]!.x, to[1] - vertices[i]!.y],
        these = together(i);
      return hand.put(
        vertices.map((v, k) => (these.includes(k) ? { ...v, x: v.x + dx, y: v.y + dy } : v)),
        these,
      );
    },
    one = (i: number, next: Vertex) =>
      hand.put(
        vertices.map((v, k) => (k === i ? next : v)),
        [i],
      );
  return (
    <>
      <TurnHandle hand={hand} />
      {vertices.map((v, i) => {
        const [sx, sy] = hand.screen([v.x, v.y]),
          chosen = points.includes(i);
        return (
          <Fragment key={i}>
            {(['in', 'out'] as const).map((part) => {
              const d = v[part];
              if (d[0] === 0 && d[1] === 0) return null;
              // Handles of every point would hide a dense outline: those of the selected ones are enough, and all of a small one.
              if (!chosen && vertices.length > 16) return null;
              const [hx, hy] = hand.screen([v.x + d[0], v.y + d[1]]),
                to = (a: number, b: number) => one(i, withHandle(v, part, hand.stored(a, b)));
              return (
                <Fragment key={part}>
                  <Outlined points={[sx, sy, hx, hy]} width={1} />
                  <Knob
                    x={hx}
                    y={hy}
                    size={3.5}
                    colour={colours.light}
                    onMove={(a, b) => preview(to(a, b))}
                    onEnd={(a, b) => edit(to(a, b))}
                  />
                </Fragment>
              );
            })}
            {chosen && <FeatherHandles hand={hand} i={i} />}
            <Knob
              name={`point-${i}`}
              x={sx}
              y={sy}
              square
              size={vertices.length > 60 ? 3 : 4}
              colour={chosen ? colours.light : (hand.sure?.[i] ?? 1) < SURE_ENOUGH ? colours.trouble : colours.matte}
              onMove={(a, b) => preview(moved(i, a, b))}
              onEnd={(a, b) => {
                edit(moved(i, a, b));
                if (!chosen) choosePoint(i, false);
              }}
              onClick={(more) => choosePoint(i, more)}
              onDblClick={() => edit(hand.put(toggled(vertices, i), [i]))}
            />
          </Fragment>
        );
      })}
    </>
  );
}

/** Screen pixels from where a feather ends to its handle. */
const ROOM = 16;
/** How far the feather of a point reaches on either side, to be dragged. */
function FeatherHandles({ hand, i }: { hand: OutlineInHand; i: number }) {
  const { edit, preview } = useParts('edit', 'preview'),
    v = hand.vertices[i]!,
    n = outwards(hand.vertices, i),
    // What the whole outline has, in stored pixels: where it rides, the standing one has grown with what it rides on.
    grown = v.inner + v.outer > 0 ? (hand.standing.vertices[i]!.inner + hand.standing.vertices[i]!.outer) / (v.inner + v.outer) : 1,
    all = hand.standing.feather / 2 / grown;
  return (
    <>
      {(['outer', 'inner'] as const).map((side) => {
        const sign = side === 'outer' ? 1 : -1,
          reach = all + v[side],
          [sx, sy] = hand.screen([v.x, v.y]),
          [wx, wy] = hand.screen([v.x + sign * n[0], v.y + sign * n[1]]),
          size = Math.hypot(wx - sx, wy - sy) || 1,
          // A little beyond its reach, so that one without any can be taken hold of beside its point.
          [mx, my] = [(ROOM * (wx - sx)) / size, (ROOM * (wy - sy)) / size],
          [ox, oy] = hand.screen([v.x + sign * n[0] * reach, v.y + sign * n[1] * reach]),
          [x, y] = [ox + mx, oy + my],
          to = (a: number, b: number) => {
            const [px, py] = hand.stored(a - mx, b - my),
              along = sign * ((px - v.x) * n[0] + (py - v.y) * n[1]);
            return hand.put(
              hand.vertices.map((w, k) => (k === i ? { ...w, [side]: Math.min(1000, Math.max(0, along - all)) } : w)),
              [i],
            );
          };
        return (
          <Fragment key={side}>
            <Outlined points={[sx, sy, x, y]} width={1} dash={[2, 3]} colour={colours.matte} />
            <Knob
              name={`feather-${side}-${i}`}
              x={x}
              y={y}
              size={3}
              colour={colours.matte}
              onMove={(a, b) => preview(to(a, b))}
              onEnd={(a, b) => edit(to(a, b))}
            />
          </Fragment>
        );
      })}
    </>
  );
}

/** Turns and sizes the whole outline about its middle. */
function TurnHandle({ hand }: { hand: OutlineInHand }) {
  const { edit, preview } = useParts('edit', 'preview'),
    { vertices } = hand,
    begun = useRef<readonly Vertex[] | null>(null),
    [left, top, right, bottom] = boxAround(vertices),
    middle = (of: readonly Vertex[]): Point => {
      const [l, t, r, b] = boxAround(of);
      return [(l + r) / 2, (t + b) / 2];
    },
    [cx, cy] = hand.screen([(left + right) / 2, (top + bottom) / 2]),
    [ex, ey] = hand.screen([right, top]),
    away = Math.hypot(ex - cx, ey - cy) || 1,
    // A little outside the corner, so that it hides no point.
    [x, y] = [ex + (18 * (ex - cx)) / away, ey + (18 * (ey - cy)) / away],
    from = useRef<Point>([0, 0]),
    to = (a: number, b: number) => {
      if (!begun.current) {
        begun.current = vertices;
        from.current = hand.stored(x, y);
      }
      return hand.put(
        turnedAbout(begun.current, middle(begun.current), from.current, hand.stored(a, b)),
        vertices.map((_, i) => i),
      );
    };
  return (
    <Knob
      name="outline-turn"
      x={x}
      y={y}
      size={5}
      colour={colours.light}
      cursor="grab"
      onMove={(a, b) => preview(to(a, b))}
      onEnd={(a, b) => {
        const change = to(a, b);
        begun.current = null;
        edit(change);
      }}
    />
  );
}
