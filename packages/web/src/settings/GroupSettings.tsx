import { Copy, Ungroup } from 'lucide-react';
import { blendNames } from '@wraithos/core/image';
import { changeGroup, duplicateGroup, freshId, ungroup, type Row, offeredMattes } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { IconButton } from '../ui/IconButton';
import { TextField } from './CueSettings';
import { ChoiceField, NumberField } from './fields';
import { TreatmentSettings } from './TreatmentSettings';

/** Settings of rows that are handled as one. */
export function GroupSettings({ id }: { id: string }) {
  const shot = useDocument(),
    { edit, preview, set } = useParts('edit', 'preview', 'set'),
    group = shot.groups[id]!,
    rows = (Object.values(shot.rows) as Row[]).filter((r) => r.group === id),
    track = group.mount ? (shot.mounts[group.mount]?.track ?? '') : '';
  return (
    <>
      <div className="d-flex align-items-start">
        <h2 className="flex-grow-1">Group</h2>
        <IconButton
          small
          label="Duplicate group"
          onClick={() => {
            const copy = freshId(shot.groups, 'g');
            edit(duplicateGroup(id, copy));
            set({ selection: { kind: 'group', id: copy } });
          }}
        >
          <Copy size={14} />
        </IconButton>
        <IconButton
          small
          label="Ungroup: its effects stay as they are"
          onClick={() => {
            edit(ungroup(id));
            set({ selection: null });
          }}
        >
          <Ungroup size={14} />
        </IconButton>
      </div>
      <div className="quiet mb-1">{rows.length ? rows.map((r) => r.name).join(', ') : 'no effects in it yet'}</div>
      <TextField label="Name" value={group.name} onChange={(name) => edit(changeGroup(id, { name }))} />
      <NumberField
        label="Opacity"
        unit="%"
        range={[0, 100]}
        value={group.opacity}
        onPreview={(opacity) => preview(changeGroup(id, { opacity }))}
        onChange={(opacity) => edit(changeGroup(id, { opacity }))}
      />
      <NumberField
        label="Delay"
        unit="frames"
        value={group.later}
        help="Frames by which all effects of the group start later; below 0 earlier."
        onChange={(later) => edit(changeGroup(id, { later: Math.round(later) }))}
      />
      <ChoiceField
        label="Hangs on"
        help="Carries those effects of the group that hang on nothing themselves."
        value={track}
        of={['', ...Object.keys(shot.tracks)]}
        words={Object.fromEntries([['', 'nothing'], ...Object.values(shot.tracks).map((t) => [t.id, t.name])])}
        onChange={(t) => edit(changeGroup(id, { track: t || null }))}
      />
      <ChoiceField
        label="Only inside"
        value={group.matte ?? ''}
        of={['', ...offeredMattes(shot).map((m) => m.id)]}
        words={Object.fromEntries([['', 'everywhere'], ...offeredMattes(shot).map((m) => [m.id, m.name])])}
        onChange={(matte) => edit(changeGroup(id, { matte: matte || null }))}
      />
      <ChoiceField
        label="Laid on"
        help="Each effect by itself, or those that stand together as one picture: effects that change what is below them then change only this picture."
        value={group.asOne ? 'one' : 'each'}
        of={['each', 'one']}
        words={{ each: 'each effect', one: 'as one picture' }}
        onChange={(how) => edit(changeGroup(id, { asOne: how === 'one' }))}
      />
      {group.asOne && (
        <ChoiceField label="Blend" value={group.blend} of={blendNames} onChange={(blend) => edit(changeGroup(id, { blend }))} />
      )}
      <TreatmentSettings of={{ kind: 'group', id }} list={group.treatments} />
    </>
  );
}
