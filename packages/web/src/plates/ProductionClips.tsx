import { useState } from 'react';
import { Form, Modal } from 'react-bootstrap';
import { productionClips, type ProductionClip } from '@wraithos/contract';
import { clipRoles } from '@wraithos/core/shot';
import { useRoute } from '../api/useRoute';
import { roleWords } from '../settings/roleWords';
import { useParts } from '../state/shotStore';
import { LongList } from '../ui/LongList';

const orders = ['newest', 'name', 'size'] as const,
  by: Record<(typeof orders)[number], (a: ProductionClip, b: ProductionClip) => number> = {
    newest: (a, b) => (a.created < b.created ? 1 : -1),
    name: (a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }),
    size: (a, b) => b.info.width * b.info.height - a.info.width * a.info.height,
  };
/** All that can be looked for in a clip, as text. */
const textOf = ({ name, role, info, created, shots }: ProductionClip): string =>
  `${name} ${roleWords[role]} ${info.width} x ${info.height} ${info.width}x${info.height} ${created.slice(0, 10)} ${shots.join(' ')}`.toLowerCase();

/** Clips of all shots of the production: found by name, role, size, date or shot, and chosen. */
export function ProductionClips({ title, onChoose, onClose }: { title: string; onChoose(clip: ProductionClip): void; onClose(): void }) {
  const { productionId } = useParts('productionId'),
    { data, error } = useRoute(productionClips, productionId ? { params: { id: productionId } } : null),
    [text, setText] = useState(''),
    [role, setRole] = useState<ProductionClip['role'] | 'all'>('all'),
    [order, setOrder] = useState<(typeof orders)[number]>('newest'),
    words = text.trim().toLowerCase().split(/\s+/),
    shown = (data ?? [])
      .filter((clip) => (role === 'all' || clip.role === role) && words.every((word) => textOf(clip).includes(word)))
      .sort(by[order])
      .map((clip) => ({ ...clip, id: clip.hash }));
  return (
    <Modal show size="lg" onHide={onClose} centered scrollable aria-label={title}>
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="fs-5">
          {title}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <div className="d-flex gap-2 mb-2">
          <Form.Control
            autoFocus
            aria-label="Look for"
            placeholder="Name, shot, 1280x720, 2026-11"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <Form.Select aria-label="Role" style={{ width: 150 }} value={role} onChange={(e) => setRole(e.target.value as typeof role)}>
            <option value="all">All roles</option>
            {clipRoles.map((one) => (
              <option key={one} value={one}>
                {roleWords[one]}
              </option>
            ))}
          </Form.Select>
          <Form.Select aria-label="Order" style={{ width: 120 }} value={order} onChange={(e) => setOrder(e.target.value as typeof order)}>
            {orders.map((one) => (
              <option key={one} value={one}>
                {one}
              </option>
            ))}
          </Form.Select>
        </div>
        {error && <p role="alert">{error.message}</p>}
        <LongList
          className="production-clips"
          items={shown}
          size={46}
          draw={(clip, top) => (
            <button key={clip.id} type="button" className="list-item" style={{ position: 'absolute', top }} onClick={() => onChoose(clip)}>
              <span className="grow">
                <div title={clip.name}>{clip.name}</div>
                <div className="quiet">
                  {roleWords[clip.role]} · {clip.info.width} x {clip.info.height} ·{' '}
                  {clip.info.frames === 1 ? 'still' : `${clip.info.frames} frames`} · {new Date(clip.created).toLocaleDateString()} ·{' '}
                  {clip.shots.join(', ')}
                </div>
              </span>
            </button>
          )}
        />
        {data && shown.length === 0 && (
          <p className="quiet mb-0">
            {data.length ? 'No clip of the production is like that.' : 'No shot of the production has a clip yet.'}
          </p>
        )}
      </Modal.Body>
    </Modal>
  );
}
