import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef, type ReactNode } from 'react';

/** Fewer than these are drawn as they are. */
const SHORT = 24;

/**
 * A list of which only what is in sight is drawn, in a box of its own that scrolls. A page with forty clips of a thousand frames works as one with four.
 * @param size height of an entry, pixels. @param draw an entry, and where it stands in the list.
 */
export function LongList<T extends { id: string }>({
  items,
  size,
  className,
  pad = 0,
  draw,
}: {
  items: readonly T[];
  size: number;
  className?: string;
  /** Room above the first and below the last, pixels. */
  pad?: number;
  draw(item: T, top: number): ReactNode;
}) {
  const box = useRef<HTMLDivElement>(null),
    long = items.length > SHORT,
    rows = useVirtualizer({
      count: long ? items.length : 0,
      getScrollElement: () => box.current,
      estimateSize: () => size,
      paddingStart: pad,
      overscan: 6,
    }).getVirtualItems(),
    shown = long ? rows.map((row) => items[row.index]!) : items,
    at = (item: T) => pad + items.indexOf(item) * size;
  return (
    <div ref={box} className={`long-list ${className ?? ''}`}>
      <div style={{ position: 'relative', height: items.length * size + 2 * pad }}>{shown.map((item) => draw(item, at(item)))}</div>
    </div>
  );
}
