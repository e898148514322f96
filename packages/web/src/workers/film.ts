import type { FilmFrame } from './protocol';

/** What a film says at a moment: a frame to show, that it waits for one, or that it is over. */
export type Moment = { show: number } | { waitFor: number } | { over: true } | null;

/**
 * The clock of a film that is played: which of its frames is due at a time. Where the next one is not drawn yet it stands still, and goes on from there
 * without a jump; where it was looked at too late, frames are left out and counted, so that the film keeps its rate.
 */
export class Film {
  private readonly keys = new Map<number, string>();
  private readonly times: number[] = [];
  private start = 0;
  private last = -1;
  private waiting = false;
  skipped = 0;

  /** @param at index of the first frame to show. */
  constructor(
    private readonly frames: readonly FilmFrame[],
    at: number,
    private readonly perSecond: number,
    private readonly loop: boolean,
  ) {
    for (const { frame, key } of frames) if (key) this.keys.set(frame, key);
    this.last = at - 1;
    this.start = NaN;
  }
  put(frame: number, key: string): void {
    this.keys.set(frame, key);
  }
  keyOf(frame: number): string | undefined {
    return this.keys.get(frame);
  }
  /** Frames shown a second, over the last ones. */
  get rate(): number {
    const { times } = this,
      span = times.length > 2 ? times[times.length - 1]! - times[0]! : 0;
    return span > 0 ? ((times.length - 1) * 1000) / span : 0;
  }

  /** What is to be done at this time (milliseconds); null where nothing is due. */
  at(now: number): Moment {
    const { frames, perSecond } = this,
      each = 1000 / perSecond;
    if (Number.isNaN(this.start)) this.start = now - this.last * each - each;
    // Half a millisecond of grace: displays tick a little early.
    if (this.waiting && this.keys.has(frames[(this.last + 1) % frames.length]!.frame)) {
      // What it waited for is there: it is due now, and the next one a frame later.
      this.waiting = false;
      this.start = now - (this.last + 1) * each;
    }
    let due = Math.floor((now - this.start + 0.5) / each);
    if (due <= this.last) return null;
    if (!this.loop && this.last >= frames.length - 1) return { over: true };
    if (!this.loop) due = Math.min(due, frames.length - 1);
    for (let i = this.last + 1; i <= due; i++) {
      const { frame } = frames[i % frames.length]!;
      if (this.keys.has(frame)) continue;
      // It stands before the first one that is missing, and its clock with it.
      this.start = now - i * each;
      if (i - 1 === this.last) {
        this.waiting = true;
        return { waitFor: frame };
      }
      due = i - 1;
      break;
    }
    this.skipped += due - this.last - 1;
    this.last = due;
    this.times.push(now);
    if (this.times.length > 25) this.times.shift();
    return { show: frames[due % frames.length]!.frame };
  }
}
