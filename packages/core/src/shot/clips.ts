import { matteSources } from '../matte/sources';
import type { Clip, Matte, Shot } from './schema';

/** The clips that are there for themselves: without later parts of those that were split. */
export const ownClips = (shot: Shot): Clip[] => Object.values(shot.clips).filter((clip) => clip.continues === null);
export const clipWithRole = (shot: Shot, role: Clip['role']): Clip | undefined =>
  Object.values(shot.clips).find((clip) => clip.role === role);
/** The clip that a matte is made from: its own, or the performance. */
export const matteSource = (shot: Shot, matte: Matte): Clip | undefined =>
  matte.source.clip ? shot.clips[matte.source.clip] : clipWithRole(shot, 'performance');
/**
 * The clip that a matte goes with, in whose frames and pixels it is: the one that it is made from; or, where that one brings a ready matte, the clip of
 * the subject that has it, or the performance.
 */
export function matteClip(shot: Shot, matte: Matte): Clip | undefined {
  const source = matteSource(shot, matte);
  if (!matteSources[matte.source.kind].carriesOwn) return source;
  const subject = Object.values(shot.subjects).find((s) => s.matte === matte.id || s.traces === matte.id);
  return (subject ? shot.clips[subject.clip] : undefined) ?? clipWithRole(shot, 'performance') ?? source;
}

/** A built plate that has a frame for each frame of its clip shows with them. */
export const shownWith = (shot: Pick<Shot, 'clips'>, clip: Clip): Clip => {
  const of = clip.made?.clip ? shot.clips[clip.made.clip] : undefined;
  return of && clip.role === 'clean' && clip.frames > 1 && clip.frames === of.frames ? of : clip;
};
