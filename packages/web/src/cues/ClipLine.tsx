import { useRef } from 'react';
import { changeClip, clipStart, placedRange, slipClip, trimClipEnd, trimClipStart, type Clip, type Edit } from '@wraithos/core/shot';
import { useDocument, useParts, useShot } from '../state/shotStore';
import type { TimeScale } from './scale';
import { useDrag } from './useDrag';

/** The frames of a clip on the shot's time; dragged, it is placed at another frame. A still stands over the whole shot. */
export function ClipLine({ clip, x, top }: { clip: Clip; x: TimeScale; top: number }) {
  const shot = useDocument(),
    { edit, preview, selection, set } = useParts('edit', 'preview', 'selection', 'set'),
    begun = useRef(shot),
    // With Alt the clip stays where it is, and its pictures are moved through it.
    slips = useRef(false),
    each = x(1) - x(0),
    still = clip.frames === 1,
    [first, end] = still ? [shot.first, shot.last] : placedRange(shot, clip),
    // What loops goes on to the end of the shot.
    last = end ?? Math.max(first, shot.last),
    select = () => set({ selection: { kind: 'clip', id: clip.id } });
  function moved(dx: number): Edit {
    const { [clip.id]: before } = begun.current.clips,
      from = clipStart(begun.current, before!),
      to = from + frames(dx),
      // It comes to rest at the shot's first frame when it is near.
      at = Math.abs(x(to) - x(shot.first)) < 6 ? shot.first : to;
    return changeClip(clip.id, { start: before!.start + at - from });
  }
  const handlers = (change: (dx: number) => Edit) => ({
      start: (e: React.PointerEvent) => {
        slips.current = e.altKey;
        begun.current = useShot.getState().shot!;
        select();
      },
      move: (dx: number) => {
        if (!still) preview(change(dx));
      },
      end: (dx: number) => {
        if (!still) edit(change(dx));
      },
      click: select,
    }),
    // From what was saved when the drag began: trims are counted from there.
    frames = (dx: number) => Math.round(dx / each),
    drag = useDrag(handlers((dx) => (slips.current ? slipClip(begun.current, clip.id, -frames(dx)) : moved(dx)))),
    a = useDrag(
      handlers((dx) => trimClipStart(begun.current, clip.id, clipStart(begun.current, begun.current.clips[clip.id]!) + frames(dx))),
    ),
    b = useDrag(
      handlers((dx) =>
        trimClipEnd(begun.current, clip.id, (placedRange(begun.current, begun.current.clips[clip.id]!)[1] ?? last) + frames(dx)),
      ),
    );
  const left = x(first - 0.5);
  return (
    <div
      className={`clip-line ${selection?.kind === 'clip' && selection.id === clip.id ? 'selected' : ''} ${still ? 'still' : ''}`}
      style={{ left, width: Math.max(4, x(last + 0.5) - left), top }}
      title={
        still
          ? `${clip.name}: a still, the same on every frame`
          : `${clip.name}: ${first} to ${last}; drag to place it, its ends to trim it; with Alt, other frames of it come into the same place`
      }
      aria-label={`Placement of ${clip.name}`}
      {...drag}
    >
      <span>{clip.name}</span>
      {!still && (
        <>
          <i className="end a" {...a} />
          <i className="end b" {...b} />
        </>
      )}
    </div>
  );
}
