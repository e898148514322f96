import { useEffect } from 'react';
import { frameCache, Dropped, type View } from '../state/frameCache';
import { useDocument } from '../state/shotStore';

/** The base alone, small: quick to draw, and of use for every document that has the same clips. */
export const PLATE: View = { factor: 4, upTo: null, plain: true, matte: null };
/** Before the frames around the playhead, which take long, and behind everything that somebody waits for. */
const BETWEEN = 5;
/** Milliseconds after which one is asked for again that was dropped because the playhead moved. */
const AGAIN = 400;

/** Draws the small plates of these frames, one after another, while nothing else is wanted; they are then found in the cache. */
export function usePlates(frames: readonly number[]): void {
  const shot = useDocument(),
    list = frames.join();
  useEffect(() => {
    let over = false,
      timer: ReturnType<typeof setTimeout> | undefined;
    const wait = [...frames];
    const next = (): void => {
      const frame = wait.find((f) => !frameCache.has(shot, f, PLATE));
      if (over || frame === undefined) return;
      frameCache.request(shot, frame, PLATE, BETWEEN).then(next, (error: unknown) => {
        if (error instanceof Dropped) timer = setTimeout(next, AGAIN);
        else {
          // A medium that is missing says so in the viewer; its tile stays empty.
          wait.splice(wait.indexOf(frame), 1);
          next();
        }
      });
    };
    next();
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [shot.clips, shot.base, list]); // eslint-disable-line react-hooks/exhaustive-deps -- only clips and the frames themselves count
}
