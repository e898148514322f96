import { useEffect } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import { health } from '@wraithos/contract';
import { read } from '../api/client';
import { onServerEvent } from '../api/events';
import { sizeWords } from './sizes';

/** Health is told with 503 as well, when a part does not work: the body is the same. */
const look = async (path: string) => read(health, await (await fetch(path)).json());

/** A line over every page while the disk of the data folder runs out. */
export function DiskWarning() {
  const { data, mutate } = useSWR('/api/health', look, { revalidateOnFocus: false, shouldRetryOnError: false });
  useEffect(() => onServerEvent((event) => void (event.type === 'disk' || event.type === 'again' ? mutate() : 0)), [mutate]);
  const disk = data?.disk;
  if (!disk || disk.level === 'fine') return null;
  return (
    <div className={`disk-warning ${disk.message ? 'closed' : ''}`} role="status">
      {disk.message ?? `${sizeWords(disk.free)} are left on the disk${disk.level === 'low' ? ', less than a tenth' : ''}.`}{' '}
      <Link to="/room">See what uses it</Link>
    </div>
  );
}
