import { useEffect, useState } from 'react';
import { framesOf, type Tracks } from '@wraithos/core/render';
import { drawnRows, type Shot } from '@wraithos/core/shot';
import { Dropped, frameCache } from '../state/frameCache';
import { ThumbCanvas } from '../ui/ThumbCanvas';
import type { Thumb } from '../workers/protocol';
import './recipes.css';

/** The part of a picture that is worth seeing small: about a place, as tall as `tall` whole-shot pixels. */
export interface About {
  x: number;
  y: number;
  tall: number;
}

/** A small picture of a frame of a document that is only tried, drawn when it is seen. Hatched until it is there. */
export function LivePicture({
  shot,
  frame,
  about,
  width,
  height,
}: {
  shot: Shot;
  frame: number;
  about: About | null;
  width: number;
  height: number;
}) {
  const [thumb, setThumb] = useState<Thumb>(),
    [failed, setFailed] = useState<string | null>(null),
    // The same part of both sides: these small pictures are as broad as the shot's.
    part = about ? Math.min(1, about.tall / shot.height) : 1,
    breadth = Math.min(640, Math.round((width * 2) / part));
  useEffect(() => {
    let over = false;
    const view = { factor: 2 as const, upTo: null, plain: false, matte: null };
    setThumb(undefined);
    const ask = (again: number): void => {
      frameCache.request(shot, frame, view, BEHIND_THE_PLAYHEAD, breadth).then(
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
  }, [shot, frame, breadth]);
  const left = about ? Math.min(1 - part, Math.max(0, about.x / shot.width - part / 2)) : 0,
    top = about ? Math.min(1 - part, Math.max(0, about.y / shot.height - part / 2)) : 0;
  return (
    <span className="live-picture" style={{ width, height }}>
      <span style={{ width: width / part, height: height / part, left: (-left * width) / part, top: (-top * height) / part }}>
        <ThumbCanvas thumb={thumb} width={Math.round((width * 2) / part)} height={Math.round((height * 2) / part)} />
      </span>
      {!thumb && <span className="hatch" title={failed ?? 'being drawn'} />}
    </span>
  );
}
const BEHIND_THE_PLAYHEAD = 1;

/** About the subject of a row, where it hangs; null shows the whole picture. */
export function aboutRow(shot: Shot, tracks: Tracks, id: string, frame: number): About | null {
  const row = drawnRows(shot).of(id)[0],
    body = row?.mount ? framesOf(shot, tracks).at(row.mount, frame, row.subject?.id) : null;
  if (!row?.subject || !body) return null;
  const [x, y] = body.toPicture([0, 0]);
  // Mounts are mostly on the upper half of a body.
  return { x, y: y + 0.12 * row.subjectPixels, tall: row.subjectPixels };
}
