import { createDraft } from 'immer';
import { cueFrame } from './cueFrame';
import { edit, type Edit } from './edit';
import type { Shot } from './editTypes';
import { dropEntity, kindTitles, tellGone, type Kind } from './references';

/**
 * Removes an entity, and whatever cannot be without it. Effects and takes that begin at a removed cue keep the frame at which they begin.
 * @example applyEdit(shot, remove('track', 't1'))
 */
export const remove = (kind: Kind, id: string): Edit =>
  edit(`Remove ${kindTitles[kind]}`, (s) => {
    if (kind === 'cue') {
      const at = cueFrame(s as Shot, id);
      for (const it of [...Object.values(s.rows), ...s.base.takes]) if (it.cue === id) it.start += at;
    }
    // A cue that was pinned to it stays where it is.
    if (kind === 'clip') for (const cue of Object.values(s.cues)) if (cue.clip === id) cue.frame = cueFrame(s as Shot, cue.id);
    dropEntity(s, kind, id);
  });

/** What else goes, or lets go, when an entity is removed, told for people; empty where nothing does. Nothing is changed. */
export const whatGoesWith = (shot: Shot, kind: Kind, id: string): string => tellGone(dropEntity(createDraft(shot), kind, id));
