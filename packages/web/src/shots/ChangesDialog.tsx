import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { applyChange, readShot } from '@wraithos/core/shot';
import { openShot, saveEdits, type ShotSummary } from '@wraithos/contract';
import { call } from '../api/client';
import { readChanges } from '../state/changesFile';

/** Edits that go in one request. */
const PORTION = 100;

/** Lays changes that were saved to a file on a shot, as far as they fit. */
export function ChangesDialog({ shot, onSaid, onClose }: { shot: ShotSummary; onSaid(text: string): void; onClose(): void }) {
  const [file, setFile] = useState<File | null>(null),
    [error, setError] = useState<string | null>(null),
    [busy, setBusy] = useState(false);
  const lay = async () => {
    setBusy(true);
    setError(null);
    try {
      const edits = readChanges(await file!.text()),
        opened = await call(openShot, { params: { id: shot.id } }),
        fitting = [];
      let now = opened.document,
        { revision } = opened;
      for (const edit of edits) {
        try {
          now = readShot(applyChange(now, edit.patches));
          fitting.push(edit);
        } catch {
          /* it does not fit this version, and stays in the file */
        }
      }
      for (let i = 0; i < fitting.length; i += PORTION)
        revision = (await call(saveEdits, { params: { id: shot.id }, body: { base: revision, edits: fitting.slice(i, i + PORTION) } }))
          .revision;
      onSaid(
        `${fitting.length} of ${edits.length} changes are on ${shot.code} now${fitting.length < edits.length ? '; the others do not fit it and are still in the file' : ''}.`,
      );
      onClose();
    } catch (problem) {
      setError((problem as Error).message);
      setBusy(false);
    }
  };
  return (
    <Modal show onHide={onClose} centered aria-label={`Changes for ${shot.code}`}>
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="fs-5">
          Changes for {shot.code}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Form.Group controlId="changes-file">
          <Form.Label>File of changes that were set aside</Form.Label>
          <Form.Control type="file" accept=".json" onChange={(e) => setFile((e.target as HTMLInputElement).files?.[0] ?? null)} />
        </Form.Group>
        {error && (
          <p role="alert" className="warns mt-2 mb-0">
            {error}
          </p>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="quiet" onClick={onClose}>
          Cancel
        </Button>
        <Button variant="primary" disabled={!file || busy} onClick={() => void lay()}>
          Lay them on
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
