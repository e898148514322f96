import type { Point } from '@wraithos/core/motion';
import { appearanceOf, matteClip, onClip } from '@wraithos/core/shot';
import type { ShotState } from '../state/shotStore';

/** A place of the picture in the pixels of the clip that a matte goes with, as it stands at the playhead. */
export function onMatte({ shot, frame }: Pick<ShotState, 'shot' | 'frame'>, matte: string, at: Point): [number, number] {
  const clip = shot?.mattes[matte] && matteClip(shot, shot.mattes[matte]);
  return clip ? onClip(appearanceOf(shot!, clip, frame), at) : [at[0], at[1]];
}
