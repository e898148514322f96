import type { Pose } from '../mounts/mount';
import type { EffectCheck } from './describe';

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
}

/** Both ends, in the picture's pixels; null where one of them is nowhere. */
export function endsOf(v: FromTo, mount: Pose | null, aim: Pose | null, scale: number): Ends | null {
  const base = v.to === 'a place' ? mount : aim,
    off = v.to === 'a place' ? v.place : v.end;
  if (!mount || !base) return null;
  return {
    begin: [mount.x * scale + v.start[0], mount.y * scale + v.start[1]],
    finish: [base.x * scale + off[0], base.y * scale + off[1]],
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
