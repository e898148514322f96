import { eyeParts, faceParts, partName, screenSide, type FacePart, type faceSamples } from '../motion/face';
import { freshId } from './create';
import { together, type Edit } from './edit';
import { addTrack, changeTrack, pairTrack, storeSamples } from './edits';
import type { Shot, Track } from './schema';

type Found = ReturnType<typeof faceSamples>;
type Samples = Found['face'];

/** The track of the whole face that a track belongs to: itself, the face of a part, or of the eye of lids; null where none is named. */
export function faceOf(shot: Shot, track: Track): Track | null {
  if (track.kind === 'face') return track;
  const named = 'pair' in track && track.pair ? shot.tracks[track.pair] : undefined;
  return named && (track.kind === 'face part' || track.kind === 'lids') ? faceOf(shot, named) : null;
}
const partsOf = (shot: Shot, face: string) =>
  Object.values(shot.tracks).flatMap((t) => (t.kind === 'face part' && t.pair === face ? [t] : []));

/**
 * What was found of a face, as tracks: its own samples, and those of its parts and lids. A face that has no parts yet gets all of them; one that has
 * some keeps these, so that what was removed stays away.
 * @param keep stores samples and gives their content hash.
 */
export async function faceTracks(shot: Shot, face: Track, found: Found, keep: (samples: Samples) => Promise<string>): Promise<Edit> {
  const hashes = new Map<Samples, string>();
  for (const samples of [found.face, ...Object.values(found.parts), ...Object.values(found.lids)]) hashes.set(samples, await keep(samples));
  const place = (samples: Samples): Partial<Pick<Track, 'at'>> => {
      const here = samples.find((s) => s.frame === face.frame);
      return here && here.x !== null && here.y !== null ? { at: [here.x, here.y] } : {};
    },
    edits: Edit[] = [storeSamples({ [face.id]: hashes.get(found.face)! }), changeTrack(face.id, place(found.face))];
  let parts = partsOf(shot, face.id);
  const taken = { ...shot.tracks },
    make = (kind: 'face part' | 'lids', name: string, pair: string, at: [number, number], values?: { part: FacePart }): Track => {
      const id = freshId(taken, 't');
      edits.push(
        addTrack({ ...{ id, name, clip: face.clip, kind, at, frame: face.frame }, ...(values ? { values } : {}) }),
        pairTrack(id, pair),
      );
      return (taken[id] = { ...face, id, kind, ...values } as unknown as Track);
    };
  if (!parts.length) {
    parts = faceParts.map((part) => {
      const side = screenSide(found.parts, part, face.frame);
      return make('face part', partName(part, side), face.id, place(found.parts[part]).at ?? face.at, { part }) as (typeof parts)[number];
    });
    for (const eye of eyeParts) {
      const of = parts.find((p) => p.part === eye)!,
        lids = make('lids', `Lids of the ${eye}`, of.id, of.at);
      edits.push(storeSamples({ [lids.id]: hashes.get(found.lids[eye])! }));
    }
  }
  for (const part of parts) {
    edits.push(storeSamples({ [part.id]: hashes.get(found.parts[part.part])! }));
    const eye = eyeParts.find((e) => e === part.part);
    if (eye)
      for (const t of Object.values(shot.tracks))
        if (t.kind === 'lids' && t.pair === part.id) edits.push(storeSamples({ [t.id]: hashes.get(found.lids[eye])! }));
  }
  return together('Find face', ...edits);
}
