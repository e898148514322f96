import { useMatteDoubts } from '../steps/matteDoubts';
import { useParts } from '../state/shotStore';
import type { TimeScale } from './scale';

/** Marks of the frames on which the selected matte is doubtful, once it was looked through. */
export function MatteDoubtMarks({ x }: { x: TimeScale }) {
  const { selection, set } = useParts('selection', 'set'),
    { matte, doubts } = useMatteDoubts();
  if (selection?.kind !== 'matte' || matte?.id !== selection.id || !doubts.length) return null;
  return (
    <div className="ranges doubt-marks">
      {doubts.map((d) => (
        <button
          key={d.frame}
          type="button"
          className="doubt-mark"
          style={{ left: x(d.frame), width: Math.max(3, x(1) - x(0)) }}
          title={`${d.frame} ${d.reason}`}
          aria-label={`Doubtful: ${d.frame} ${d.reason}`}
          onClick={() => set({ frame: d.frame, playing: false })}
        />
      ))}
    </div>
  );
}
