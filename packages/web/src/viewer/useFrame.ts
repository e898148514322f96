import { useEffect, useRef, useState } from 'react';
import { AHEAD, Dropped, frameCache, SHARPEN, URGENT, type View } from '../state/frameCache';
import { useDocument, useShot } from '../state/shotStore';
import { workers } from '../workers/pool';
import type { DrawnFrame } from '../workers/protocol';

export interface Shown {
  drawn: DrawnFrame;
  frame: number;
}

/**
 * The picture at the playhead. The old one stays until the new one is there; while something is dragged it comes at half the draft
 * size first. When the hand rests, frames ahead of the playhead are drawn in the background.
 */
export function useFrame(view: View): { shown: Shown | null; error: string | null; busy: boolean } {
  const document = useDocument(),
    frame = useShot((s) => s.frame),
    dragging = useShot((s) => s.live !== null),
    playing = useShot((s) => s.playing);
  const [shown, setShown] = useState<Shown | null>(null),
    [error, setError] = useState<string | null>(null),
    [busy, setBusy] = useState(false),
    token = useRef(0);
  const key = JSON.stringify(view);
  useEffect(() => {
    const mine = ++token.current,
      v = JSON.parse(key) as View;
    const have = frameCache.get(document, frame, v);
    if (have) {
      setShown({ drawn: have, frame });
      setError(null);
      setBusy(false);
      return;
    }
    setBusy(true);
    if (!playing) frameCache.dropStale(document, v, SHARPEN);
    const take = (drawn: DrawnFrame) => {
      if (token.current === mine) {
        setShown({ drawn, frame });
        setError(null);
        setBusy(false);
      }
    };
    const fail = (problem: Error) => {
      if (!(problem instanceof Dropped) && token.current === mine) {
        setError(problem.message);
        setBusy(false);
      }
    };
    if (dragging && v.factor < 4) {
      // A draft in the hand: small, at once; the size that was chosen follows when the hand lets go.
      frameCache.request(document, frame, { ...v, factor: v.factor === 1 ? 2 : 4 }, URGENT).then(take, fail);
    } else frameCache.request(document, frame, v, URGENT).then(take, fail);
  }, [document, frame, key, dragging, playing]);

  useEffect(() => {
    if (dragging) return;
    const v = JSON.parse(key) as View;
    let stopped = false;
    const ahead = () => {
      if (stopped) return;
      const { shot, frame: now } = useShot.getState();
      if (!shot) return;
      // Frames on from the playhead first, then those before it; a few at a time, so that a nudge never waits long.
      const order: number[] = [];
      for (let f = now + 1; f <= shot.last; f++) order.push(f);
      for (let f = shot.first; f < now; f++) order.push(f);
      let asked = 0;
      for (const f of order) {
        if (asked >= workers().size) break;
        if (frameCache.has(shot, f, v)) continue;
        asked++;
        frameCache.request(shot, f, v, AHEAD).then(
          () => setTimeout(ahead),
          () => undefined,
        );
      }
    };
    const timer = setTimeout(ahead, 350);
    return () => {
      stopped = true;
      clearTimeout(timer);
    };
  }, [document, key, dragging, frame]);
  return { shown, error, busy };
}
