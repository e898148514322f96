import { rowRange, rowsInOrder } from '@wraithos/core/shot';
import { useDocument, useShot } from '../state/shotStore';
import { RangeLine } from './RangeLine';
import type { TimeScale } from './scale';

/** Height of the line of an effect, pixels: tall enough for its name. */
const LINE = 17;

/** A line for each effect's range with its name, from near to far as the stack has them. */
export function EffectLines({ x }: { x: TimeScale }) {
  const shot = useDocument(),
    rows = rowsInOrder(shot).reverse(),
    selected = useShot((s) => (s.selection?.kind === 'row' ? s.selection.id : null));
  return (
    <div className="ranges effects" style={{ height: Math.max(14, rows.length * LINE + 6) }}>
      {rows.map((row, i) => {
        const [first, last] = rowRange(shot, row);
        return <RangeLine key={row.id} row={row} first={first} last={last} x={x} top={4 + i * LINE} selected={selected === row.id} />;
      })}
    </div>
  );
}
