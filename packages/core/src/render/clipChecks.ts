import { framesPerSecond } from '../time/rate';
import type { Clip, Shot } from '../shot/schema';
import type { Check } from './check';

/** What the store holds of a clip's medium. */
export interface Held {
  width: number;
  height: number;
  frames: number;
  rate: Clip['rate'];
}
/** A clip of a shot, and what is held of it; null where nothing is. */
export type HeldClip = { clip: string; held: Held | null };

const size = ({ width, height }: { width: number; height: number }) => `${width} x ${height}`;
const perSecond = (rate: Clip['rate']) => Math.round(framesPerSecond(rate) * 100) / 100;
/** What is wrong with a clip against what is held of it, in words and with a way out; null where nothing is. */
export function clipTrouble(clip: Clip, held: Held | null): Pick<Check, 'id' | 'text' | 'fix'> | null {
  const found = (id: string, text: string, fix: string) => ({ id, text: `${clip.name} ${text}.`, fix });
  if (!held)
    return found(
      'clip-gone',
      'is not in the store',
      'Bring the same file in again on Plates: it is known by its content, and everything stays.',
    );
  if (held.frames < clip.frames)
    return found(
      'clip-short',
      `has ${held.frames} frames in the store, and ${clip.frames} are used`,
      'Trim it, or bring the whole clip in.',
    );
  if (held.width !== clip.width || held.height !== clip.height)
    return found(
      'clip-size',
      `is ${size(held)} in the store, and ${size(clip)} in the shot`,
      'Remove it and bring it in again, or fit it anew under Place.',
    );
  if (perSecond(held.rate) !== perSecond(clip.rate))
    return found(
      'clip-rate',
      `runs at ${perSecond(held.rate)} frames a second in the store, and at ${perSecond(clip.rate)} in the shot`,
      'Choose its rate under Clip time.',
    );
  return null;
}

/** Checks of all clips of a shot against what is held of them: on the rows that show a clip, or on the clip where no row does. */
export const heldChecks = (shot: Shot, held: readonly HeldClip[]): Check[] =>
  held.flatMap(({ clip: id, held: of }) => {
    const clip = shot.clips[id],
      trouble = clip && clipTrouble(clip, of);
    if (!trouble) return [];
    const rows = Object.values(shot.rows).filter((row) => row.clip === id);
    return rows.length ? rows.map((row) => ({ ...trouble, row: row.id, clip: id })) : [{ ...trouble, clip: id }];
  });
