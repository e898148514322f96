import { useEffect, useState } from 'react';
import { framesPerSecond } from '@wraithos/core/time';
import { frameCache, URGENT, type View } from '../state/frameCache';
import { useShot } from '../state/shotStore';
import { usePlayedFrame } from '../state/shownFrame';
import { display } from '../workers/display';

/** Frames that are asked for ahead of the one that a film waits for. */
const AHEAD_OF_FILM = 3;

/**
 * Plays at the shot's rate. The display keeps the time, so that nothing that happens on the page delays a frame; the page hears now and then where it
 * stands. A frame that is not drawn yet is waited for. Gives the real rate while it plays.
 */
export function usePlayback(view: View): number | null {
  const playing = useShot((s) => s.playing),
    loop = useShot((s) => s.loop),
    range = useShot((s) => s.range),
    shot = useShot((s) => s.shot),
    [rate, setRate] = useState<number | null>(null),
    key = JSON.stringify(view);
  useEffect(() => {
    if (!playing || !shot) return;
    const v = JSON.parse(key) as View,
      first = useShot.getState().frame,
      begins = Math.max(shot.first, Math.min(range?.[0] ?? shot.first, shot.last)),
      ends = Math.max(begins, Math.min(range?.[1] ?? shot.last, shot.last)),
      film = Array.from({ length: ends - begins + 1 }, (_, i) => ({
        frame: begins + i,
        key: frameCache.get(shot, begins + i, v)?.key ?? null,
      })),
      asked = new Set<number>();
    let over = false;
    const draw = (frame: number) => {
      for (let f = frame; f <= Math.min(ends, frame + AHEAD_OF_FILM); f++) {
        if (asked.has(f)) continue;
        asked.add(f);
        frameCache.request(shot, f, v, URGENT - (f - frame)).then(
          (drawn) => {
            if (!over) display().put(f, drawn.key);
          },
          () => asked.delete(f),
        );
      }
    };
    const stop = display().listen((answer) => {
      if (answer.kind === 'shown') usePlayedFrame.setState({ frame: answer.frame });
      else if (answer.kind === 'playing') {
        useShot.getState().set({ frame: answer.frame });
        setRate(answer.perSecond || null);
        if (answer.waitsFor !== null) draw(answer.waitsFor);
      } else if (answer.kind === 'ended') useShot.getState().set({ frame: answer.frame, playing: false });
    });
    // From outside of the range it begins at its first frame.
    display().play(film, first < begins || first > ends ? 0 : first - begins, framesPerSecond(shot.rate), loop);
    return () => {
      over = true;
      display().stop();
      stop();
      usePlayedFrame.setState({ frame: null });
      setRate(null);
    };
  }, [playing, loop, range, shot, key]);
  return rate;
}
