import { Button, Modal } from 'react-bootstrap';

/** Asks before something that cannot be undone, or that others would miss; says what it means. */
export function ConfirmDialog({
  title,
  text,
  confirm,
  act,
  onClose,
}: {
  title: string;
  text: string;
  confirm: string;
  act(): void;
  onClose(): void;
}) {
  return (
    <Modal show onHide={onClose} centered aria-label={title}>
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="fs-5">
          {title}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>{text}</Modal.Body>
      <Modal.Footer>
        <Button variant="quiet" autoFocus onClick={onClose}>
          Keep it
        </Button>
        <Button
          variant="primary"
          onClick={() => {
            act();
            onClose();
          }}
        >
          {confirm}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
