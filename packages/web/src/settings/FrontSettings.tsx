import { Brush, Trash2 } from 'lucide-react';
import { changeRow, drawnRows, offeredMattes, removeFrontStroke, type Row } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { stateOf, take } from '../tools';
import { IconButton } from '../ui/IconButton';
import { ChoiceField } from './fields';

/** How the front of an arrival goes where no formula says it: by lines that were painted for frames, or by the values of a matte. */
export function FrontSettings({ row }: { row: Row }) {
  return row.values.shape === 'strokes' ? (
    <FrontStrokes row={row} />
  ) : row.values.shape === 'a matte' ? (
    <PatternMatte
      row={row}
      label="Order from"
      help="Where this matte is bright the front comes first; a luma key of any clip gives one. Without a matte it goes outwards from its start point."
      undo="Choose order"
    />
  ) : null;
}

function FrontStrokes({ row }: { row: Row }) {
  const shot = useDocument(),
    { tool, edit, set } = useParts('tool', 'edit', 'set'),
    first = drawnRows(shot).of(row.id)[0]?.first ?? row.start,
    painting = stateOf(tool, 'paint front')?.row === row.id,
    lines = [...row.strokes].sort((a, b) => a.frame - b.frame);
  return (
    <section aria-label="Lines of the front">
      <div className="section-head">
        <h3 className="flex-grow-1">Lines of the front</h3>
        <IconButton
          small
          on={painting}
          label="Paint where the front stands"
          onClick={() => set({ tool: painting ? null : take('paint front', { row: row.id, points: [] }) })}
        >
          <Brush size={15} />
        </IconButton>
      </div>
      {lines.length === 0 && (
        <div className="quiet">
          Paint a line over the body on two frames or more; until then the front goes outwards from its start point.
        </div>
      )}
      {lines.length > 0 && (
        <ul className="doubts" aria-label="Lines of the front">
          {lines.map((stroke) => (
            <li key={stroke.id} className="d-flex">
              <button
                type="button"
                className="btn btn-quiet btn-sm flex-grow-1 text-start"
                onClick={() => set({ frame: first + stroke.frame, playing: false })}
              >
                Stands here on <span className="num">{first + stroke.frame}</span>
              </button>
              <IconButton
                small
                label={`Remove the line of ${first + stroke.frame}`}
                onClick={() => edit(removeFrontStroke(row.id, stroke.id))}
              >
                <Trash2 size={12} />
              </IconButton>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** Chooses the matte whose values an effect goes by. */
export function PatternMatte({ row, label, help, undo }: { row: Row; label: string; help: string; undo: string }) {
  const shot = useDocument(),
    { edit } = useParts('edit'),
    mattes = offeredMattes(shot, row.subject);
  return (
    <ChoiceField
      label={label}
      help={help}
      value={row.pattern ?? ''}
      of={['', ...mattes.map((m) => m.id)]}
      words={Object.fromEntries([['', 'no matte'], ...mattes.map((m) => [m.id, m.name])])}
      onChange={(pattern) => edit(changeRow(row.id, { pattern: pattern || null }, undo))}
    />
  );
}
