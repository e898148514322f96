import { mutate } from 'swr';
import { keepStock, listStock } from '@wraithos/contract';
import type { Clip } from '@wraithos/core/shot';
import { call } from '../api/client';
import { keyOf } from '../api/useRoute';
import { useShot } from '../state/shotStore';

/** Keeps a clip as an element of one's own, for all shots. */
export async function keepInStockroom(clip: Clip): Promise<void> {
  const { set } = useShot.getState();
  if (!('hash' in clip.media)) return;
  const playback = String(clip.placed.values.playback);
  try {
    await call(keepStock, {
      body: { hash: clip.media.hash, name: clip.name, loops: playback.startsWith('loops') || playback === 'there and back', light: false },
    });
    set({ notice: `${clip.name} is in the stockroom of all shots now. Find it on Effects.` });
    await mutate(keyOf(listStock));
  } catch (error) {
    set({ notice: (error as Error).message });
  }
}
