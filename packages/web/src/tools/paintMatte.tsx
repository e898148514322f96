import { appearanceOf, clipFrame, matteClip, onPicture, paintMatte as paintedOn } from '@wraithos/core/shot';
import type { PaintedStroke } from '@wraithos/core/matte';
import { useShot, type ShotState } from '../state/shotStore';
import { BrushRing, BrushWay } from '../viewer/brushMarks';
import { colours } from '../viewer/marks';
import { usePointer } from '../viewer/pointer';
import { toScreen, type Space } from '../viewer/space';
import { tool } from './describe';
import { onMatte } from './onMatte';

/** The frames on which a painted stroke counts. */
export const paintSpans = ['this frame', 'from this frame on', 'all frames'] as const;
/** A brush over a matte, and the stroke that is being painted with it, in pixels of the clip that the matte lies on. */
interface Painting extends Pick<PaintedStroke, 'mode' | 'radius' | 'softness'> {
  matte: string;
  span: (typeof paintSpans)[number];
  points: [number, number][];
}

/** First and last frame of the clip on which a stroke that is painted now counts. */
function spanOf({ matte, span }: Painting, { shot, frame }: Pick<ShotState, 'shot' | 'frame'>): [number, number] {
  const clip = matteClip(shot!, shot!.mattes[matte]!),
    at = clip ? clipFrame(shot!, clip, frame) : frame,
    end = clip ? clip.frames - 1 : shot!.last;
  return span === 'this frame' ? [at, at] : [span === 'all frames' ? (clip ? 0 : shot!.first) : at, end];
}

function Brush({ state, space }: { state: Painting; space: Space }) {
  const { shot, frame } = useShot(),
    at = usePointer((s) => s.at),
    of = shot?.mattes[state.matte];
  if (!of) return null;
  const clip = matteClip(shot, of),
    look = clip ? appearanceOf(shot, clip, frame) : null,
    screen = (p: readonly [number, number]) => toScreen(space, ...(look ? onPicture(look, p) : ([p[0], p[1]] as const))),
    scale = look?.matrix ? Math.hypot(look.matrix[0], look.matrix[3]) : 1,
    radius = state.radius * scale * space.zoom,
    colour = state.mode === 'add' ? colours.matte : colours.trouble;
  return (
    <>
      {state.points.length > 0 && <BrushWay points={state.points.map(screen)} radius={radius} colour={colour} />}
      {at && <BrushRing at={toScreen(space, ...at)} radius={radius} colour={colour} />}
    </>
  );
}

/** Paints into a matte and out of it, on some frames: each press and drag is a stroke, until Esc. */
export const paintMatte = tool<Painting>()({
  kind: 'paint matte',
  hint: ({ mode, span }) =>
    `Paint what is ${mode === 'add' ? 'missing' : 'too much'} on ${span}; R changes to ${mode === 'add' ? 'what is too much' : 'what is missing'}. Esc leaves.`,
  press: (state, at, now) => (now.shot?.mattes[state.matte] ? { ...state, points: [onMatte(now, state.matte, at)] } : null),
  drag(state, at, now) {
    const own = onMatte(now, state.matte, at),
      last = state.points.at(-1);
    // Points closer than an eighth of the brush say nothing new.
    return !last || Math.hypot(own[0] - last[0], own[1] - last[1]) < state.radius / 8
      ? state
      : { ...state, points: [...state.points, own] };
  },
  lift(state, now) {
    const { points, mode, radius, softness } = state;
    if (points.length) {
      const [first, last] = spanOf(state, now);
      now.edit(paintedOn(state.matte, { mode, radius, softness, points, first, last }));
    }
    return { ...state, points: [] };
  },
  key: (state, key) => (key === 'r' ? { ...state, mode: state.mode === 'add' ? 'take away' : 'add' } : undefined),
  Overlay: Brush,
});
