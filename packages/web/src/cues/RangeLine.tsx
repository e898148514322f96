import { memo, useEffect, useRef } from 'react';
import { changeRow, cuesInOrder, type Row } from '@wraithos/core/shot';
import { useParts, useShot } from '../state/shotStore';
import type { TimeScale } from './scale';
import { useDrag } from './useDrag';

interface RangeLineProps {
  row: Row;
  /** First and last shot frame. */
  first: number;
  last: number;
  x: TimeScale;
  top: number;
  selected: boolean;
}
/** The frames of one effect as a line; dragged as a whole or by its ends, it snaps to cues. It is drawn anew only where something of it changes. */
export const RangeLine = memo(function RangeLine({ row, first, last, x, top, selected }: RangeLineProps) {
  const { edit, preview, set } = useParts('edit', 'preview', 'set'),
    begun = useRef({ start: row.start, length: row.length, first, last }),
    each = x(1) - x(0),
    own = useRef<HTMLDivElement>(null);
  /** Whole frames of a drag, drawn to a cue or to the shot's ends when an edge comes within a few pixels of it. */
  const snapped = (edge: number, dx: number): number => {
    const shot = useShot.getState().shot!,
      to = edge + dx / each,
      near = [...cuesInOrder(shot).map((c) => c.frame), shot.first, shot.last].find((f) => Math.abs(x(f) - x(to)) < 6);
    return (near ?? Math.round(to)) - edge;
  };
  const change = (part: 'all' | 'a' | 'b', dx: number) => {
    const b = begun.current;
    if (part === 'all') return changeRow(row.id, { start: b.start + snapped(b.first, dx) }, 'Move effect in time');
    if (part === 'b') return changeRow(row.id, { length: Math.max(1, b.length + snapped(b.last, dx)) }, 'Change length');
    const by = Math.min(b.length - 1, snapped(b.first, dx));
    return changeRow(row.id, { start: b.start + by, length: b.length - by }, 'Change start');
  };
  const select = () => set({ selection: { kind: 'row', id: row.id } });
  const handlers = (part: 'all' | 'a' | 'b') => ({
    start: () => {
      begun.current = { start: row.start, length: row.length, first, last };
      select();
    },
    move: (dx: number) => preview(change(part, dx)),
    end: (dx: number) => edit(change(part, dx)),
    click: select,
  });
  const all = useDrag(handlers('all')),
    a = useDrag(handlers('a')),
    b = useDrag(handlers('b')),
    left = x(first - 0.5),
    width = Math.max(4, x(last + 0.5) - left);
  useEffect(() => {
    if (selected) own.current?.scrollIntoView({ block: 'nearest' });
  }, [selected]);
  return (
    <div
      ref={own}
      className={`range-line ${selected ? 'selected' : ''} ${row.muted ? 'off' : ''} ${width < row.name.length * 6 + 12 ? 'short' : ''}`}
      style={{ left, width, top }}
      title={`${row.name}: ${first} to ${last}`}
      aria-label={`Range of ${row.name}`}
      {...all}
    >
      <span className="name">{row.name}</span>
      <span className="end a" {...a} />
      <span className="end b" {...b} />
    </div>
  );
});
