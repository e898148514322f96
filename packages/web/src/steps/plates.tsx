import { ClipLine } from '../cues/ClipLine';
import type { TimeScale } from '../cues/scale';
import { useDocument } from '../state/shotStore';
import { LongList } from '../ui/LongList';
import { plainView, type StepDefinition } from './describe';
import { DoubtOverlay } from '../plates/DoubtOverlay';
import { ClipOverlay } from '../viewer/PlacedOverlay';
import type { Space } from '../viewer/space';
import { PlatesPanel } from './PlatesPanel';

/** Height of the line of a clip, pixels. */
const LINE = 16;
function ClipLines({ x }: { x: TimeScale }) {
  const clips = Object.values(useDocument().clips);
  return (
    <LongList
      className="ranges"
      items={clips}
      size={LINE}
      pad={5}
      draw={(clip, top) => <ClipLine key={clip.id} clip={clip} x={x} top={top} />}
    />
  );
}

const Overlay = ({ space }: { space: Space }) => (
  <>
    <ClipOverlay space={space} />
    <DoubtOverlay space={space} />
  </>
);

export const plates: StepDefinition = {
  id: 'plates',
  title: 'Plates',
  about: 'Bring clips in, say which one is the performance and which the clean plate, and place them in time.',
  hint: 'Drop clips onto the list at the left. Say which one is the performance and which the clean plate.',
  List: PlatesPanel,
  settles: ['clip', 'cue', 'base'],
  Overlay,
  places: 'clips',
  Time: ClipLines,
  // A selected clip shows itself, with another take laid over it where that is asked for.
  view({ shot, live, selection, skin }) {
    const id = selection?.kind === 'clip' && (live ?? shot)?.clips[selection.id] ? selection.id : null;
    return { ...plainView, plain: id ?? true, skin: id && skin && skin.clip !== id && (live ?? shot)?.clips[skin.clip] ? skin : null };
  },
};
