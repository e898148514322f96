import { useEffect, useRef } from 'react';
import useSWR from 'swr';
import { addressOf, shotThumbnail, type ShotSummary } from '@wraithos/contract';

/** The picture of a shot as a data address; null while the server draws it, empty where it cannot. */
async function fetchThumbnail(path: string): Promise<string | null> {
  const response = await fetch(path);
  if (response.status === 202) return null;
  if (!response.ok) return '';
  const blob = await response.blob();
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.onerror = () => reject(reader.error ?? new Error('the picture cannot be read'));
    reader.readAsDataURL(blob);
  });
}

/** A shot's thumbnail: hatched until it is there. The one of the revision before stays as long. */
export function Thumbnail({ shot }: { shot: ShotSummary }) {
  const last = useRef('');
  const { data } = useSWR(`/api${addressOf(shotThumbnail, { id: shot.id }, { revision: shot.revision })}`, fetchThumbnail, {
    revalidateOnFocus: false,
    revalidateIfStale: false,
    refreshInterval: (now) => (now === null ? 1000 : 0),
  });
  useEffect(() => {
    if (data) last.current = data;
  }, [data]);
  const shown = data || last.current;
  return shown ? <img src={shown} alt="" /> : null;
}
