import { useShot } from '../state/shotStore';

/** The picture and its rail over the whole screen, and back. */
export const toggleFullScreen = (): Promise<void> =>
  (document.fullscreenElement
    ? document.exitFullscreen()
    : (document.querySelector('.viewer-wrap')?.requestFullscreen() ?? Promise.resolve())
  ).catch(() =>
    useShot.getState().set({ notice: 'This browser does not allow the whole screen here. Press W for the whole width of the page.' }),
  );
