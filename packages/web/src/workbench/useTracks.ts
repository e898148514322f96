import useSWRImmutable from 'swr/immutable';
import type { TrackSample } from '@wraithos/core/motion';
import type { Tracks } from '@wraithos/core/render';
import { useShot } from '../state/shotStore';

/** Measured samples of every track of the open shot. */
export function useTracks(): Tracks {
  const shot = useShot((s) => s.shot),
    wanted = Object.values(shot?.tracks ?? {})
      .map((t) => `${t.id}:${t.samples ?? ''}`)
      .sort()
      .join(' ');
  const { data } = useSWRImmutable(
    wanted ? ['samples', wanted] : null,
    async () => {
      const out = new Map<string, TrackSample[]>();
      for (const entry of wanted.split(' ')) {
        const [id, hash] = entry.split(':');
        out.set(id!, hash ? ((await (await fetch(`/api/samples/${hash}`)).json()) as TrackSample[]) : []);
      }
      return out;
    },
    { keepPreviousData: true },
  );
  return data ?? empty;
}
const empty: Tracks = new Map();
