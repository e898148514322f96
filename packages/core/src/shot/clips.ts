import { matteSources } from '../matte/sources';
import type { Clip, Matte, Shot } from './schema';

/** The clips that are there for themselves: without later parts of those that were split. */
export const ownClips = (shot: Shot): Clip[] => Object.values(shot.clips).filter((clip) => clip.continues === null);
export const clipWithRole = (shot: Shot, role: Clip['role']): Clip | undefined =>
  Object.values(shot.clips).find((clip) => clip.role === role);
/**
 * The clip that a matte lies on, in whose frames and pixels it is: its own, or the performance. Where all of its sources bring ready mattes, it is that of the
 * subject that has it.
 */
export function matteClip(shot: Shot, matte: Matte): Clip | undefined {
  if (matte.clip) return shot.clips[matte.clip];
  const ready = matte.sources.length > 0 && matte.sources.every(({ source }) => matteSources[source.kind].carriesOwn),
    subject = ready ? Object.values(shot.subjects).find((s) => s.matte === matte.id || s.traces === matte.id) : undefined,
    brought = ready ? matte.sources.find(({ source }) => source.clip)?.source.clip : undefined;
  return (
    (subject ? shot.clips[subject.clip] : undefined) ?? clipWithRole(shot, 'performance') ?? (brought ? shot.clips[brought] : undefined)
  );
}
/** The clip that a source of a matte is made from: its own, or the one that the matte lies on. */
export const clipOfSource = (shot: Shot, matte: Matte, { source }: Matte['sources'][number]): Clip | undefined =>
  source.clip ? shot.clips[source.clip] : matteClip(shot, matte);
/** Those of its sources and outlines that count: none that is muted, and where any is solo only those. */
export function counting(matte: Matte): Pick<Matte, 'sources' | 'outlines'> {
  const all = [...matte.sources, ...matte.outlines],
    solo = all.some((one) => one.solo && !one.muted),
    counts = (one: { muted: boolean; solo: boolean }) => !one.muted && (!solo || one.solo);
  return { sources: matte.sources.filter(counts), outlines: matte.outlines.filter(counts) };
}

/** A built plate that has a frame for each frame of its clip shows with them. */
export const shownWith = (shot: Pick<Shot, 'clips'>, clip: Clip): Clip => {
  const of = clip.made?.clip ? shot.clips[clip.made.clip] : undefined;
  return of && clip.role === 'clean' && clip.frames > 1 && clip.frames === of.frames ? of : clip;
};
