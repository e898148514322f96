import { useState } from 'react';
import { useParts } from '../state/shotStore';
import type { Waiting } from '../state/saver';
import { AsideDialog } from './AsideDialog';

/** `offline: 521 changes since 14:02 kept here` */
function offlineWords({ count, since, kept }: Waiting): string {
  const changes = count === 1 ? '1 change' : `${count} changes`,
    from = since ? ` since ${since.toTimeString().slice(0, 5)}` : '';
  const where = { yes: 'kept here', writing: 'being kept', no: 'only in this page; do not close it' }[kept];
  return `offline: ${changes}${from} ${where}`;
}

/** Whether the shot is saved, what waits and since when, and what was refused. */
export function SaveState() {
  const { save, waiting, aside } = useParts('save', 'waiting', 'aside'),
    [open, setOpen] = useState(false);
  return (
    <>
      <span
        className={`save-state ${save === 'offline' ? 'waits' : 'quiet'}`}
        role="status"
        aria-label="Saving"
        title={save === 'offline' ? `${offlineWords(waiting)}. ${waiting.reason}` : undefined}
      >
        {save === 'offline' ? offlineWords(waiting) : save}
      </span>
      {aside.length > 0 && (
        <button
          type="button"
          className="btn btn-sm btn-quiet aside-button"
          title="Changes that the server refused; they are kept in this browser"
          onClick={() => setOpen(true)}
        >
          {aside.reduce((sum, entry) => sum + entry.edits.length, 0)} set aside
        </button>
      )}
      {open && <AsideDialog onClose={() => setOpen(false)} />}
    </>
  );
}
