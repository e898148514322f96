import { addRepair, appearanceOf, onClip, onPicture, type Repair } from '@wraithos/core/shot';
import { useShot, type ShotState } from '../state/shotStore';
import { BrushRing, BrushWay } from '../viewer/brushMarks';
import { usePointer } from '../viewer/pointer';
import { colours } from '../viewer/marks';
import { toScreen, type Space } from '../viewer/space';
import { tool } from './describe';

/** A brush that lays other pixels over a clip, and the stroke that is being painted with it, in pixels of the clip. */
interface Repairing extends Omit<Repair, 'id'> {
  /** The clip that is repaired. */
  of: string;
}

const onOwn = ({ shot, frame }: Pick<ShotState, 'shot' | 'frame'>, clip: string, at: [number, number]): [number, number] | null => {
  const it = shot?.clips[clip];
  return it ? onClip(appearanceOf(shot!, it, frame), at) : null;
};

/** The brush at the pointer, where its pixels come from, and the way that was painted. */
function Brush({ state, space }: { state: Repairing; space: Space }) {
  const { shot, frame } = useShot(),
    at = usePointer((s) => s.at),
    clip = shot?.clips[state.of];
  if (!clip) return null;
  const look = appearanceOf(shot!, clip, frame),
    screen = (p: readonly [number, number]) => toScreen(space, ...onPicture(look, p)),
    own = at && onClip(look, at),
    scale = look.matrix ? Math.hypot(look.matrix[0], look.matrix[3]) : 1,
    radius = state.radius * scale * space.zoom;
  return (
    <>
      {state.points.length > 0 && <BrushWay points={state.points.map(screen)} radius={radius} colour={colours.matte} />}
      {own && (
        <>
          <BrushRing at={screen(own)} radius={radius} colour={colours.matte} />
          {(state.offset[0] !== 0 || state.offset[1] !== 0) && (
            <BrushRing at={screen([own[0] + state.offset[0], own[1] + state.offset[1]])} radius={radius} colour={colours.matte} dashed />
          )}
        </>
      )}
    </>
  );
}

/** Paints other pixels over a clip: each press and drag is a stroke, until Esc. */
export const repair = tool<Repairing>()({
  kind: 'repair',
  hint: ({ of }) => `Paint over what does not belong on ${useShot.getState().shot?.clips[of]?.name ?? 'the clip'}. Esc leaves.`,
  press(state, at, now) {
    const own = onOwn(now, state.of, at);
    return own ? { ...state, points: [own] } : null;
  },
  drag(state, at, now) {
    const own = onOwn(now, state.of, at),
      last = state.points.at(-1);
    if (!own || !last) return state;
    // Points closer than an eighth of the brush say nothing new.
    return Math.hypot(own[0] - last[0], own[1] - last[1]) < state.radius / 8 ? state : { ...state, points: [...state.points, own] };
  },
  lift(state, now) {
    const { of, ...stroke } = state;
    if (stroke.points.length) now.edit(addRepair(of, stroke));
    return { ...state, points: [] };
  },
  Overlay: Brush,
});
