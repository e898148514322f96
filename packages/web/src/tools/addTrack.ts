import { addTrack as add, appearanceOf, clipFrame, clipWithRole, freshId, onClip } from '@wraithos/core/shot';
import { tool } from './describe';

/** Places a track: one press on what is to be followed. */
export const addTrack = tool<Record<never, never>>()({
  kind: 'add track',
  hint: () => 'Click the point to follow. Esc leaves.',
  press(state, at, { shot, frame, edit, set }) {
    const clip = shot && clipWithRole(shot, 'performance');
    if (!shot || !clip || at[0] < 0 || at[1] < 0 || at[0] > shot.width || at[1] > shot.height) return state;
    const id = freshId(shot.tracks, 't');
    edit(add({ id, name: 'Point', clip: clip.id, at: onClip(appearanceOf(shot, clip, frame), at), frame: clipFrame(shot, clip, frame) }));
    set({ selection: { kind: 'track', id } });
    return null;
  },
});
