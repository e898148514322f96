import { readingOf, type MediumFacts } from './create';
import { edit, type Edit } from './edit';
import type { Clip } from './schema';

/** Why a medium cannot stand in for a clip's own, for people; null where it can. */
export function replaceProblem(clip: Clip, facts: MediumFacts): string | null {
  if (facts.width !== clip.width || facts.height !== clip.height)
    return `It is ${facts.width} x ${facts.height} and ${clip.name} is ${clip.width} x ${clip.height}: what was measured and drawn would stand elsewhere. Bring it in as a clip of its own.`;
  return null;
}

/** What is different in a newer version, for people; empty where nothing is but the pictures. */
export function replaceWords(clip: Clip, facts: MediumFacts): string {
  const { num, den } = facts.frameRate,
    frames = facts.frames - clip.frames,
    many = (n: number) => `${Math.abs(n)} ${Math.abs(n) === 1 ? 'frame' : 'frames'}`,
    bits = (n: number) => (n === 32 ? 'floats' : `${n} bit`);
  return [
    frames > 0 ? `It is ${many(frames)} longer.` : '',
    frames < 0 ? `It is ${many(frames)} shorter: what was measured on the last ones is kept and not shown.` : '',
    num * clip.rate.den !== clip.rate.num * den ? `Its rate is ${Number((num / den).toFixed(3))} frames a second.` : '',
    facts.bitDepth !== clip.bits ? `It has ${bits(facts.bitDepth)} in place of ${bits(clip.bits)}.` : '',
    facts.alpha !== clip.alpha ? (facts.alpha ? 'It has alpha.' : 'It has no alpha.') : '',
  ]
    .filter(Boolean)
    .join(' ');
}

/**
 * Puts a newer version of the same take in the place of a clip's medium. All that was measured, drawn and chosen stays; how its codes are read follows
 * the new file where that has another depth, and is kept otherwise.
 */
export const replaceMedium = (id: string, media: Clip['media'], facts: MediumFacts): Edit =>
  edit('Replace clip', (s) => {
    const clip = s.clips[id];
    if (!clip || replaceProblem(clip as Clip, facts)) return;
    const read = facts.bitDepth === clip.bits ? {} : readingOf(facts),
      now = {
        media,
        frames: facts.frames,
        rate: facts.frameRate,
        alpha: facts.alpha,
        bits: facts.bitDepth,
        missing: facts.missing ?? [],
        ...read,
      };
    // Later parts are of the same medium.
    for (const one of Object.values(s.clips)) if (one.id === id || one.continues === id) Object.assign(one, now);
  });
