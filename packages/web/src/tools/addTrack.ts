import { trackKinds, type KindOfTrack } from '@wraithos/core/motion';
import { addTrack as add, appearanceOf, clipFrame, clipWithRole, freshId, onClip } from '@wraithos/core/shot';
import { tool } from './describe';

/** Places a track: one press on what is to be followed. */
export const addTrack = tool<{ track: KindOfTrack }>()({
  kind: 'add track',
  hint: ({ track }) => `Click ${trackKinds[track].click}. Esc leaves.`,
  press(state, at, { shot, frame, edit, set }) {
    const clip = shot && clipWithRole(shot, 'performance');
    if (!shot || !clip || at[0] < 0 || at[1] < 0 || at[0] > shot.width || at[1] > shot.height) return state;
    const id = freshId(shot.tracks, 't');
    edit(
      add({
        ...{ id, name: trackKinds[state.track].title, clip: clip.id, kind: state.track },
        ...{ at: onClip(appearanceOf(shot, clip, frame), at), frame: clipFrame(shot, clip, frame) },
      }),
    );
    set({ selection: { kind: 'track', id } });
    return null;
  },
});
