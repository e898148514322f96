import { useEffect, useRef, useState } from 'react';
import { framesPerSecond } from '@wraithos/core/time';
import { frameCache, URGENT, type View } from '../state/frameCache';
import { useShot } from '../state/shotStore';

/** Plays at the shot's rate from drawn frames; where the next is not drawn yet it waits for it, and the real rate is told. */
export function usePlayback(view: View): number | null {
  const playing = useShot((s) => s.playing),
    [rate, setRate] = useState<number | null>(null),
    key = JSON.stringify(view),
    times = useRef<number[]>([]);
  useEffect(() => {
    if (!playing) {
      setRate(null);
      return;
    }
    const v = JSON.parse(key) as View;
    let stop = false,
      due = performance.now();
    times.current = [];
    const tick = (now: number) => {
      if (stop) return;
      const { shot, frame, loop, set } = useShot.getState();
      if (!shot) return;
      const each = 1000 / framesPerSecond(shot.rate);
      if (now >= due - 2) {
        const next = frame >= shot.last ? (loop ? shot.first : null) : frame + 1;
        if (next === null) {
          set({ playing: false });
          return;
        }
        if (frameCache.has(shot, next, v)) {
          set({ frame: next });
          due = Math.max(due + each, now - each);
          times.current = [...times.current, now].slice(-13);
          const t = times.current;
          if (t.length > 2) setRate(((t.length - 1) * 1000) / (t[t.length - 1]! - t[0]!));
        } else
          for (let f = next; f <= Math.min(shot.last, next + 2); f++)
            void frameCache.request(shot, f, v, URGENT - (f - next)).catch(() => undefined);
      }
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
    return () => {
      stop = true;
    };
  }, [playing, key]);
  return rate;
}
