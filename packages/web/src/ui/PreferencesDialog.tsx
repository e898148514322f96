import { useEffect, useState } from 'react';
import { Form, Modal } from 'react-bootstrap';
import { frameCache } from '../state/frameCache';
import { memoryChoices, usePreferences } from '../state/preferences';
import { drawer, type WorkerMemory } from '../workers/pool';

const words = (mebibytes: number): string => (mebibytes < 1024 ? `${mebibytes} MiB` : `${Math.round((mebibytes / 1024) * 10) / 10} GiB`);
/** MiB of a page's processes beside pictures and working memory (measured: 330 to 420). */
const OWN_MIB = 450;
/** Rounded up to a tenth of a GiB. */
const inGiB = (mebibytes: number): number => (mebibytes < 1024 ? mebibytes : Math.ceil((mebibytes / 1024) * 10) * 102.4);
const inMiB = (bytes: number): number => Math.round(bytes / 2 ** 20);

/** What this person sets for this browser. */
export function PreferencesDialog({ onClose }: { onClose(): void }) {
  const { memoryMiB, change } = usePreferences(),
    [now, setNow] = useState<WorkerMemory | null>(null);
  useEffect(() => {
    let over = false;
    const look = () =>
      void drawer()
        .memory()
        .then((memory) => !over && setNow(memory));
    look();
    const timer = setInterval(look, 1000);
    return () => {
      over = true;
      clearInterval(timer);
    };
  }, []);
  const pictures = frameCache.bytesKept;
  return (
    <Modal show onHide={onClose} centered aria-label="Preferences">
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="fs-5">
          Preferences
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Form.Group controlId="preferences-memory">
          <Form.Label>Remembered pictures, at most</Form.Label>
          <Form.Select value={memoryMiB} onChange={(event) => change({ memoryMiB: Number(event.target.value) })}>
            {memoryChoices.map((choice) => (
              <option key={choice} value={choice}>
                {words(choice)}
              </option>
            ))}
          </Form.Select>
          <Form.Text>
            More of it means more frames that play at once, and quicker changes. Kept for this browser; it holds at once.
          </Form.Text>
        </Form.Group>
        <dl className="facts num mt-3 mb-0" aria-label="Memory now">
          <dt>Finished frames</dt>
          <dd>{inMiB(pictures)} MiB</dd>
          <dt>Steps between</dt>
          <dd>{now ? inMiB(now.steps) : '–'} MiB</dd>
          <dt>Frames of clips</dt>
          <dd>{now ? inMiB(now.sources) : '–'} MiB</dd>
          <dt>Working memory of this size of shot</dt>
          <dd>{now ? inMiB(now.working) : '–'} MiB</dd>
        </dl>
        <p className="quiet mb-0">
          The page stays below {words(inGiB(memoryMiB + inMiB(now?.working ?? 0) + OWN_MIB))}: what it remembers, its working memory, and{' '}
          {OWN_MIB} MiB for itself.
        </p>
      </Modal.Body>
    </Modal>
  );
}
