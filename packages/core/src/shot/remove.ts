import { createDraft } from 'immer';
import { edit, type Edit } from './edit';
import type { Row, Shot } from './editTypes';
import { settledCurves } from './hungCurves';
import { dropEntity, kindTitles, tellGone, type Kind } from './references';
import { cueFrame } from './when';

/**
 * Removes an entity, and whatever cannot be without it. Effects, takes and clips that begin at a removed cue keep the frame at which they begin, and points of curves that hang on it stay where they are.
 * @example applyEdit(shot, remove('track', 't1'))
 */
export const remove = (kind: Kind, id: string): Edit =>
  edit(`Remove ${kindTitles[kind]}`, (s) => {
    if (kind === 'cue') {
      for (const row of Object.values(s.rows)) row.curves = settledCurves(s as Shot, row as Row, (cue) => cue === id);
      const at = cueFrame(s as Shot, id);
      for (const it of [...Object.values(s.rows), ...Object.values(s.clips), ...s.base.takes]) if (it.cue === id) it.start += at;
    }
    // A cue that was pinned to it stays where it is.
    if (kind === 'clip') for (const cue of Object.values(s.cues)) if (cue.clip === id) cue.frame = cueFrame(s as Shot, cue.id);
    dropEntity(s, kind, id);
  });

/** What else goes, or lets go, when an entity is removed, told for people; empty where nothing does. Nothing is changed. */
export const whatGoesWith = (shot: Shot, kind: Kind, id: string): string => tellGone(dropEntity(createDraft(shot), kind, id));
