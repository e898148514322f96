import { useState } from 'react';
import { Button, Col, Form, Modal, Row } from 'react-bootstrap';
import { addShot, type Imported, type ShotSummary } from '@wraithos/contract';
import { call } from '../api/client';
import { JobLine } from '../ui/JobLine';
import { FirstPicture } from './FirstPicture';
import { filesOf } from './groups';
import { useImport } from './useImport';

/** A new shot: from a clip, or empty with size, rate and range. */
export function NewShotDialog({ production, onDone, onClose }: { production: string; onDone(shot: ShotSummary): void; onClose(): void }) {
  const [code, setCode] = useState(''),
    [title, setTitle] = useState(''),
    [from, setFrom] = useState<'clip' | 'empty'>('clip'),
    [clip, setClip] = useState<Imported | null>(null),
    [error, setError] = useState<string | null>(null),
    [note, setNote] = useState<string | null>(null);
  const [width, setWidth] = useState('1280'),
    [height, setHeight] = useState('720'),
    [rate, setRate] = useState('24'),
    [first, setFirst] = useState('1001'),
    [frames, setFrames] = useState('96');
  const bring = useImport(
    (medium) => {
      setClip(medium);
      setError(null);
      if (!code) setCode(medium.name.replace(/\.[^.]*$/, ''));
    },
    setError,
    setNote,
  );
  const submit = async () => {
    const fps = Number(rate),
      whole = Math.round(fps) === fps,
      body = {
        production,
        code: code.trim(),
        title: title.trim(),
        first: Number(first),
        ...(from === 'clip'
          ? { medium: clip?.hash }
          : {
              width: Number(width),
              height: Number(height),
              frames: Number(frames),
              rate: whole ? { num: fps, den: 1 } : { num: Math.round(Math.round(fps) * 1000), den: 1001 },
            }),
      };
    try {
      onDone(await call(addShot, { body }));
      onClose();
    } catch (problem) {
      setError((problem as Error).message);
    }
  };
  const number = (label: string, value: string, set: (v: string) => void, unit: string) => (
    <Col>
      <Form.Group controlId={`new-${label}`}>
        <Form.Label>
          {label} <span className="quiet">{unit}</span>
        </Form.Label>
        <Form.Control className="num" value={value} inputMode="decimal" onChange={(e) => set(e.target.value)} />
      </Form.Group>
    </Col>
  );
  return (
    <Modal show onHide={onClose} centered aria-label="New shot">
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" className="fs-5">
            New shot
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Form.Group controlId="new-code" className="mb-2">
            <Form.Label>Code</Form.Label>
            <Form.Control autoFocus value={code} maxLength={120} placeholder="TW_015" onChange={(e) => setCode(e.target.value)} />
          </Form.Group>
          <Form.Group controlId="new-title" className="mb-3">
            <Form.Label>
              Title <span className="quiet">if it has one</span>
            </Form.Label>
            <Form.Control value={title} maxLength={200} onChange={(e) => setTitle(e.target.value)} />
          </Form.Group>
          <div className="segments mb-3">
            <Button variant="quiet" active={from === 'clip'} onClick={() => setFrom('clip')}>
              From a clip
            </Button>
            <Button variant="quiet" active={from === 'empty'} onClick={() => setFrom('empty')}>
              Empty
            </Button>
          </div>
          {from === 'clip' ? (
            bring.state ? (
              <>
                <JobLine {...bring.state} onCancel={bring.cancel} />
                {bring.state.coming && <FirstPicture medium={bring.state.coming} width={240} />}
              </>
            ) : (
              <>
                <Form.Control
                  type="file"
                  multiple
                  aria-label="Clip"
                  onChange={(e) => void bring.start(filesOf((e.target as HTMLInputElement).files))}
                />
                <div className="quiet mt-1">
                  {clip
                    ? `${clip.name}: ${clip.info.width} x ${clip.info.height}, ${clip.info.frames} frames`
                    : 'A video, a still, or all pictures of a numbered sequence. Size, rate and range follow from it.'}
                </div>
              </>
            )
          ) : (
            <>
              <Row className="mb-2">
                {number('Width', width, setWidth, 'px')}
                {number('Height', height, setHeight, 'px')}
                {number('Rate', rate, setRate, 'frames/s')}
              </Row>
              <Row>
                {number('First frame', first, setFirst, '')}
                {number('Length', frames, setFrames, 'frames')}
              </Row>
            </>
          )}
          {note && !error && <p className="quiet mt-2 mb-0">{note}</p>}
          {error && (
            <div role="alert" className="mt-3 bad">
              {error}
            </div>
          )}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="quiet" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" variant="primary" disabled={!code.trim() || (from === 'clip' && !clip) || bring.state !== null}>
            Make shot
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
