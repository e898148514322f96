import { doubtfulKeys } from '../matte/carriedKeys';
import { matteSources } from '../matte/sources';
import { clipOfSource, clipWithRole, counting, matteClip } from '../shot/clips';
import { usesOf } from '../shot/references';
import type { Matte, Shot } from '../shot/schema';
import { shotFrame } from '../shot/when';
import type { Check } from './check';

/** What is wrong with one matte that is used, as far as it can be told without drawing it. */
function ofMatte(shot: Shot, matte: Matte): Check[] {
  const found: Check[] = [],
    { sources, outlines } = counting(matte),
    all = [...matte.sources, ...matte.outlines],
    solo = all.filter((one) => one.solo && !one.muted),
    of = { matte: matte.id };
  if (!sources.length && !outlines.some((o) => o.mode !== 'take away'))
    found.push({
      ...of,
      id: 'matte-empty',
      text: all.length
        ? `Everything of the matte ${matte.name} is muted or takes away: it is empty.`
        : `The matte ${matte.name} has no source and no outline: it is empty.`,
      fix: all.length ? 'Let a source or an outline of it count.' : 'Add a source, or draw an outline.',
    });
  if (solo.length && solo.length < all.length)
    found.push({
      ...of,
      id: 'matte-solo',
      text: `In the matte ${matte.name} only what is solo counts, also in the render; ${all.length - solo.length} other${all.length - solo.length === 1 ? ' does' : 's do'} not.`,
      fix: 'End solo where it was only for looking.',
    });
  for (const entry of sources) {
    const { source } = entry,
      { called, inputs } = matteSources[source.kind];
    if (source.kind === 'matte' && !source.matte)
      found.push({
        ...of,
        id: 'matte-source',
        text: `A source of ${matte.name} takes in no matte.`,
        fix: 'Choose the matte, or remove the source.',
      });
    else if (inputs.includes('plate') && !clipOfSource(shot, matte, entry))
      found.push({
        ...of,
        id: 'matte-source',
        text: `${called} of ${matte.name} has no clip.`,
        fix: 'Choose its clip, or remove the source.',
      });
    // What belongs to a subject is told of that one.
    else if (inputs.includes('clean') && !clipWithRole(shot, 'clean') && !Object.values(shot.subjects).some((s) => s.matte === matte.id))
      found.push({
        ...of,
        id: 'no-clean-plate',
        text: `The matte ${matte.name} is a difference from a clean plate, and there is none.`,
        fix: 'Build it from the performance, or bring one in on Plates and give it the role Clean plate.',
        mend: 'clean plate',
      });
  }
  const clip = matteClip(shot, matte);
  for (const o of clip ? outlines : []) {
    const shown = doubtfulKeys(o.keys)
      .flatMap((d) => shotFrame(shot, clip!, d.frame) ?? [])
      .filter((f) => f >= shot.first && f <= shot.last);
    if (shown.length)
      found.push({
        ...of,
        id: 'outline-doubtful',
        frame: shown[0],
        text: `${o.name} of the matte ${matte.name} was carried to ${shown.length === 1 ? 'one frame' : `${shown.length} frames`} without being sure, from ${shown[0]} on.`,
        fix: 'Look at these frames on Mattes and move what is off there; it counts as drawn then.',
      });
  }
  return found;
}

/** What is wrong with the mattes that something uses. */
export const matteChecks = (shot: Shot): Check[] =>
  Object.values(shot.mattes).flatMap((matte) => (usesOf(shot, 'matte', matte.id).length ? ofMatte(shot, matte) : []));
