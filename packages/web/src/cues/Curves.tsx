import { useRef, useState } from 'react';
import { line } from 'd3-shape';
import { scaleLinear } from 'd3-scale';
import { effectOf, type Param } from '@wraithos/core/effects';
import { bendOf, easings, valueAt, type Bend, type Curve, type CurvePoint, type Easing } from '@wraithos/core/time';
import { asStored, cuesInOrder, drawnRows, rowRange, setCurve, type Edit, type Row, type Shot } from '@wraithos/core/shot';
import { useDocument, useShot, useParts } from '../state/shotStore';
import type { TimeScale } from './scale';
import { useDrag } from './useDrag';

/** Colours of curves, in order; the name and the unit beside them say which is which. */
const inks = ['#6fc7b0', '#b79fe0', '#f0c987', '#9fc0e0', '#e0a79f'];
/** The curves of a row in its frames, wherever the cues stand that points of them hang on. */
const curvesOf = (shot: Shot, row: Row): Row['curves'] => drawnRows(shot).of(row.id)[0]?.curves ?? row.curves;
const putCurve = (shot: Shot, row: Row, name: string, curve: Curve): Edit =>
  setCurve(row.id, name, asStored(shot, curve, rowRange(shot, row)[0]));
const paramOf = (row: Row, name: string): Param<unknown> | undefined => effectOf(row.effect)!.params[name.replace(/\.[xy]$/, '')];

export function CurveList({ row }: { row: Row }) {
  const shot = useDocument(),
    frame = useShot((s) => s.frame),
    inRow = frame - rowRange(shot, row)[0],
    curves = curvesOf(shot, row),
    names = Object.keys(row.curves);
  if (names.length === 0) return <div className="quiet">No curves yet: the bent line beside a value in the settings makes one.</div>;
  return (
    <>
      {names.map((name, i) => (
        <div key={name} className="curve-name">
          <span className="dot" style={{ background: inks[i % inks.length] }} />
          <span className="flex-grow-1" style={{ color: inks[i % inks.length] }}>
            {paramOf(row, name)?.title ?? name}
          </span>
          <span className="num">
            {valueAt(curves[name]!, inRow).toFixed(1)} <span className="quiet">{paramOf(row, name)?.unit}</span>
          </span>
        </div>
      ))}
    </>
  );
}

/** The curves of one effect, large, each on its own scale: points and easing handles are dragged in place; double-click adds or removes a point. */
export function CurveEditor({ row, x, width }: { row: Row; x: TimeScale; width: number }) {
  const shot = useDocument(),
    { edit } = useParts('edit'),
    [first] = rowRange(shot, row),
    curves = curvesOf(shot, row),
    put = (name: string, points: CurvePoint[]) => edit(putCurve(shot, row, name, { points })),
    names = Object.keys(row.curves),
    height = 104,
    svg = useRef<SVGSVGElement>(null),
    [chosen, setChosen] = useState<{ name: string; frame: number } | null>(null);
  if (names.length === 0) return null;
  const scales = new Map(
    names.map((name) => {
      const values = curves[name]!.points.map((p) => p.value),
        range = paramOf(row, name)?.range,
        low = Math.min(...values, range?.[0] === 0 ? 0 : Infinity),
        high = Math.max(...values, low + 1e-3);
      return [
        name,
        scaleLinear()
          .domain([low, high === low ? low + 1 : high])
          .range([height - 12, 12]),
      ];
    }),
  );
  const path = (name: string) => {
    const curve = curves[name]!,
      y = scales.get(name)!,
      points: [number, number][] = [];
    for (let px = 0; px <= width; px += 3) points.push([px, y(valueAt(curve, x.invert(px) - first))]);
    return line()(points) ?? '';
  };
  const add = (e: React.MouseEvent) => {
    const box = svg.current!.getBoundingClientRect(),
      frame = Math.round(x.invert(e.clientX - box.left)) - first,
      py = e.clientY - box.top;
    // The curve whose line is nearest takes the point.
    const name = names.reduce(
        (best, n) =>
          Math.abs(scales.get(n)!(valueAt(curves[n]!, frame)) - py) < Math.abs(scales.get(best)!(valueAt(curves[best]!, frame)) - py)
            ? n
            : best,
        names[0]!,
      ),
      curve = curves[name]!;
    if (curve.points.some((p) => p.frame === frame)) return;
    put(
      name,
      [...curve.points, { frame, value: valueAt(curve, frame), ease: 'smooth' as Easing }].sort((a, b) => a.frame - b.frame),
    );
    setChosen({ name, frame });
  };
  const chosenCurve = chosen ? curves[chosen.name] : undefined,
    point = chosenCurve?.points.find((p) => p.frame === chosen!.frame);
  return (
    <div className="curves">
      <svg
        ref={svg}
        width={width}
        height={height}
        className="curve-area"
        onDoubleClick={add}
        role="group"
        aria-label={`Curves of ${row.name}`}
      >
        {names.map((name, i) => (
          <path key={name} d={path(name)} fill="none" stroke={inks[i % inks.length]} strokeWidth={1.8} />
        ))}
        {names.flatMap((name, i) =>
          curves[name]!.points.map((p, k) => (
            <PointMark
              key={`${name}${k}`}
              row={row}
              name={name}
              index={k}
              curve={curves[name]!}
              x={x}
              y={scales.get(name)!}
              first={first}
              ink={inks[i % inks.length]!}
              chosen={chosen?.name === name && chosen.frame === p.frame}
              onChoose={(frame) => setChosen({ name, frame })}
            />
          )),
        )}
      </svg>
      {point && chosen && chosenCurve && (
        <div style={{ position: 'absolute', right: 8, top: 4, display: 'flex', gap: 6, alignItems: 'center' }}>
          <span className="quiet num">
            {chosen.frame + first}: {point.value.toFixed(1)}
          </span>
          <select
            className="form-select form-select-sm"
            style={{ width: 110, padding: '0 22px 0 6px' }}
            aria-label="Easing after this point"
            value={point.ease}
            onChange={(e) =>
              put(
                chosen.name,
                chosenCurve.points.map((p) => (p === point ? withEase(p, e.target.value as Easing) : p)),
              )
            }
          >
            {easings.map((e) => (
              <option key={e}>{e}</option>
            ))}
          </select>
          {Object.keys(shot.cues).length > 0 && (
            <select
              className="form-select form-select-sm"
              style={{ width: 130, padding: '0 22px 0 6px' }}
              aria-label="Moves with"
              title="A point that moves with a cue stays as many frames from it as it is now"
              value={point.cue ?? ''}
              onChange={(e) =>
                put(
                  chosen.name,
                  chosenCurve.points.map((p) => (p === point ? hungOn(p, e.target.value || null) : p)),
                )
              }
            >
              <option value="">moves with the effect</option>
              {cuesInOrder(shot).map(({ cue }) => (
                <option key={cue.id} value={cue.id}>
                  moves with {cue.name}
                </option>
              ))}
            </select>
          )}
          {chosenCurve.points.length > 1 && (
            <button
              type="button"
              className="btn btn-quiet btn-sm py-0"
              onClick={() => {
                put(
                  chosen.name,
                  chosenCurve.points.filter((p) => p !== point),
                );
                setChosen(null);
              }}
            >
              Remove point
            </button>
          )}
        </div>
      )}
    </div>
  );
}
const withEase = (p: CurvePoint, ease: Easing): CurvePoint =>
  ease === 'bend' ? { ...p, ease, bend: bendOf(p) ?? [0.42, 0, 0.58, 1] } : (({ bend: _, ...rest }) => ({ ...rest, ease }))(p);
const hungOn = ({ cue: _, ...p }: CurvePoint, cue: string | null): CurvePoint => (cue ? { ...p, cue } : p);

type YScale = ReturnType<typeof scaleLinear<number, number>>;
function PointMark({
  row,
  name,
  index,
  curve,
  x,
  y,
  first,
  ink,
  chosen,
  onChoose,
}: {
  row: Row;
  name: string;
  index: number;
  curve: Curve;
  x: TimeScale;
  y: YScale;
  first: number;
  ink: string;
  chosen: boolean;
  onChoose(frame: number): void;
}) {
  const shot = useDocument(),
    { edit, preview } = useParts('edit', 'preview'),
    p = curve.points[index]!,
    next = curve.points[index + 1],
    begun = useRef({ point: p, curve }),
    each = x(1) - x(0),
    range = paramOf(row, name)?.range;
  const replaced = (point: CurvePoint) =>
    putCurve(shot, row, name, { points: begun.current.curve.points.map((q, k) => (k === index ? point : q)) });
  const moved = (dx: number, dy: number) => {
    const { point, curve: before } = begun.current,
      low = (before.points[index - 1]?.frame ?? -Infinity) + 1,
      high = (before.points[index + 1]?.frame ?? Infinity) - 1;
    const value = y.invert(y(point.value) + dy),
      kept = range ? Math.min(range[1], Math.max(range[0], value)) : value;
    return {
      ...point,
      frame: Math.min(high, Math.max(low, point.frame + Math.round(dx / each))),
      value: Math.abs(dy) < 2 ? point.value : Math.round(kept * 100) / 100,
    };
  };
  const drag = useDrag({
    start: () => {
      begun.current = { point: p, curve };
      onChoose(p.frame);
    },
    move: (dx, dy) => preview(replaced(moved(dx, dy))),
    end: (dx, dy) => {
      const to = moved(dx, dy);
      edit(replaced(to));
      onChoose(to.frame);
    },
    click: () => onChoose(p.frame),
  });
  const bend = next ? bendOf(p) : null,
    cx = x(first + p.frame),
    cy = y(p.value),
    side = chosen ? 6 : 5,
    cue = p.cue ? shot.cues[p.cue] : undefined;
  const handle = (which: 0 | 1): [number, number] => [
    x(first + p.frame + (next!.frame - p.frame) * bend![which * 2]!),
    y(p.value + (next!.value - p.value) * bend![which * 2 + 1]!),
  ];
  return (
    <g>
      {chosen &&
        bend &&
        p.ease !== 'linear' &&
        [0, 1].map((which) => (
          <BendHandle
            key={which}
            at={handle(which as 0 | 1)}
            from={which === 0 ? [cx, cy] : [x(first + next!.frame), y(next!.value)]}
            ink={ink}
            onMove={(hx, hy, done) => {
              const span = x(first + next!.frame) - cx,
                rise = y(next!.value) - cy,
                b: Bend = [...bend];
              b[which * 2] = Math.min(1, Math.max(0, (hx - cx) / span));
              b[which * 2 + 1] = Math.abs(rise) < 1 ? 0 : Math.min(2, Math.max(-1, (hy - cy) / rise));
              begun.current = { point: p, curve };
              const change = replaced({ ...p, ease: 'bend', bend: b });
              if (done) edit(change);
              else preview(change);
            }}
          />
        ))}
      {/* Round where it moves with the effect, square where it moves with a cue. */}
      <rect
        x={cx - side}
        y={cy - side}
        width={2 * side}
        height={2 * side}
        rx={cue ? 1 : side}
        fill={chosen ? ink : '#17181a'}
        stroke={ink}
        strokeWidth={2}
        className="movable"
        {...drag}
        aria-label={`Point at ${first + p.frame}`}
      >
        <title>{`${first + p.frame}: ${p.value.toFixed(1)}${cue ? `, moves with ${cue.name}` : ''}`}</title>
      </rect>
    </g>
  );
}

function BendHandle({
  at,
  from,
  ink,
  onMove,
}: {
  at: [number, number];
  from: [number, number];
  ink: string;
  onMove(x: number, y: number, done: boolean): void;
}) {
  const start = useRef(at),
    drag = useDrag({
      start: () => {
        start.current = at;
      },
      move: (dx, dy) => onMove(start.current[0] + dx, start.current[1] + dy, false),
      end: (dx, dy) => onMove(start.current[0] + dx, start.current[1] + dy, true),
    });
  return (
    <g>
      <line x1={from[0]} y1={from[1]} x2={at[0]} y2={at[1]} stroke={ink} opacity={0.6} />
      <rect x={at[0] - 4} y={at[1] - 4} width={8} height={8} fill="#17181a" stroke={ink} className="movable" {...drag} />
    </g>
  );
}
