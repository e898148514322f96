import { create } from 'zustand';
import { reducedSize } from '@wraithos/core/image';
import type { Factor } from '@wraithos/core/render';
import type { Shot } from '@wraithos/core/shot';
import { AHEAD, Dropped, frameCache, URGENT, type View } from '../state/frameCache';
import { useShot } from '../state/shotStore';
import { display } from '../workers/display';
import type { DrawnFrame } from '../workers/protocol';

export interface Shown {
  drawn: DrawnFrame;
  frame: number;
}
interface Keeping {
  shown: Shown | null;
  error: string | null;
  busy: boolean;
}
/** Milliseconds that nobody waits for: a picture that takes longer is worth a draft first. */
const AT_ONCE = 30;
/** How long the hand must rest before frames around the playhead are drawn. */
const REST = 350;

/**
 * Keeps the picture at the playhead on the display. It hears of a change from the store itself, before any component is drawn anew, since a nudge must
 * become a picture at once. The old picture stays until the new one is there; where that takes long it comes at half the size first, and then sharp;
 * while something is dragged only small. When the hand rests, frames around the playhead are drawn in the background.
 */
export class PictureKeeper {
  readonly use = create<Keeping>(() => ({ shown: null, error: null, busy: false }));
  private view: View | null = null;
  private viewKey = '';
  private token = 0;
  /** The last picture of the chosen size took so long that a draft comes first. */
  private slow = true;
  private asked: { document: Shot; frame: number; viewKey: string; dragging: boolean } | null = null;
  private resting: ReturnType<typeof setTimeout> | undefined;
  private around = 0;

  /** Begins to listen; gives what ends it. */
  start(): () => void {
    const stop = useShot.subscribe(() => this.look());
    this.look();
    return () => {
      stop();
      clearTimeout(this.resting);
      this.around++;
      this.token++;
      this.asked = null;
    };
  }
  setView(view: View): void {
    const key = JSON.stringify(view);
    if (key === this.viewKey) return;
    this.view = view;
    this.viewKey = key;
    this.look();
  }

  /** Asks for the picture if it is another one than before. */
  private look(): void {
    const { shot, live, frame, playing } = useShot.getState(),
      document = live ?? shot,
      { view, viewKey, asked } = this,
      dragging = live !== null;
    if (!document || !view) return;
    // The display plays by itself; what is seen when it stops is asked for then.
    if (playing) {
      this.asked = null;
      clearTimeout(this.resting);
      this.around++;
      return;
    }
    if (asked?.document === document && asked.frame === frame && asked.viewKey === viewKey && asked.dragging === dragging) return;
    this.asked = { document, frame, viewKey, dragging };
    clearTimeout(this.resting);
    const mine = ++this.around;
    if (!dragging) this.resting = setTimeout(() => this.fill(mine), REST);
    this.want(document, frame, view, dragging);
  }

  private want(document: Shot, frame: number, view: View, dragging: boolean): void {
    const mine = ++this.token,
      current = () => this.token === mine,
      have = frameCache.get(document, frame, view);
    display().room(reducedSize(document.width, view.factor), reducedSize(document.height, view.factor));
    const show = (drawn: DrawnFrame, more: Partial<Keeping> = { error: null, busy: false }) => {
      if (!current()) return;
      this.use.setState({ shown: { drawn, frame }, ...more });
    };
    if (have) {
      display().show(have.key, frame);
      show(have);
      return;
    }
    this.use.setState({ busy: true });
    frameCache.dropOthers(document, frame, view);
    const fail = (problem: Error) => {
      if (!(problem instanceof Dropped) && current()) this.use.setState({ error: problem.message, busy: false });
    };
    const sharp = () =>
      frameCache.request(document, frame, view, URGENT).then((drawn) => {
        this.slow = drawn.milliseconds > AT_ONCE;
        show(drawn);
      }, fail);
    const draft = { ...view, factor: (view.factor === 1 ? 2 : 4) as Factor },
      inHand = dragging && view.factor < 4;
    // A draft that was there before is shown from here; what comes the display takes by itself.
    const known = view.factor < 4 ? frameCache.get(document, frame, draft) : undefined;
    if (known) display().show(known.key, frame);
    display().await(
      [...(view.factor < 4 ? [frameCache.name(document, frame, draft)] : []), ...(inHand ? [] : [frameCache.name(document, frame, view)])],
      frame,
    );
    if (inHand) frameCache.request(document, frame, draft, URGENT).then(show, fail);
    else {
      if (view.factor < 4 && this.slow) frameCache.request(document, frame, draft, URGENT).then((drawn) => show(drawn, {}), fail);
      void sharp();
    }
  }

  /**
   * Frames on from the playhead first, then those before it; one is drawn and one waits, so that a nudge does not wait long, and each once: a frame
   * that failed is not asked for again until something changes.
   */
  private fill(mine: number): void {
    const asked = new Set<number>(),
      view = this.view!;
    let running = 0;
    const next = () => {
      const { shot, frame: now } = useShot.getState();
      if (this.around !== mine || !shot) return;
      const order = [
        ...Array.from({ length: shot.last - now }, (_, i) => now + 1 + i),
        ...Array.from({ length: now - shot.first }, (_, i) => shot.first + i),
      ];
      for (const f of order) {
        if (running >= 2) return;
        if (asked.has(f) || frameCache.has(shot, f, view)) continue;
        asked.add(f);
        running++;
        const over = () => {
          running--;
          setTimeout(next);
        };
        frameCache.request(shot, f, view, AHEAD).then(over, over);
      }
    };
    next();
  }
}
