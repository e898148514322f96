import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';

/** Asks for a name. */
export function NameDialog({
  title,
  label,
  start,
  confirm,
  onDone,
  onClose,
}: {
  title: string;
  label: string;
  start: string;
  confirm: string;
  onDone(name: string): void;
  onClose(): void;
}) {
  const [name, setName] = useState(start);
  return (
    <Modal show onHide={onClose} centered aria-label={title}>
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim()) {
            onDone(name.trim());
            onClose();
          }
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" className="fs-5">
            {title}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Form.Group controlId="name-dialog">
            <Form.Label>{label}</Form.Label>
            <Form.Control
              autoFocus
              value={name}
              maxLength={120}
              onChange={(e) => setName(e.target.value)}
              onFocus={(e) => e.target.select()}
            />
          </Form.Group>
        </Modal.Body>
        <Modal.Footer>
          <Button variant="quiet" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" variant="primary" disabled={!name.trim()}>
            {confirm}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
