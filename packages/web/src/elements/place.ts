import { bringStock, type Imported } from '@wraithos/contract';
import { laneTitles } from '@wraithos/core/effects';
import { landingOf, placeElement, trackAt } from '@wraithos/core/recipes';
import { framesOf, type Tracks } from '@wraithos/core/render';
import { addClip, clipOf, freshId, ownClips, subjectsInOrder, together, type Clip, type Edit, type Shot } from '@wraithos/core/shot';
import { call } from '../api/client';
import { useShot } from '../state/shotStore';
import { mattesAt } from '../workers/mattesAt';

/** What is dragged onto the picture: a clip of the shot, or an element of the stockroom. */
export type Dragged = { clip: string } | { stock: string; loops: boolean; light: boolean };
const TYPE = 'application/x-wraithos-element';

export function startDrag(event: React.DragEvent, what: Dragged): void {
  event.dataTransfer.setData(TYPE, JSON.stringify(what));
  event.dataTransfer.effectAllowed = 'copy';
}
export const isDragged = (event: React.DragEvent): boolean => event.dataTransfer.types.includes(TYPE);
export function draggedOf(event: React.DragEvent): Dragged | null {
  const text = event.dataTransfer.getData(TYPE);
  return text ? (JSON.parse(text) as Dragged) : null;
}

/** Screen pixels within which a drop takes hold of a track. */
const NEAR = 22;

/** The subject whose matte covers a place, the nearest first; null where none does. */
async function subjectUnder(shot: Shot, frame: number, at: readonly [number, number]): Promise<string | null> {
  const subjects = subjectsInOrder(shot)
      .reverse()
      .filter((s) => s.matte),
    found = await mattesAt(
      shot,
      frame,
      subjects.map((s) => s.matte!),
      at,
    );
  return subjects.find((_, i) => (found[i]?.value ?? 0) > 0.5)?.id ?? null;
}

/** A clip of the shot that shows this medium, or the edit that adds one. */
function clipFor(shot: Shot, medium: Imported): { clip: Clip; add: Edit | null } {
  const known = ownClips(shot).find((c) => 'hash' in c.media && c.media.hash === medium.hash);
  if (known) return { clip: known, add: null };
  const id = freshId(shot.clips, 'c'),
    clip = clipOf({ id, file: medium.name, role: 'element', media: { hash: medium.hash }, facts: medium.info, start: shot.first });
  return { clip, add: addClip(clip, id) };
}

/**
 * Puts something on the picture as an element, at a place; its lane follows from where it lands, and it is told.
 * @param zoom screen pixels for each whole-shot pixel.
 */
export async function drop(what: Dragged | Imported, at: readonly [number, number], tracks: Tracks, zoom: number): Promise<void> {
  const { set } = useShot.getState();
  try {
    const medium = 'stock' in what ? await call(bringStock, { params: { id: what.stock } }) : 'hash' in what ? what : null,
      { shot, frame, edit } = useShot.getState();
    if (!shot) return;
    const { clip, add } = medium ? clipFor(shot, medium) : { clip: shot.clips[(what as { clip: string }).clip], add: null };
    if (!clip) return;
    const mounts = framesOf(shot, tracks),
      places = Object.values(shot.mounts).flatMap((m) => {
        const there = m.offset[0] === 0 && m.offset[1] === 0 ? mounts.at(m.id, frame) : null;
        return there ? [{ track: m.track, at: there.toPicture([0, 0]) }] : [];
      }),
      on = await subjectUnder(shot, frame, at),
      landing = landingOf(shot, on, trackAt(places, at, NEAR / zoom)),
      id = freshId(shot.rows, 'r'),
      place = placeElement(shot, clip, {
        id,
        at,
        frame,
        landing,
        loops: 'stock' in what ? what.loops : false,
        light: 'stock' in what ? what.light : false,
      });
    edit(together(place.name, add, place));
    const subject = landing.subject ? shot.subjects[landing.subject]!.name : null;
    set({
      selection: { kind: 'row', id },
      notice: `${clip.name} stands in ${laneTitles[landing.lane]}${subject ? ` of ${subject}` : ''}${landing.track ? `, on ${shot.tracks[landing.track]!.name}` : ''}. Drag it in the stack to stand elsewhere.`,
    });
  } catch (error) {
    set({ notice: (error as Error).message });
  }
}
