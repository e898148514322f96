import type { Frame } from '../motion/frame';
import type { EffectCheck, Site, Suggestion } from './describe';
import { awayFor } from './surroundings';

/** Values of an effect that goes from its mount to what it aims at, or to a place. Places in the picture's pixels. */
interface FromTo {
  to: 'what it aims at' | 'a place';
  start: readonly [number, number];
  end: readonly [number, number];
  place: readonly [number, number];
}
export interface Ends {
  begin: readonly [number, number];
  finish: readonly [number, number];
  /** How much its widths have grown with what it hangs on, and what it strikes with what it ends at. */
  grown: number;
  grownThere: number;
}

/** Both ends, in the picture's pixels; null where one of them is nowhere. */
export function endsOf(v: FromTo, mount: Frame, aim: Frame): Ends | null {
  const base = v.to === 'a place' ? mount : aim,
    off = v.to === 'a place' ? v.place : v.end;
  if (!mount.hung || !base.hung) return null;
  return {
    begin: mount.toPicture(v.start),
    finish: base.toPicture(off),
    grown: mount.scaleAt(v.start),
    grownThere: base.scaleAt(off),
  };
}

/** What is wrong where one of the ends is nowhere. */
export const fromToChecks: readonly EffectCheck<FromTo>[] = [
  {
    id: 'no-mount',
    find: ({ mount, name }) =>
      mount ? null : { text: `${name} hangs on nothing, so it begins nowhere.`, fix: 'Choose what it hangs on.' },
  },
  {
    id: 'no-target',
    find: ({ aim, name, values }) =>
      aim || values.to !== 'what it aims at'
        ? null
        : { text: `${name} aims at nothing, so it is not drawn.`, fix: 'Choose what it aims at, or let it end at a place.' },
  },
];

/** A new row reaches for another track or, where there is none, for a place beside its own. */
export const aimSuggested = ({ otherTrack, width, height, subjectPixels }: Site): Suggestion =>
  otherTrack
    ? { aim: otherTrack, values: awayFor(subjectPixels) }
    : { values: { to: 'a place', place: [Math.round(width / 4), -Math.round(height / 8)], ...awayFor(subjectPixels) } };
