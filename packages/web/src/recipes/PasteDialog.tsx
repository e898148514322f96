import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { missing, packRows, readPacked, unpackRows, type Named, type Packed } from '@wraithos/core/recipes';
import type { Row, Shot } from '@wraithos/core/shot';
import { useDocument, type Selection, useParts } from '../state/shotStore';

const KEPT = 'wraithos:rows';
const maps = { track: 'tracks', matte: 'mattes', cue: 'cues', clip: 'clips' } as const;
const words: Record<Named, string> = { track: 'Track', matte: 'Matte', cue: 'Cue', clip: 'Clip' };

/** Keeps the selected effect, or all of a group's, for pasting on this or another shot, in any window; says what was kept. */
export function copySelected(shot: Shot, selection: Selection): string | null {
  const ids =
    selection?.kind === 'row' && shot.rows[selection.id]
      ? [selection.id]
      : selection?.kind === 'group'
        ? (Object.values(shot.rows) as Row[]).filter((r) => r.group === selection.id).map((r) => r.id)
        : [];
  if (!ids.length) return null;
  localStorage.setItem(KEPT, JSON.stringify(packRows(shot, ids)));
  return `${ids.length === 1 ? shot.rows[ids[0]!]!.name : `${ids.length} effects`} copied. Ctrl+V pastes here or on another shot.`;
}
export const copied = (): Packed | null => readPacked(localStorage.getItem(KEPT) ?? '');

/** Asks what stands for what the copied effects name and this shot has not. */
export function PasteDialog({ packed, onClose }: { packed: Packed; onClose(): void }) {
  const shot = useDocument(),
    { edit } = useParts('edit'),
    wanted = missing(shot, packed),
    [chosen, setChosen] = useState<Record<string, string | null>>({});
  return (
    <Modal show onHide={onClose} centered aria-label="Paste effects">
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          edit(unpackRows(shot, packed, chosen));
          onClose();
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" className="fs-5">
            Paste from {packed.from}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <p className="quiet">This shot has nothing of these names. Choose what stands for each.</p>
          {wanted.map((r) => (
            <Form.Group key={`${r.kind} ${r.id}`} className="mb-2" controlId={`paste-${r.kind}-${r.id}`}>
              <Form.Label className="mb-1">
                {words[r.kind]} {r.name}
              </Form.Label>
              <Form.Select
                size="sm"
                value={chosen[`${r.kind} ${r.name}`] ?? ''}
                onChange={(e) => setChosen({ ...chosen, [`${r.kind} ${r.name}`]: e.target.value || null })}
              >
                <option value="">nothing</option>
                {Object.values(shot[maps[r.kind]] as Record<string, { id: string; name: string }>).map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </Form.Select>
            </Form.Group>
          ))}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="quiet" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" variant="primary">
            Paste
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
