import { textKey } from '@wraithos/core/image';
import { isOpaque, type Compare, type Factor, type Look, type MatteLook, type Skin } from '@wraithos/core/render';
import { mapOf, type Shot } from '@wraithos/core/shot';
import type { Backdrop, DrawnFrame } from '../workers/protocol';
import { display } from '../workers/display';
import { drawer, Dropped, URGENT, type FrameAsk } from '../workers/pool';
import { memoryShares, usePreferences } from './preferences';

const keys = { plain: new WeakMap<Shot, string>(), whole: new WeakMap<Shot, string>() };
/**
 * Equal for documents that draw the same pictures in this view: names and ranges of the shot do not count, and for the base alone
 * only the clips do.
 */
export function pictureKey(shot: Shot, view: Pick<View, 'plain' | 'matte'>): string {
  const plain = view.plain && !view.matte,
    kept = keys[plain ? 'plain' : 'whole'];
  let key = kept.get(shot);
  if (!key) {
    // A clip or a transition of the base may begin at a cue, and that one be led by a matte or an effect.
    const led =
        shot.base.takes.some((take) => take.cue || take.matte || take.row) || Object.values(shot.clips).some((clip) => clip.cue !== null),
      maps = plain && !led ? [shot.clips] : Object.values(mapOf).map((map) => shot[map]);
    key = textKey(
      JSON.stringify([plain, shot.width, shot.height, shot.rate, shot.base, ...maps], (field, value: unknown) =>
        field === 'name' ? undefined : value,
      ),
    );
    kept.set(shot, key);
  }
  return key;
}

export interface View {
  factor: Factor;
  upTo: string | null;
  /** The base without any effect, or (an id) one clip of the shot. */
  plain: boolean | string;
  matte: ({ id: string } & MatteLook) | null;
  /** A clip laid over it, to compare two takes. */
  skin?: { clip: string; how: Skin } | null;
  /** What stands behind what is transparent: the preference, or black where nothing is. Every picture of a shot has the same one. */
  backdrop?: Backdrop;
  /** How it is looked at; as it is where nothing is said. */
  look?: Look;
  /** What it is looked at beside. */
  compare?: Compare | null;
}
const opaque = new WeakMap<Shot, boolean>();
/** What stands behind the transparent parts of a shot's pictures. */
export function backdropOf(shot: Shot): Backdrop {
  let is = opaque.get(shot);
  if (is === undefined) opaque.set(shot, (is = isOpaque(shot)));
  return is ? 'black' : usePreferences.getState().backdrop;
}
const WHOLE = { plain: false, matte: null };
export const AHEAD = 2;

/**
 * Which pictures the display has: by the key of what was computed for them, and which of them is a frame of a document in a view. The drawing worker
 * knows the keys, so that an edit draws only the frames that it touches. The least recently used leave first.
 */
class FrameCache {
  private readonly pictures = new Map<string, DrawnFrame>();
  private readonly names = new Map<string, string>();
  private readonly pending = new Map<string, { promise: Promise<DrawnFrame>; control: AbortController; priority: number }>();
  private bytes = 0;
  private readonly listeners = new Set<() => void>();
  private telling = false;
  /** Counts up with every change, for components that show what is computed. */
  version = 0;

  /** What a frame of a document in a view is called, here and on its way to the display. */
  name(shot: Shot, frame: number, view: View): string {
    return `${pictureKey(shot, view)} ${frame} ${view.factor} ${view.upTo ?? ''} ${view.plain} ${view.matte ? JSON.stringify(view.matte) : ''} ${view.skin ? view.skin.clip + view.skin.how : ''} ${backdropOf(shot)} ${view.look ? JSON.stringify(view.look) : ''} ${view.compare ? JSON.stringify(view.compare) : ''}`;
  }
  has(shot: Shot, frame: number, view: View): boolean {
    return this.peek(shot, frame, view) !== undefined;
  }
  private find(name: string): DrawnFrame | undefined {
    const key = this.names.get(name);
    return key === undefined ? undefined : this.pictures.get(key);
  }
  /** The picture that is there, without counting as a use of it. */
  peek(shot: Shot, frame: number, view: View): DrawnFrame | undefined {
    return this.find(this.name(shot, frame, view));
  }
  get(shot: Shot, frame: number, view: View): DrawnFrame | undefined {
    const drawn = this.peek(shot, frame, view);
    if (drawn) {
      this.pictures.delete(drawn.key);
      this.pictures.set(drawn.key, drawn);
    }
    return drawn;
  }
  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  /** Tells of changes once in a while: components show many small pictures, and a row of frames changes them one after another. */
  private changed(): void {
    this.version++;
    if (this.telling) return;
    this.telling = true;
    setTimeout(() => {
      this.telling = false;
      for (const listener of this.listeners) listener();
    }, 60);
  }

  /** Draws a frame, or gives the one that is there. @throws Dropped where it was no longer wanted. */
  request(shot: Shot, frame: number, view: View, priority: number, thumb?: number): Promise<DrawnFrame> {
    const name = this.name(shot, frame, view),
      have = this.find(name);
    if (have && (thumb ?? 0) <= have.thumb.width) return Promise.resolve(have);
    const under = this.pending.get(name);
    if (under && under.priority >= priority) return under.promise;
    under?.control.abort();
    const control = new AbortController(),
      promise = this.draw(
        name,
        {
          shot,
          frame,
          ...view,
          backdrop: backdropOf(shot),
          playhead: priority >= URGENT,
          document: pictureKey(shot, WHOLE),
          ticket: name,
          thumb,
        },
        priority,
        control.signal,
      );
    this.pending.set(name, { promise, control, priority });
    const over = () => {
      if (this.pending.get(name)?.promise === promise) this.pending.delete(name);
    };
    promise.then(over, over);
    return promise;
  }
  private async draw(name: string, ask: FrameAsk, priority: number, signal: AbortSignal): Promise<DrawnFrame> {
    for (;;) {
      const { key, drawn } = await drawer().frame(ask, priority, signal),
        known = drawn ?? this.pictures.get(key);
      if (!known) {
        // It left the display while the answer was on its way: once more.
        drawer().forget([key]);
        continue;
      }
      if (drawn) this.keep(drawn);
      this.names.set(name, key);
      this.changed();
      return known;
    }
  }
  constructor() {
    usePreferences.subscribe(() => this.shrink(''));
  }
  /** Bytes of pictures that the display has, and of the small ones here. */
  get bytesKept(): number {
    return this.bytes;
  }
  private keep(drawn: DrawnFrame): void {
    const before = this.pictures.get(drawn.key);
    this.bytes += bytesIn(drawn) - (before ? bytesIn(before) : 0);
    this.pictures.set(drawn.key, drawn);
    this.shrink(drawn.key);
  }
  private shrink(but: string): void {
    const limit = memoryShares().pictures,
      gone: string[] = [];
    for (const [old, entry] of this.pictures) {
      if (this.bytes <= limit || old === but) break;
      this.pictures.delete(old);
      this.bytes -= bytesIn(entry);
      gone.push(old);
    }
    if (gone.length) {
      display().forget(gone);
      drawer().forget(gone);
    }
    if (this.names.size > MOST_NAMES) for (const [n, key] of this.names) if (!this.pictures.has(key)) this.names.delete(n);
  }
  /** Drops everything that waits or is drawn for another document or frame than this one: nobody looks at it any more. */
  dropOthers(shot: Shot, frame: number, view: View): void {
    const own = `${pictureKey(shot, view)} ${frame} `;
    for (const [name, entry] of this.pending)
      if (!name.startsWith(own)) {
        entry.control.abort();
        this.pending.delete(name);
      }
  }
}
const bytesIn = (drawn: DrawnFrame): number => drawn.bytes + drawn.thumb.pixels.byteLength;
const MOST_NAMES = 20000;
export const frameCache = new FrameCache();
export { Dropped, URGENT };
