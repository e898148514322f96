import { useRef, useState } from 'react';
import { filesOfDrop } from '../shots/groups';
import { useImport, type ImportState } from '../shots/useImport';
import { useShot } from '../state/shotStore';
import { toPicture, type Space } from '../viewer/space';
import { useTracks } from '../workbench/tracks';
import { draggedOf, drop, isDragged } from './place';

/**
 * Lets clips, elements of the stockroom and files be dropped on the picture, where they become elements.
 * @param files files too, and not only what is here already.
 */
export function useDropOnPicture(
  space: Space,
  files: boolean,
): {
  over: boolean;
  bringing: ImportState | null;
  cancel(): void;
  handlers: Pick<React.DOMAttributes<HTMLElement>, 'onDragOver' | 'onDragLeave' | 'onDrop'>;
} {
  const tracks = useTracks(),
    [over, setOver] = useState(false),
    landed = useRef<[number, number]>([0, 0]),
    bring = useImport(
      (medium) => void drop(medium, landed.current, tracks, space.zoom),
      (notice) => useShot.getState().set({ notice }),
    ),
    takes = (e: React.DragEvent) => isDragged(e) || (files && e.dataTransfer.types.includes('Files'));
  return {
    over,
    bringing: bring.state,
    cancel: bring.cancel,
    handlers: {
      onDragOver: (e) => {
        if (!takes(e)) return;
        e.preventDefault();
        e.dataTransfer.dropEffect = 'copy';
        setOver(true);
      },
      onDragLeave: () => setOver(false),
      onDrop: (e) => {
        setOver(false);
        if (!takes(e)) return;
        e.preventDefault();
        const box = e.currentTarget.getBoundingClientRect(),
          at = toPicture(space, e.clientX - box.left, e.clientY - box.top),
          what = draggedOf(e);
        landed.current = at;
        if (what) void drop(what, at, tracks, space.zoom);
        else void filesOfDrop(e.dataTransfer).then(bring.start);
      },
    },
  };
}
