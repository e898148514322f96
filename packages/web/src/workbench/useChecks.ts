import { useMemo } from 'react';
import { checkShot, type Check } from '@wraithos/core/render';
import { useShot } from '../state/shotStore';
import { useTracks } from './tracks';

/** What is measured to be wrong with the open shot. */
export function useChecks(): Check[] {
  const shot = useShot((s) => s.shot),
    tracks = useTracks();
  return useMemo(() => (shot ? checkShot(shot, tracks) : []), [shot, tracks]);
}
