import type { Draft, Patch } from 'immer';
import type { Shot } from './editTypes';

/** A named, pure change of the document. */
export interface Edit {
  name: string;
  apply(shot: Draft<Shot>): void;
}
export interface Change {
  name: string;
  patches: Patch[];
  inverse: Patch[];
}

export const edit = (name: string, apply: Edit['apply']): Edit => ({ name, apply });
/**
 * Several edits as one: one entry of the undo history. What is null is left out.
 * @param name the name of all of them together.
 */
export const together = (name: string, ...edits: readonly (Edit | null)[]): Edit =>
  edit(name, (s) => {
    for (const one of edits) one?.apply(s);
  });
