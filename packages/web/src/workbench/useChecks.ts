import useSWR from 'swr';
import { heldClips } from '@wraithos/contract';
import { checkShot, heldChecks, type Check, type HeldClip, type Tracks } from '@wraithos/core/render';
import type { Shot } from '@wraithos/core/shot';
import { call } from '../api/client';
import { useShot } from '../state/shotStore';
import { useTracks } from './tracks';

/** The key of what is held of a shot's clips: it is asked for again when a clip comes in or goes, and when the page is looked at again. */
export const heldKey = (id: string, shot: Shot): string =>
  `held ${id} ${Object.values(shot.clips)
    .map(({ media }) => ('hash' in media ? media.hash : media.path))
    .sort()
    .join(' ')}`;
let last: { shot: Shot; tracks: Tracks; held: readonly HeldClip[] | undefined; checks: Check[] } | null = null;

/** What is measured to be wrong with the open shot. Every row and step asks for it; it is looked for once for each document. */
export function useChecks(): Check[] {
  const shot = useShot((s) => s.shot),
    id = useShot((s) => s.id),
    { data: held } = useSWR<readonly HeldClip[]>(
      id && shot && Object.keys(shot.clips).length ? heldKey(id, shot) : null,
      () => call(heldClips, { params: { id: id! } }),
      { keepPreviousData: true, dedupingInterval: 10_000 },
    ),
    tracks = useTracks();
  if (!shot) return [];
  if (last?.shot !== shot || last.tracks !== tracks || last.held !== held)
    last = { shot, tracks, held, checks: [...heldChecks(shot, held ?? []), ...checkShot(shot, tracks)] };
  return last.checks;
}
