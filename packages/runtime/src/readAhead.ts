import type { Codes } from '@wraithos/core/image';
import type { Sources } from '@wraithos/core/render';

/** Frames that may wait at a time: one for each of a few clips. */
const MOST = 4;

/** Sources that begin to read a clip's next frame when one is asked for, so that reading overlaps with computing. */
export function readAhead(sources: Sources): Sources {
  const waiting = new Map<string, Promise<Codes>>();
  return {
    frame(clip, at) {
      const name = (frame: number) => `${JSON.stringify(clip.media)} ${frame}`,
        ready = waiting.get(name(at));
      waiting.delete(name(at));
      const now = ready ?? sources.frame(clip, at);
      if (at + 1 < clip.frames && !waiting.has(name(at + 1))) {
        const next = sources.frame(clip, at + 1);
        // Whoever asks for it hears of what went wrong.
        next.catch(() => undefined);
        waiting.set(name(at + 1), next);
        for (const old of waiting.keys()) {
          if (waiting.size <= MOST) break;
          waiting.delete(old);
        }
      }
      return now;
    },
    samples: (hash) => sources.samples(hash),
  };
}
