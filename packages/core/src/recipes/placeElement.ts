import type { Lane } from '../effects';
import { hypot } from '../image/exactMath';
import { addRow, changeRow } from '../shot/edits';
import { together, type Edit } from '../shot/edit';
import { subjectsInOrder } from '../shot/query';
import type { Clip, Shot } from '../shot/schema';
import { framesPerSecond } from '../time/rate';

/** Where an element that was dropped on the picture comes to stand. */
export interface Landing {
  lane: Lane;
  subject: string | null;
  /** The track that it hangs on. */
  track: string | null;
}

/**
 * The place in depth that follows from where an element lands: before the subject that it lands on, behind the farthest one where it lands beside them
 * all, and before everything where there is none.
 * @param on the subject that it lands on; @param track the track that it lands on.
 */
export function landingOf(shot: Shot, on: string | null, track: string | null): Landing {
  const [farthest] = subjectsInOrder(shot);
  if (on) return { lane: 'front', subject: on, track };
  return farthest ? { lane: 'behind', subject: farthest.id, track } : { lane: 'foreground', subject: null, track };
}

/** The track that stands nearest to a place, within so many pixels; null where none does. */
export function trackAt(
  places: readonly { track: string; at: readonly [number, number] }[],
  [x, y]: readonly [number, number],
  within: number,
): string | null {
  let best: string | null = null,
    least = within;
  for (const { track, at } of places) {
    const d = hypot(at[0] - x, at[1] - y);
    if (d <= least) [best, least] = [track, d];
  }
  return best;
}

/**
 * Places a clip in the shot as an element, from a frame on: as large as it is, or as fits; for as long as it plays, or to the end of the shot where it
 * is a still or a loop.
 * @param at where its middle stands, whole-shot pixels.
 */
export function placeElement(
  shot: Shot,
  clip: Clip,
  o: { id: string; at: readonly [number, number]; frame: number; landing: Landing; loops: boolean; light: boolean },
): Edit {
  const rest = Math.max(1, shot.last - o.frame + 1),
    lasts = Math.ceil((clip.frames * framesPerSecond(shot.rate)) / framesPerSecond(clip.rate)),
    goesOn = clip.frames === 1 || o.loops,
    { lane, subject, track } = o.landing,
    add = addRow({
      id: o.id,
      effect: 'element',
      lane,
      subject,
      track,
      start: o.frame,
      length: goesOn ? rest : Math.min(rest, lasts),
      values: {
        place: track ? [0, 0] : [Math.round(o.at[0] - shot.width / 2), Math.round(o.at[1] - shot.height / 2)],
        fit: clip.width > shot.width || clip.height > shot.height ? 'fits the picture' : 'own size',
        playback: o.loops ? 'loops' : 'once',
      },
    }),
    show = changeRow(o.id, { clip: clip.id, name: clip.name, ...(o.light ? { blend: 'screen' as const } : {}) });
  return together('Place element', add, show);
}
