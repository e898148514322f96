import { useSyncExternalStore } from 'react';
import { frameCache, type View } from '../state/frameCache';
import { useDocument } from '../state/shotStore';
import { ThumbCanvas } from '../ui/ThumbCanvas';
import type { DrawnFrame } from '../workers/protocol';

const TILE = 80;

/** Small pictures along the shot, of what the viewer shows. One that is older than the document, or not there yet, is hatched. */
export function FilmStrip({ width, view }: { width: number; view: View }) {
  const shot = useDocument(),
    count = Math.max(1, Math.round(width / TILE)),
    length = shot.last - shot.first + 1,
    tiles = Math.min(count, length);
  useSyncExternalStore(frameCache.subscribe, () => frameCache.version);
  const drawnAt = (frame: number) => {
    // A picture of another size serves as well.
    for (const factor of [view.factor, 2, 1, 4] as const) {
      const drawn = frameCache.get(shot, frame, { ...view, factor });
      if (drawn) return drawn;
    }
    return undefined;
  };
  return (
    <div className="film" aria-hidden="true">
      {Array.from({ length: tiles }, (_, i) => {
        const frame = shot.first + Math.min(length - 1, Math.floor(((i + 0.5) / tiles) * length));
        return <Tile key={i} frame={frame} width={width / tiles} drawn={drawnAt(frame)} />;
      })}
    </div>
  );
}

function Tile({ frame, width, drawn }: { frame: number; width: number; drawn: DrawnFrame | undefined }) {
  return (
    <div className="tile" style={{ width }} data-frame={frame}>
      <ThumbCanvas thumb={drawn?.thumb} width={Math.round(width * 2)} height={92} />
      {!drawn && <div className="hatch" />}
    </div>
  );
}
