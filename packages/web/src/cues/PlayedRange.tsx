import { useParts } from '../state/shotStore';
import { useMarks } from '../state/marks';
import type { TimeScale } from './scale';

/** The part of the shot that is played, and marks of one's own. */
export function PlayedRange({ x }: { x: TimeScale }) {
  const { id, range, set } = useParts('id', 'range', 'set'),
    marks = useMarks((s) => s.marks[id ?? ''] ?? NONE);
  return (
    <>
      {range && (
        <button
          type="button"
          className="played-range"
          style={{ left: x(range[0] - 0.5), width: Math.max(6, x(range[1] + 0.5) - x(range[0] - 0.5)) }}
          title={`Only ${range[0]} to ${range[1]} is played; press to play all again`}
          aria-label={`Played: ${range[0]} to ${range[1]}. Play all again`}
          onClick={() => set({ range: null })}
        />
      )}
      {marks.map((frame) => (
        <button
          key={frame}
          type="button"
          className="own-mark"
          style={{ left: x(frame) }}
          title={`Mark at ${frame}, on this computer only`}
          aria-label={`Mark at ${frame}`}
          onClick={() => set({ playing: false, frame })}
        />
      ))}
    </>
  );
}
const NONE: number[] = [];
