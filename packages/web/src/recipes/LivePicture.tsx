import { useEffect, useState } from 'react';
import type { Factor } from '@wraithos/core/render';
import type { Shot } from '@wraithos/core/shot';
import { Dropped, frameCache } from '../state/frameCache';
import { ThumbCanvas } from '../ui/ThumbCanvas';
import type { Thumb } from '../workers/protocol';

/** A small picture of a frame of a document that is only tried, drawn when it is seen. Hatched until it is there. */
export function LivePicture({
  shot,
  frame,
  factor,
  width,
  height,
  priority,
}: {
  shot: Shot;
  frame: number;
  factor: Factor;
  width: number;
  height: number;
  priority: number;
}) {
  const [thumb, setThumb] = useState<Thumb>(),
    [failed, setFailed] = useState<string | null>(null);
  useEffect(() => {
    let over = false;
    const view = { factor, upTo: null, plain: false, matte: null };
    setThumb(undefined);
    const ask = (again: number): void => {
      frameCache.request(shot, frame, view, priority, width * 2).then(
        (drawn) => !over && setThumb(drawn.thumb),
        // Somebody moved the playhead meanwhile, which drops what waits.
        (error: Error) =>
          !over && (again > 0 && error instanceof Dropped ? setTimeout(() => ask(again - 1), 300) : setFailed(error.message)),
      );
    };
    ask(20);
    return () => {
      over = true;
    };
  }, [shot, frame, factor, width, priority]);
  return (
    <span className="live-picture" style={{ width, height }}>
      <ThumbCanvas thumb={thumb} width={width * 2} height={height * 2} />
      {!thumb && <span className="hatch" title={failed ?? 'being drawn'} />}
    </span>
  );
}
