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
    let stopped = false,
      running = 0;
    const asked = new Set<number>();
    // Frames on from the playhead first, then those before it; never more at a time than there are workers, so that a nudge does not
    // wait long, and each once: a frame that failed is not asked for again until something changes.
    const ahead = () => {
      const { shot, frame: now } = useShot.getState();
      if (stopped || !shot) return;
      const order = [
        ...Array.from({ length: shot.last - now }, (_, i) => now + 1 + i),
        ...Array.from({ length: now - shot.first }, (_, i) => shot.first + i),
      ];
      for (const f of order) {
        if (running >= workers().size) return;
        if (asked.has(f) || frameCache.has(shot, f, v)) continue;
        asked.add(f);
        running++;
        const over = () => {
          running--;
          setTimeout(ahead);
        };
        frameCache.request(shot, f, v, AHEAD).then(over, over);
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
