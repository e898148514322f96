import { Brush, Eraser, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { matteClip, removePainted, shotFrame, type Matte } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { stateOf, take } from '../tools';
import { paintSpans } from '../tools/paintMatte';
import { IconButton } from '../ui/IconButton';
import { ChoiceField, NumberField } from './fields';

/** Strokes of the same frames, as the list shows them. */
interface Painted {
  first: number;
  last: number;
  ids: string[];
}
function together(strokes: Matte['painted']): Painted[] {
  const out = new Map<string, Painted>();
  for (const { id, first, last } of strokes) {
    const key = `${first} ${last}`,
      there = out.get(key);
    if (there) there.ids.push(id);
    else out.set(key, { first, last, ids: [id] });
  }
  return [...out.values()].sort((a, b) => a.first - b.first || a.last - b.last);
}

/** Painted corrections of a matte: the brush, the frames on which its strokes count, and those that were painted. */
export function MattePaint({ matte }: { matte: Matte }) {
  const shot = useDocument(),
    { tool, edit, set } = useParts('tool', 'edit', 'set'),
    held = stateOf(tool, 'paint matte'),
    painting = held?.matte === matte.id ? held : null,
    [brush, setBrush] = useState({ radius: 16, softness: 40, span: paintSpans[0] as (typeof paintSpans)[number] }),
    clip = matteClip(shot, matte),
    shown = (at: number) => (clip ? (shotFrame(shot, clip, at) ?? at) : at),
    change = (to: Partial<typeof brush>) => {
      setBrush({ ...brush, ...to });
      if (painting) set({ tool: take('paint matte', { ...painting, ...to }) });
    },
    pick = (mode: 'add' | 'take away') =>
      set({ tool: painting?.mode === mode ? null : take('paint matte', { ...brush, mode, matte: matte.id, points: [] }) });
  return (
    <section aria-label="Paint">
      <div className="section-head">
        <h3 className="flex-grow-1">Paint</h3>
        <IconButton small label="Paint in what is missing" on={painting?.mode === 'add'} onClick={() => pick('add')}>
          <Brush size={15} />
        </IconButton>
        <IconButton small label="Paint out what is too much" on={painting?.mode === 'take away'} onClick={() => pick('take away')}>
          <Eraser size={15} />
        </IconButton>
      </div>
      {painting && (
        <>
          <ChoiceField label="Counts on" value={brush.span} of={paintSpans} onChange={(span) => change({ span })} />
          <NumberField label="Brush radius" unit="px" value={brush.radius} range={[1, 500]} onChange={(radius) => change({ radius })} />
          <NumberField label="Softness" unit="%" value={brush.softness} range={[0, 100]} onChange={(softness) => change({ softness })} />
        </>
      )}
      {matte.painted.length > 0 && (
        <ul className="doubts" aria-label="Painted strokes">
          {together(matte.painted).map(({ first, last, ids }) => {
            const frames = first === last ? String(shown(first)) : `${shown(first)} to ${shown(last)}`;
            return (
              <li key={`${first} ${last}`} className="d-flex">
                <button
                  type="button"
                  className="btn btn-quiet btn-sm flex-grow-1 text-start"
                  onClick={() => set({ frame: shown(first), playing: false })}
                >
                  <span className="num me-2">{frames}</span>
                  {ids.length === 1 ? '1 stroke' : `${ids.length} strokes`}
                </button>
                <IconButton small label={`Remove what was painted on ${frames}`} onClick={() => edit(removePainted(matte.id, ids))}>
                  <Trash2 size={12} />
                </IconButton>
              </li>
            );
          })}
        </ul>
      )}
    </section>
  );
}
