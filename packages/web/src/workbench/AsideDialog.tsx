import { useState } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { changesFile } from '../state/changesFile';
import { dropAside, putAside, type SetAside } from '../state/keptEdits';
import { useParts } from '../state/shotStore';
import { download } from '../ui/download';

/** What the server refused: why, and what can be done with it. Nothing goes but by hand. */
export function AsideDialog({ onClose }: { onClose(): void }) {
  const { shot, aside, layOn, refreshAside } = useParts('shot', 'aside', 'layOn', 'refreshAside'),
    [said, setSaid] = useState<string | null>(null),
    [gone, setGone] = useState<SetAside | null>(null);
  if (!shot) return null;
  const drop = async (entry: SetAside) => {
    if (entry.id !== undefined) await dropAside(entry.id);
    await refreshAside();
  };
  const lay = async (entry: SetAside) => {
    const rest = layOn(entry.edits),
      fitted = entry.edits.length - rest.length;
    if (fitted) {
      await drop(entry);
      if (rest.length)
        await putAside({ ...entry, id: undefined, edits: rest, reason: `Does not fit ${shot.code} as it is now.` } as SetAside);
      await refreshAside();
    }
    setSaid(
      rest.length === 0
        ? `${fitted === 1 ? 'The change is' : `All ${fitted} changes are`} on ${shot.code} now; undo takes ${fitted === 1 ? 'it' : 'them'} back.`
        : `${fitted} of ${entry.edits.length} fitted ${shot.code}; the others are still set aside.`,
    );
  };
  return (
    <Modal show onHide={onClose} centered scrollable aria-label="Changes set aside">
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="fs-5">
          Changes set aside
        </Modal.Title>
      </Modal.Header>
      <Modal.Body tabIndex={0}>
        <p className="quiet">The server refused these changes for what they hold. They stay in this browser until you throw them away.</p>
        {aside.length === 0 && <p>None any more.</p>}
        {aside.map((entry) => (
          <article key={entry.id ?? entry.when} className="aside-entry">
            <div>
              <strong>
                {entry.edits.length === 1 ? entry.edits[0]!.name : `${entry.edits.length} changes, from ${entry.edits[0]!.name}`}
              </strong>{' '}
              <span className="quiet">
                of {entry.code}, {new Date(entry.when).toLocaleString()}
              </span>
            </div>
            <div>{entry.reason}</div>
            <div className="d-flex gap-2 mt-1">
              <Button size="sm" variant="quiet" onClick={() => download(`${entry.code} changes.json`, changesFile(entry))}>
                Save to a file
              </Button>
              <Button size="sm" variant="quiet" onClick={() => void lay(entry)}>
                Lay on {shot.code}
              </Button>
              <Button
                size="sm"
                variant="quiet"
                onClick={() => {
                  setGone(entry);
                  void drop(entry);
                }}
              >
                Throw away
              </Button>
            </div>
          </article>
        ))}
        {said && <p role="status">{said}</p>}
        {gone && (
          <p role="status">
            Thrown away.{' '}
            <Button
              size="sm"
              variant="quiet"
              onClick={() => {
                void putAside(gone).then(refreshAside);
                setGone(null);
              }}
            >
              Undo
            </Button>
          </p>
        )}
      </Modal.Body>
    </Modal>
  );
}
