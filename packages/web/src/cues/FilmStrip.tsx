import { memo, useSyncExternalStore } from 'react';
import { frameCache, type View } from '../state/frameCache';
import type { Shot } from '@wraithos/core/shot';
import { useDocument } from '../state/shotStore';
import { ThumbCanvas } from '../ui/ThumbCanvas';
import type { DrawnFrame } from '../workers/protocol';
import { PLATE, usePlates } from './usePlates';

const TILE = 80;

/** Small pictures along the shot, of what the viewer shows: the plate, paler, until a frame is drawn. */
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
  const frames = Array.from({ length: tiles }, (_, i) => shot.first + Math.min(length - 1, Math.floor(((i + 0.5) / tiles) * length)));
  usePlates(frames);
  return (
    <div className="film" aria-hidden="true">
      {frames.map((frame, i) => (
        <Tile key={i} frame={frame} width={width / tiles} drawn={drawnAt(frame)} plate={frameCache.get(shot, frame, PLATE)} />
      ))}
      <Remembered shot={shot} width={width} view={view} />
    </div>
  );
}

/** A line under the frames whose pictures, as they are looked at now, are remembered: they play at once. */
function Remembered({ shot, width, view }: { shot: Shot; width: number; view: View }) {
  const length = shot.last - shot.first + 1,
    each = width / length,
    runs: [number, number][] = [];
  for (let f = shot.first; f <= shot.last; f++) {
    if (!frameCache.get(shot, f, view)) continue;
    const last = runs.at(-1);
    if (last && last[1] === f - 1) last[1] = f;
    else runs.push([f, f]);
  }
  return (
    <svg className="remembered" width={width} height={2}>
      <title>Remembered: plays at once</title>
      {runs.map(([a, b]) => (
        <rect key={a} x={(a - shot.first) * each} width={(b - a + 1) * each} height={2} fill="var(--verdigris)" />
      ))}
    </svg>
  );
}

interface TileProps {
  frame: number;
  width: number;
  drawn: DrawnFrame | undefined;
  plate: DrawnFrame | undefined;
}
const Tile = memo(function Tile({ frame, width, drawn, plate }: TileProps) {
  return (
    <div className={`tile ${drawn ? '' : 'pale'}`} style={{ width }} data-frame={frame}>
      <ThumbCanvas thumb={(drawn ?? plate)?.thumb} width={Math.round(width * 2)} height={92} />
      {!drawn && !plate && <div className="hatch" />}
    </div>
  );
});
