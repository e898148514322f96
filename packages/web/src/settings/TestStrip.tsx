import { useMemo, useState } from 'react';
import { Form, Modal } from 'react-bootstrap';
import { effectOf, type Param } from '@wraithos/core/effects';
import { applyEdit, setCurve, setValue, type Row, type Shot } from '@wraithos/core/shot';
import { useTracks } from '../workbench/tracks';
import { aboutRow, LivePicture } from '../recipes/LivePicture';
import { useDocument, useParts } from '../state/shotStore';

const STEPS = 5;
/** Five values of a parameter: about the present one within its range; five seeds for a seed; its choices for a choice. */
export function stripValues(p: Param<unknown>, now: number | string): (number | string)[] {
  if (p.kind === 'choice') return [...p.of!].slice(0, STEPS + 2);
  const value = Number(now),
    [low, high] = p.range ?? [-Infinity, Infinity];
  if (p.kind === 'seed') return Array.from({ length: STEPS }, (_, i) => (value + i * 101) % 10000);
  const step = p.step ?? 1,
    tidy = (raw: number) => Number(Math.min(high, Math.max(low, Math.round(raw / step) * step)).toFixed(3)),
    most = Number.isFinite(high) ? Math.min(high, 100) / 2 : 2,
    all =
      p.kind === 'angle'
        ? [-60, -30, 0, 30, 60].map((d) => value + d)
        : value
          ? [0.4, 0.7, 1, 1.5, 2.2].map((k) => value * k)
          : [0, 0.25, 0.5, 0.75, 1].map((k) => most * k);
  return [...new Set(all.map((v) => (v === value ? v : tidy(v))))];
}

/** One parameter in five steps side by side on this very frame; a click takes one. */
export function TestStrip({ row, onClose }: { row: Row; onClose(): void }) {
  const shot = useDocument(),
    { edit, frame } = useParts('edit', 'frame'),
    { params } = effectOf(row.effect)!,
    about = aboutRow(shot, useTracks(), row.id, frame),
    able = Object.entries(params).filter(([, p]) => p.kind !== 'colour' && p.kind !== 'point'),
    [name, setName] = useState(() => (able.find(([n]) => n === 'strength') ?? able.find(([, p]) => p.kind === 'seed') ?? able[0]!)[0]),
    p = params[name]!,
    now = (row.values[name] ?? p.default) as number | string;
  // A value that changes over time is tried as a plain one.
  const tried = useMemo(
    () =>
      stripValues(p, now).map((value): { value: number | string; shot: Shot } => {
        const plain = row.curves[name] ? applyEdit(shot, setCurve(row.id, name, null)).shot : shot;
        return { value, shot: applyEdit(plain, setValue(row.id, name, value)).shot };
      }),
    [shot, row, name, p, now],
  );
  const take = (value: number | string) =>
    edit({
      name: `Take ${p.title.toLowerCase()} from test strip`,
      apply(s) {
        if (row.curves[name]) setCurve(row.id, name, null).apply(s);
        setValue(row.id, name, value).apply(s);
      },
    });
  return (
    <Modal show onHide={onClose} size="xl" centered aria-label="Test strip">
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="fs-5">
          Test strip: {row.name}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Form.Group className="mb-3 d-flex align-items-center gap-2" controlId="strip-parameter">
          <Form.Label className="mb-0">Value</Form.Label>
          <Form.Select size="sm" style={{ width: 240 }} value={name} onChange={(e) => setName(e.target.value)}>
            {able.map(([key, q]) => (
              <option key={key} value={key}>
                {q.title}
              </option>
            ))}
          </Form.Select>
          <span className="quiet">
            Frame <span className="num">{frame}</span>. Click a picture to take its value.
            {row.curves[name] && ' Taking a value replaces the curve.'}
          </span>
        </Form.Group>
        <div className="strip">
          {tried.map(({ value, shot: variant }) => (
            <button
              key={String(value)}
              type="button"
              className={`strip-step ${value === now ? 'now' : ''}`}
              onClick={() => {
                take(value);
                onClose();
              }}
            >
              <LivePicture shot={variant} frame={frame} about={about} width={196} height={110} />
              <span className="num">
                {value} {p.kind === 'choice' ? '' : (p.unit ?? '')}
                {value === now ? ' (now)' : ''}
              </span>
            </button>
          ))}
        </div>
      </Modal.Body>
    </Modal>
  );
}
