import { Ruler } from 'lucide-react';
import { floorPixelsPerMetre, metresPerPixel } from '@wraithos/core/motion';
import { framesOf } from '@wraithos/core/render';
import { appearanceOf, changeSubject, clipFrame, onClip, type Subject } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { useTracks } from '../workbench/tracks';
import { mattesAt } from '../workers/mattesAt';

/** Measures a subject's height on its matte at the playhead, and in metres by the floor that it stands on. */
export function GroundHeights({ subject }: { subject: Subject }) {
  const shot = useDocument(),
    tracks = useTracks(),
    { frame, edit, set } = useParts('frame', 'edit', 'set'),
    ground = Object.values(shot.tracks).find((t) => t.kind === 'ground' && t.clip === subject.clip),
    clip = shot.clips[subject.clip];
  if (!ground || !clip || !subject.matte) return null;
  const measure = async () => {
    const box = (await mattesAt(shot, frame, [subject.matte!], null))[0]?.box,
      floor = framesOf(shot, tracks).ofTrack(ground.id, clipFrame(shot, clip, frame));
    if (!box || !floor) {
      set({ notice: `${subject.name} is not to be seen at ${frame}: go to a frame on which it stands whole.` });
      return;
    }
    const look = appearanceOf(shot, clip, frame),
      feet = onClip(look, [(box[0] + box[2]) / 2, box[3]]),
      head = onClip(look, [(box[0] + box[2]) / 2, box[1]]),
      metres = (feet[1] - head[1]) * metresPerPixel(floor, floorPixelsPerMetre(ground as never), feet);
    if (!(metres > 0.01 && metres < 1000)) {
      set({ notice: `By ${ground.name}, ${subject.name} would be ${metres.toFixed(2)} m high. Check its corners and its size.` });
      return;
    }
    edit(changeSubject(subject.id, { metres: Math.round(metres * 100) / 100, pixels: Math.round(box[3] - box[1]) }));
  };
  return (
    <button
      type="button"
      className="btn btn-quiet btn-sm my-1"
      title="Stands upright on the floor at this frame, with its feet to be seen"
      onClick={() => void measure()}
    >
      <Ruler size={14} className="me-1" />
      Heights by {ground.name}
    </button>
  );
}
