import { Brush, Trash2 } from 'lucide-react';
import { changeRow, drawnRows, offeredMattes, removeRowLine, type Row } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { stateOf, take } from '../tools';
import { IconButton } from '../ui/IconButton';
import { ChoiceField } from './fields';

/** How the front of an arrival goes where no formula says it: by lines that were drawn for frames, or by the values of a matte. */
export function FrontSettings({ row }: { row: Row }) {
  return row.values.shape === 'strokes' ? (
    <DrawnLines
      row={row}
      title="Lines of the front"
      button="Paint where the front stands"
      hint="Paint the line in which the front stands on this frame; go to another frame and paint the next one. Esc leaves."
      empty="Paint a line over the body on two frames or more; until then the front goes outwards from its start point."
      entry="Stands here on"
    />
  ) : row.values.shape === 'a matte' ? (
    <PatternMatte
      row={row}
      label="Order from"
      help="Where this matte is bright the front comes first; a luma key of any clip gives one. Without a matte it goes outwards from its start point."
      undo="Choose order"
    />
  ) : null;
}

/** The line that a beam goes along. */
export const PathSettings = ({ row }: { row: Row }) =>
  row.values.goes === 'along a drawn line' ? (
    <DrawnLines
      row={row}
      title="Lines of the path"
      button="Draw its line"
      hint="Draw the line along which it goes, from its start to its end; draw another one on another frame and it moves from line to line. Esc leaves."
      empty="Draw the line on the picture; until then it goes straight."
      entry="Goes here on"
    />
  ) : null;

/** Lines that were drawn for frames of a row. */
function DrawnLines({
  row,
  title,
  button,
  hint,
  empty,
  entry,
}: { row: Row } & Record<'title' | 'button' | 'hint' | 'empty' | 'entry', string>) {
  const shot = useDocument(),
    { tool, edit, set } = useParts('tool', 'edit', 'set'),
    first = drawnRows(shot).of(row.id)[0]?.first ?? row.start,
    drawing = stateOf(tool, 'draw line')?.row === row.id,
    lines = [...row.strokes].sort((a, b) => a.frame - b.frame);
  return (
    <section aria-label={title}>
      <div className="section-head">
        <h3 className="flex-grow-1">{title}</h3>
        <IconButton
          small
          on={drawing}
          label={button}
          onClick={() => set({ tool: drawing ? null : take('draw line', { row: row.id, hint, points: [] }) })}
        >
          <Brush size={15} />
        </IconButton>
      </div>
      {lines.length === 0 && <div className="quiet">{empty}</div>}
      {lines.length > 0 && (
        <ul className="doubts" aria-label={title}>
          {lines.map((stroke) => (
            <li key={stroke.id} className="d-flex">
              <button
                type="button"
                className="btn btn-quiet btn-sm flex-grow-1 text-start"
                onClick={() => set({ frame: first + stroke.frame, playing: false })}
              >
                {entry} <span className="num">{first + stroke.frame}</span>
              </button>
              <IconButton small label={`Remove the line of ${first + stroke.frame}`} onClick={() => edit(removeRowLine(row.id, stroke.id))}>
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
