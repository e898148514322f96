/**
 * Which pictures of a clip show at a moment of its way: what plays, from which frame to which, how it goes on at its end, and what stands between two
 * frames. Everything that is retimed (elements, subjects, clips) asks here.
 */
export const playNames = ['once', 'once, then stays', 'loops', 'there and back', 'loops, crossfaded'] as const;
export type Plays = (typeof playNames)[number];
/** What stands between two frames: the nearer one, both in proportion, or a picture made by the motion from one to the other. */
export const betweenNames = ['nearest', 'blended', 'by motion'] as const;
export type Between = (typeof betweenNames)[number];

export interface Playing {
  /** First and last frame that play. */
  first: number;
  last: number;
  backwards: boolean;
  plays: Plays;
  /** Frames by which the end of a crossfaded loop overlaps its beginning. */
  overlap: number;
  between: Between;
}
/** A frame of a clip and its share of what shows, 0..1. Shares of a moment sum to 1. */
export interface Moment {
  frame: number;
  share: number;
  /** Two moments with the same number are the ends of a motion, and the picture between them is made by it: their shares say how far on it is. */
  motion?: number;
}

const mod = (a: number, n: number): number => ((a % n) + n) % n;

/**
 * What shows at a place of the way, in frames from the first that plays (fractions allowed). Nothing, where it plays once and has not begun or is over.
 */
export function momentsAt(way: number, { first, last, backwards, plays, overlap, between }: Playing): Moment[] {
  const n = last - first + 1;
  if (n < 1) return [];
  const out: Moment[] = [];
  /** Both neighbours of a place, `after` the last frame comes the first where it loops; times `share`. */
  const add = (place: number, share: number, loops: boolean) => {
    if (share <= 0) return;
    const low = Math.floor(place),
      part = place - low,
      frameAt = (i: number) => {
        const at = loops ? mod(i, n) : Math.min(n - 1, Math.max(0, i));
        return backwards ? last - at : first + at;
      },
      moves = between === 'by motion' && part > 0 && frameAt(low) !== frameAt(low + 1) ? { motion: out.length } : {},
      one = (i: number, weight: number) => {
        if (weight <= 0) return;
        const frame = frameAt(i),
          known = out.find((m) => m.frame === frame && m.motion === undefined && !('motion' in moves));
        if (known) known.share += weight;
        else out.push({ frame, share: weight, ...moves });
      };
    if (between === 'nearest') one(Math.floor(place + 0.5), share);
    else {
      one(low, share * (1 - part));
      one(low + 1, share * part);
    }
  };
  switch (plays) {
    case 'once':
      // Each frame lasts until the next would begin.
      if (way > -1 && way < n) add(Math.min(n - 1, Math.max(0, way)), 1, false);
      break;
    case 'once, then stays':
      add(Math.min(n - 1, Math.max(0, way)), 1, false);
      break;
    case 'loops':
      add(mod(way, n), 1, true);
      break;
    case 'there and back': {
      const turn = Math.max(1, 2 * (n - 1)),
        at = mod(way, turn);
      add(at <= n - 1 ? at : turn - at, 1, false);
      break;
    }
    case 'loops, crossfaded': {
      const fade = Math.min(Math.max(0, overlap), Math.floor(n / 2)),
        round = Math.max(1, n - fade),
        at = mod(way, round);
      // The first time round nothing has ended yet.
      const share = way < round || fade === 0 ? 1 : Math.min(1, (at + 1) / (fade + 1));
      add(at, share, false);
      add(at + round, 1 - share, false);
      break;
    }
  }
  return out;
}
