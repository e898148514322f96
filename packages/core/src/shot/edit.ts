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
