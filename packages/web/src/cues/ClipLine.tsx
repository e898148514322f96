import { useRef } from 'react';
import { changeClip, placedRange, type Clip } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import type { TimeScale } from './scale';
import { useDrag } from './useDrag';

/** The frames of a clip on the shot's time; dragged, it is placed at another frame. A still stands over the whole shot. */
export function ClipLine({ clip, x, top }: { clip: Clip; x: TimeScale; top: number }) {
  const shot = useDocument(),
    { edit, preview, selection, set } = useParts('edit', 'preview', 'selection', 'set'),
    begun = useRef(clip.start),
    each = x(1) - x(0),
    still = clip.frames === 1,
    [first, end] = still ? [shot.first, shot.last] : placedRange(shot, clip),
    // What loops goes on to the end of the shot.
    last = end ?? Math.max(first, shot.last),
    select = () => set({ selection: { kind: 'clip', id: clip.id } });
  const moved = (dx: number) => {
    const to = begun.current + Math.round(dx / each);
    // It comes to rest at the shot's first frame when it is near.
    return changeClip(clip.id, { start: Math.abs(x(to) - x(shot.first)) < 6 ? shot.first : to });
  };
  const drag = useDrag({
    start: () => {
      begun.current = clip.start;
      select();
    },
    move: (dx) => {
      if (!still) preview(moved(dx));
    },
    end: (dx) => {
      if (!still) edit(moved(dx));
    },
    click: select,
  });
  const left = x(first - 0.5);
  return (
    <div
      className={`clip-line ${selection?.kind === 'clip' && selection.id === clip.id ? 'selected' : ''} ${still ? 'still' : ''}`}
      style={{ left, width: Math.max(4, x(last + 0.5) - left), top }}
      title={still ? `${clip.name}: a still, the same on every frame` : `${clip.name}: ${first} to ${last}; drag to place it`}
      aria-label={`Placement of ${clip.name}`}
      {...drag}
    >
      <span>{clip.name}</span>
    </div>
  );
}
