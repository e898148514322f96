import { createContext, useContext, useEffect, useRef, type ReactNode } from 'react';
import useSWRImmutable from 'swr/immutable';
import type { Tracks } from '@wraithos/core/render';
import { trackSamples } from '@wraithos/contract';
import { call } from '../api/client';
import { useShot } from '../state/shotStore';

const empty: Tracks = new Map();
let latest = empty;
/** The samples of the open shot as they are now, for what is no component. */
export const tracksNow = (): Tracks => latest;
const Context = createContext<Tracks>(empty);
/** Hands samples on that are already there. */
export const GivenTracks = Context.Provider;

/** Loads the measured samples of every track of the open shot, once for the whole workbench. The old ones stay until the new are there. */
export function TracksProvider({ children }: { children: ReactNode }) {
  const shot = useShot((s) => s.shot),
    wanted = Object.values(shot?.tracks ?? {})
      .map((t) => `${t.id}:${t.samples ?? ''}`)
      .sort()
      .join(' ');
  // What was shown last stays until the new samples are there.
  const last = useRef(empty);
  const { data } = useSWRImmutable(wanted ? `samples ${wanted}` : null, async () => {
    const pairs = wanted.split(' ').map((entry) => entry.split(':') as [string, string]);
    return new Map(
      await Promise.all(pairs.map(async ([id, hash]) => [id, hash ? await call(trackSamples, { params: { hash } }) : []] as const)),
    );
  });
  useEffect(() => {
    if (data) latest = last.current = data;
  }, [data]);
  return <Context.Provider value={data ?? last.current}>{children}</Context.Provider>;
}

/** Measured samples of every track of the open shot. Not inside a drawing surface: hand them on there as a property. */
export const useTracks = (): Tracks => useContext(Context);
