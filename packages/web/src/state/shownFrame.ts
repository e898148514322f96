import { create } from 'zustand';
import { useShot } from './shotStore';

/**
 * The frame that the display shows while a film is played, told by the display for every frame. It stands apart from the shot's own store, so that only
 * what shows the frame (the readout and the playhead) is drawn anew with each.
 */
export const usePlayedFrame = create<{ frame: number | null }>(() => ({ frame: null }));

/** The frame to be shown as the present one: that of the film while one is played, or else the playhead's. */
export function useShownFrame(): number {
  const played = usePlayedFrame((s) => s.frame),
    frame = useShot((s) => s.frame);
  return played ?? frame;
}
