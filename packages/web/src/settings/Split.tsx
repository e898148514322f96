import { Scissors } from 'lucide-react';
import { freshId, splitClip, whyNotSplit, type Clip } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';

/** Splits a clip before the frame at the playhead; it says why where it cannot. */
export function Split({ clip }: { clip: Clip }) {
  const shot = useDocument(),
    { edit, frame, set } = useParts('edit', 'frame', 'set'),
    why = whyNotSplit(shot, clip, frame);
  if (clip.frames === 1) return null;
  return (
    <button
      type="button"
      className="btn btn-quiet btn-sm mt-1"
      disabled={why !== null}
      title={why ?? 'From this frame on a part of its own, to be moved, slipped and retimed for itself. Tracks and mattes stay on both.'}
      onClick={() => {
        const part = freshId(shot.clips, 'c');
        edit(splitClip(shot, clip.id, frame, part));
        set({ selection: { kind: 'clip', id: part } });
      }}
    >
      <Scissors size={14} className="me-1" />
      Split at frame {frame}
    </button>
  );
}
