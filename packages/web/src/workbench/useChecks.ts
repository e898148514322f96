import { checkShot, type Check, type Tracks } from '@wraithos/core/render';
import type { Shot } from '@wraithos/core/shot';
import { useShot } from '../state/shotStore';
import { useTracks } from './tracks';

let last: { shot: Shot; tracks: Tracks; checks: Check[] } | null = null;

/** What is measured to be wrong with the open shot. Every row and step asks for it; it is looked for once for each document. */
export function useChecks(): Check[] {
  const shot = useShot((s) => s.shot),
    tracks = useTracks();
  if (!shot) return [];
  if (last?.shot !== shot || last.tracks !== tracks) last = { shot, tracks, checks: checkShot(shot, tracks) };
  return last.checks;
}
