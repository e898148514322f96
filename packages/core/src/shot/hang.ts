import type { Draft } from 'immer';
import { freshId, freshName } from './create';
import { usesOf } from './references';
import type { Shot } from './editTypes';

/** The mount of a track with this offset (whole-shot pixels), made when there is none yet: dropping an effect on a track is enough. */
export function mountOn(s: Draft<Shot>, track: string, offset: readonly [number, number] = [0, 0]): string {
  const found = Object.values(s.mounts).find((m) => m.track === track && m.offset[0] === offset[0] && m.offset[1] === offset[1]);
  if (found) return found.id;
  const id = freshId(s.mounts, 'm');
  s.mounts[id] = { id, name: freshName(s.mounts, s.tracks[track]!.name), track, offset: [...offset] };
  return id;
}
/** Removes a mount that nothing hangs on any more. */
export function dropIdleMount(s: Draft<Shot>, id: string): void {
  if (usesOf(s, 'mount', id).length === 0) delete s.mounts[id];
}
