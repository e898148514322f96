import { heldClips } from '@wraithos/contract';
import { checkShot, heldChecks, type Check, type HeldClip, type Tracks } from '@wraithos/core/render';
import type { Shot } from '@wraithos/core/shot';
import { useRoute } from '../api/useRoute';
import { useShot } from '../state/shotStore';
import { useTracks } from './tracks';

let last: { shot: Shot; tracks: Tracks; held: readonly HeldClip[] | undefined; checks: Check[] } | null = null;

/** What is measured to be wrong with the open shot. Every row and step asks for it; it is looked for once for each document. */
export function useChecks(): Check[] {
  const shot = useShot((s) => s.shot),
    id = useShot((s) => s.id),
    // Asked for again when a clip comes in, and when the page is looked at again.
    clips = Object.keys(shot?.clips ?? {}).length,
    { data: held } = useRoute(heldClips, id ? { params: { id } } : null, {
      refreshInterval: 0,
      dedupingInterval: 10_000,
      revalidateOnMount: clips > 0,
    }),
    tracks = useTracks();
  if (!shot) return [];
  if (last?.shot !== shot || last.tracks !== tracks || last.held !== held)
    last = { shot, tracks, held, checks: [...heldChecks(shot, held ?? []), ...checkShot(shot, tracks)] };
  return last.checks;
}
