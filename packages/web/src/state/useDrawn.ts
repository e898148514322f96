import { useSyncExternalStore } from 'react';
import type { Shot } from '@wraithos/core/shot';
import type { DrawnFrame } from '../workers/protocol';
import { frameCache, type View } from './frameCache';

/** The drawn picture of a frame, as soon as it is there; a component is drawn anew when it comes, not when others do. */
export const useDrawn = (shot: Shot | null, frame: number, view: View): DrawnFrame | undefined =>
  useSyncExternalStore(frameCache.subscribe, () => (shot ? frameCache.peek(shot, frame, view) : undefined));
