import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Eye, EyeOff, Headphones } from 'lucide-react';
import { memo } from 'react';
import { effectOf } from '@wraithos/core/effects';
import { changeRow, type Row, type Shot } from '@wraithos/core/shot';
import { useParts } from '../state/shotStore';
import { IconButton } from '../ui/IconButton';

/** What stands below the name of a row: what it hangs on, or is inside of, and its group. */
export function aboutRow(shot: Shot, row: Row): string {
  const mount = row.mount ? shot.mounts[row.mount] : undefined,
    group = row.group ? shot.groups[row.group] : undefined;
  const about =
    row.twins.length > 0
      ? `${mount?.name ?? 'nothing'} and ${row.twins.length} ${row.twins.length === 1 ? 'twin' : 'twins'}`
      : mount
        ? mount.name
        : row.matte
          ? `inside ${shot.mattes[row.matte]?.name ?? ''}`
          : (effectOf(row.effect)?.title ?? 'unknown effect');
  return group ? `${about} · ${group.name}` : about;
}
/** Milliseconds of a row in the drawn frame, for people. */
export const costWords = (ms: number | undefined): string => (ms === undefined ? '' : `${ms < 1 ? '<1' : Math.round(ms)} ms`);

interface RowItemProps {
  row: Row;
  about: string;
  cost: string;
  warned: boolean;
  selected: boolean;
}
/** One effect in the stack. It is drawn anew only where something of it changes, since a nudge changes one of many. */
export const RowItem = memo(function RowItem({ row, about, cost, warned, selected }: RowItemProps) {
  const { edit, set } = useParts('edit', 'set'),
    { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({ id: row.id });
  return (
    <div
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      {...listeners}
      role="group"
      className={`row-item ${selected ? 'selected' : ''} ${row.muted ? 'muted' : ''}`}
      aria-label={row.name}
      onClick={() => set({ selection: { kind: 'row', id: row.id } })}
    >
      <IconButton
        small
        label={row.muted ? `Unmute ${row.name}` : `Mute ${row.name}`}
        on={false}
        onClick={() => edit(changeRow(row.id, { muted: !row.muted }, row.muted ? 'Unmute' : 'Mute'))}
      >
        {row.muted ? <EyeOff size={14} /> : <Eye size={14} />}
      </IconButton>
      <IconButton small label={`Solo ${row.name}`} on={row.solo} onClick={() => edit(changeRow(row.id, { solo: !row.solo }, 'Solo'))}>
        <Headphones size={13} />
      </IconButton>
      <button type="button" className="row-take narrows" ref={setActivatorNodeRef} {...attributes}>
        <div className="row-name">
          {row.name}{' '}
          {warned && (
            <span className="warn" title="A check flags this effect; select it to read why">
              !
            </span>
          )}
        </div>
        <div className="row-sub">{about}</div>
      </button>
      <span className="cost num" title="Time for this frame">
        {cost}
      </span>
    </div>
  );
});
