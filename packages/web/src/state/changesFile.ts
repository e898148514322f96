import type { SavedEdit } from '@wraithos/contract';
import type { SetAside } from './keptEdits';

/** Changes as a file: they can be laid on any version of the shot later. */
export const changesFile = ({ shot, code, base, reason, when, edits }: SetAside): string =>
  JSON.stringify({ kind: 'wraithos changes', version: 1, shot, code, base, reason, when, edits }, null, 1);

/** Changes from a file. @throws Error in a sentence where it is none. */
export function readChanges(text: string): SavedEdit[] {
  let data: { kind?: unknown; version?: unknown; edits?: unknown };
  try {
    data = JSON.parse(text) as typeof data;
  } catch {
    throw new Error('This is not a file of changes: it is not JSON.');
  }
  const { edits } = data;
  const whole =
    data.kind === 'wraithos changes' &&
    data.version === 1 &&
    Array.isArray(edits) &&
    (edits as Partial<SavedEdit>[]).every((e) => typeof e?.name === 'string' && Array.isArray(e.patches) && Array.isArray(e.inverse));
  if (!whole) throw new Error('This is not a file of changes that Wraithos wrote.');
  return edits as SavedEdit[];
}
