import type { Arena } from '../image/arena';
import { gradeMatrix } from '../image/grade';
import type { Picture } from '../image/picture';
import { gainsOfLight, isNoGain, type Gains } from '../plate/light';
import { clipFrame } from '../shot/when';
import { clipWithRole } from '../shot/clips';
import type { Clip, Shot } from '../shot/schema';
import type { Step } from './evaluate';
import { keyOf } from './key';
import { repairedStep } from './repairs';
import type { Sources } from './sources';

/**
 * A clean plate that was filmed in other light, as bright as the performance at a frame of the shot: red, green and blue by the gains that most of the
 * picture agrees on, which whoever stands in it does not change. Always measured at a quarter of the size, so that a draft shows what a render has.
 * Gives `picture` itself for every other clip.
 */
export function matchedStep(shot: Shot, clip: Clip, frame: number, picture: Step<Picture>, sources: Sources): Step<Picture> {
  const of = clip.role === 'clean' && clip.matchLight ? clipWithRole(shot, 'performance') : undefined;
  if (!of || of.width !== clip.width || of.height !== clip.height) return picture;
  const filmed = repairedStep(shot.clips, of, clipFrame(shot, of, frame), 4, sources),
    clean = repairedStep(shot.clips, clip, clipFrame(shot, clip, frame), 4, sources),
    gains: Step<Gains> = {
      key: keyOf('light against', filmed.key, clean.key),
      inputs: [filmed, clean],
      keep: 'for frames',
      run: ([a, b]: Picture[]) => gainsOfLight(a!, b!),
      bytes: () => 24,
    };
  return {
    key: keyOf('in its light', picture.key, gains.key),
    inputs: [picture, gains],
    keep: 'for edits',
    run([own, [red, green, blue]]: [Picture, Gains], arena: Arena) {
      return isNoGain([red, green, blue]) ? own : gradeMatrix(own, [red, 0, 0, 0, green, 0, 0, 0, blue, 0, 0, 0], arena);
    },
  } as Step<Picture>;
}
