import { Download } from 'lucide-react';
import { useState } from 'react';
import { Form, Modal } from 'react-bootstrap';

/** Saves a shot or a production as one file, with what it needs to be opened elsewhere. */
export function BundleDialog({ name, path, onClose }: { name: string; path: string; onClose(): void }) {
  const [media, setMedia] = useState(true),
    [renders, setRenders] = useState(false);
  return (
    <Modal show onHide={onClose} centered aria-label={`Save ${name} as a bundle`}>
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="fs-5">
          Save {name} as a bundle
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p className="quiet">One file with everything of it and all its revisions, to be brought in here or on another machine.</p>
        <Form.Check id="bundle-media" label="With the frames of its clips" checked={media} onChange={(e) => setMedia(e.target.checked)} />
        <Form.Check
          id="bundle-renders"
          label="With its finished renders"
          checked={renders}
          onChange={(e) => setRenders(e.target.checked)}
        />
        {!media && (
          <p className="mt-2 mb-0">Where it is opened, its clips must be there already, or be brought in again from the same files.</p>
        )}
      </Modal.Body>
      <Modal.Footer>
        <button type="button" className="btn btn-quiet" onClick={onClose}>
          Cancel
        </button>
        <a
          className="btn btn-primary"
          href={`/api${path}/bundle?media=${media ? 1 : 0}&renders=${renders ? 1 : 0}`}
          download
          onClick={onClose}
        >
          <Download size={14} className="me-1" />
          Save
        </a>
      </Modal.Footer>
    </Modal>
  );
}
