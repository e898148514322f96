import { textKey } from '@wraithos/core/image';
import type { Factor, MatteView } from '@wraithos/core/render';
import type { Shot } from '@wraithos/core/shot';
import type { DrawnFrame } from '../workers/protocol';
import { Dropped, workers } from '../workers/pool';

const keys = { plain: new WeakMap<Shot, string>(), whole: new WeakMap<Shot, string>() };
const unnamed = (map: Record<string, object>) => Object.values(map).map((entry) => ({ ...entry, name: '' }));
/**
 * Equal for documents that draw the same pictures in this view: names and ranges of the shot do not count, and for the base alone
 * only the clips do.
 */
export function pictureKey(shot: Shot, view: Pick<View, 'plain' | 'matte'>): string {
  const plain = view.plain && !view.matte,
    kept = keys[plain ? 'plain' : 'whole'];
  let key = kept.get(shot);
  if (!key) {
    const maps = plain
      ? [shot.clips]
      : [shot.clips, shot.cues, shot.tracks, shot.mounts, shot.mattes, shot.subjects, shot.occluders, shot.rows];
    key = textKey(JSON.stringify([plain, shot.width, shot.height, shot.rate, shot.base, ...maps.map(unnamed)]));
    kept.set(shot, key);
  }
  return key;
}

export interface View {
  factor: Factor;
  upTo: string | null;
  plain: boolean;
  matte: { id: string; view: MatteView } | null;
}
const LIMIT = 700 * 2 ** 20;
export const URGENT = 10,
  SHARPEN = 6,
  AHEAD = 2;

/** Drawn frames, by picture key, frame and view; the least recently used leave first. */
class FrameCache {
  private readonly frames = new Map<string, DrawnFrame>();
  private readonly pending = new Map<string, { promise: Promise<DrawnFrame>; control: AbortController; priority: number }>();
  private bytes = 0;
  private readonly listeners = new Set<() => void>();
  /** Counts up with every change, for components that show what is computed. */
  version = 0;

  key(shot: Shot, frame: number, view: View): string {
    return `${pictureKey(shot, view)} ${frame} ${view.factor} ${view.upTo ?? ''} ${view.matte ? view.matte.id + view.matte.view : ''}`;
  }
  has(shot: Shot, frame: number, view: View): boolean {
    return this.frames.has(this.key(shot, frame, view));
  }
  get(shot: Shot, frame: number, view: View): DrawnFrame | undefined {
    const key = this.key(shot, frame, view),
      drawn = this.frames.get(key);
    if (drawn) {
      this.frames.delete(key);
      this.frames.set(key, drawn);
    }
    return drawn;
  }
  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Draws a frame, or gives the one that is there. @throws Dropped where it was no longer wanted. */
  request(shot: Shot, frame: number, view: View, priority: number): Promise<DrawnFrame> {
    const key = this.key(shot, frame, view),
      have = this.frames.get(key);
    if (have) return Promise.resolve(have);
    const under = this.pending.get(key);
    if (under && under.priority >= priority) return under.promise;
    under?.control.abort();
    const control = new AbortController(),
      promise = workers().frame({ shot, frame, ...view }, priority, control.signal);
    this.pending.set(key, { promise, control, priority });
    const over = () => {
      if (this.pending.get(key)?.promise === promise) this.pending.delete(key);
    };
    promise.then((drawn) => {
      over();
      this.frames.set(key, drawn);
      this.bytes += drawn.pixels.byteLength;
      for (const [old, entry] of this.frames) {
        if (this.bytes <= LIMIT) break;
        this.frames.delete(old);
        this.bytes -= entry.pixels.byteLength;
      }
      this.version++;
      for (const listener of this.listeners) listener();
    }, over);
    return promise;
  }
  /** Drops what waits for other documents, and everything less urgent than `priority`. */
  dropStale(shot: Shot, view: View, priority: number): void {
    const own = pictureKey(shot, view);
    for (const [key, entry] of this.pending)
      if (!key.startsWith(own) || entry.priority < priority) {
        entry.control.abort();
        this.pending.delete(key);
      }
  }
  get waiting(): number {
    return this.pending.size;
  }
}
export const frameCache = new FrameCache();
export { Dropped };
