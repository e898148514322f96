import { Copy, Trash2 } from 'lucide-react';
import { blendNames } from '@wraithos/core/image';
import { effects, storedAt, type Param, type StoredValue } from '@wraithos/core/effects';
import {
  aimRow,
  changeRow,
  duplicateRow,
  freshId,
  hangRow,
  removeRow,
  rowRange,
  setCurve,
  curvePoint,
  setCurvePoint,
  setPoint,
  setValue,
  whyNotVisible,
  type Row,
} from '@wraithos/core/shot';
import { useDocument, useShot } from '../state/shotStore';
import { useChecks } from '../workbench/useChecks';
import { IconButton } from '../ui/IconButton';
import { TextField } from './CueSettings';
import { ChoiceField, ColourField, Fold, NumberField, PairField } from './fields';

/** Ways to lay light on a picture. */
const lightBlends = ['screen', 'add'] as const;

/** Settings of an effect, built from its own description. */
export function EffectSettings({ id }: { id: string }) {
  const shot = useDocument(),
    { edit, preview, set, frame } = useShot(),
    row = shot.rows[id] as Row,
    effect = effects[row.effect],
    checks = useChecks().filter((c) => c.row === id);
  if (!effect)
    return (
      <>
        <h2>{row.name}</h2>
        <p className="why">The effect "{row.effect}" is not known here. It was kept as it is and is left out of the picture.</p>
      </>
    );
  const [first, last] = rowRange(shot, row),
    inRow = frame - first,
    why = whyNotVisible(shot, row, frame),
    mount = row.mount ? shot.mounts[row.mount] : undefined,
    aim = row.aim ? shot.mounts[row.aim] : undefined;

  const field = ([name, p]: [string, Param<unknown>]) => {
    const stored = (row.values[name] ?? p.default) as StoredValue,
      now = storedAt(name, stored, row.curves, inRow),
      changed = JSON.stringify(stored) !== JSON.stringify(p.default);
    if (p.when && !p.when.is.includes(String(row.values[p.when.param]))) return null;
    const put = (v: StoredValue) => setValue(id, name, v),
      reset = () => edit(put(p.default as StoredValue));
    if (p.kind === 'choice')
      return <ChoiceField key={name} label={p.title} help={p.help} value={String(now)} of={p.of!} onChange={(v) => edit(put(v))} />;
    if (p.kind === 'colour')
      return (
        <ColourField
          key={name}
          label={p.title}
          help={p.help}
          value={String(now)}
          changed={changed}
          onPreview={(v) => preview(put(v))}
          onChange={(v) => edit(put(v))}
          onReset={reset}
        />
      );
    if (p.kind === 'point') {
      const curved = !!(row.curves[`${name}.x`] ?? row.curves[`${name}.y`]),
        at = now as [number, number];
      return (
        <PairField
          key={name}
          label={p.title}
          help={p.help}
          unit={p.unit}
          value={at}
          changed={changed || curved}
          curved={curved}
          onChange={(v) => edit(setPoint(id, name, v, inRow))}
          onReset={() => edit(curved ? curvePoint(id, name, null) : put(p.default as StoredValue))}
          onCurve={
            p.curve ? () => edit(curved ? setPoint(id, name, at, inRow) : curvePoint(id, name, { frame: inRow, value: at })) : undefined
          }
        />
      );
    }
    const curve = row.curves[name],
      value = now as number,
      change = (v: number) =>
        curve
          ? setCurvePoint(id, name, { frame: inRow, value: v, ease: curve.points.find((q) => q.frame === inRow)?.ease ?? 'smooth' })
          : put(v);
    return (
      <NumberField
        key={name}
        label={p.title}
        help={p.help}
        unit={p.unit}
        range={p.range}
        step={p.step}
        value={value}
        changed={changed || !!curve}
        curved={!!curve}
        onPreview={(v) => preview(change(v))}
        onChange={(v) => edit(change(v))}
        onReset={() => edit(curve ? setCurve(id, name, null) : put(p.default as StoredValue))}
        onCurve={p.curve ? () => edit(setCurvePoint(id, name, { frame: inRow, value, ease: 'smooth' })) : undefined}
      />
    );
  };
  const groups = new Map<string, [string, Param<unknown>][]>(),
    rare: [string, Param<unknown>][] = [];
  for (const entry of Object.entries(effect.params)) {
    if (entry[1].rare) rare.push(entry);
    else groups.set(entry[1].group ?? '', [...(groups.get(entry[1].group ?? '') ?? []), entry]);
  }
  const duplicate = () => {
    const copy = freshId(shot.rows, 'r');
    edit(duplicateRow(id, copy));
    set({ selection: { kind: 'row', id: copy } });
  };
  const usesMatte = Object.values(effect.inputs).some((i) => i.kind === 'matte'),
    usesMount = Object.values(effect.inputs).some((i) => i.kind === 'mount'),
    usesAim = Object.values(effect.inputs).some((i) => i.kind === 'aim');
  const mattes = (none: string) => ({
    of: ['', ...Object.keys(shot.mattes)],
    words: Object.fromEntries([['', none], ...Object.values(shot.mattes).map((m) => [m.id, m.name])]),
  });
  return (
    <>
      <div className="d-flex align-items-start">
        <h2 className="flex-grow-1">{effect.title}</h2>
        <IconButton small label="Duplicate" keys="Ctrl+Shift+D" onClick={duplicate}>
          <Copy size={14} />
        </IconButton>
        <IconButton
          small
          label="Delete"
          keys="Delete"
          onClick={() => {
            edit(removeRow(id));
            set({ selection: null });
          }}
        >
          <Trash2 size={14} />
        </IconButton>
      </div>
      <div className="quiet mb-1">
        {first} to {last}
        {row.cue
          ? `, with the cue ${shot.cues[row.cue]!.name}${row.start ? ` ${row.start > 0 ? '+' : '−'} ${Math.abs(row.start)}` : ''}`
          : ''}
      </div>
      {why && <div className="why">{why}</div>}
      {checks.map((c) => (
        <div key={c.id + c.text} className="mb-1" style={{ color: 'var(--rust)' }}>
          ! {c.text} <span className="quiet">{c.fix}</span>
          {c.frame !== undefined && (
            <button type="button" className="btn btn-link btn-sm p-0 ms-1" onClick={() => set({ frame: c.frame })}>
              Go there
            </button>
          )}
        </div>
      ))}
      <TextField label="Name" value={row.name} onChange={(name) => edit(changeRow(id, { name }, 'Rename effect'))} />
      {usesMount && (
        <ChoiceField
          label="Hangs on"
          value={mount?.track ?? ''}
          of={['', ...Object.keys(shot.tracks)]}
          words={Object.fromEntries([['', 'nothing'], ...Object.values(shot.tracks).map((t) => [t.id, t.name])])}
          onChange={(track) => edit(hangRow(id, track || null))}
        />
      )}
      {usesAim && (
        <ChoiceField
          label="Aims at"
          value={aim?.track ?? ''}
          of={['', ...Object.keys(shot.tracks)]}
          words={Object.fromEntries([['', 'nothing'], ...Object.values(shot.tracks).map((t) => [t.id, t.name])])}
          onChange={(track) => edit(aimRow(id, track || null))}
        />
      )}
      {usesMatte && !effect.removes && (
        <ChoiceField
          label="Matte"
          value={row.source ?? ''}
          {...mattes("the subject's")}
          onChange={(m) => edit(changeRow(id, { source: m || null }))}
        />
      )}
      {!effect.removes && (
        <>
          <ChoiceField
            label="Only inside"
            value={row.matte ?? ''}
            {...mattes('everywhere')}
            onChange={(m) => edit(changeRow(id, { matte: m || null }))}
          />
          <ChoiceField
            label="Blend"
            value={row.blend}
            of={effect.light ? lightBlends : blendNames}
            onChange={(blend) => edit(changeRow(id, { blend }))}
          />
        </>
      )}
      <NumberField
        label="Opacity"
        unit="%"
        range={[0, 100]}
        value={row.opacity}
        onPreview={(opacity) => preview(changeRow(id, { opacity }))}
        onChange={(opacity) => edit(changeRow(id, { opacity }))}
      />
      {[...groups].map(([group, entries]) => (
        <div key={group}>
          <h3>{group || effect.title}</h3>
          {entries.map(field)}
        </div>
      ))}
      <h3>Time</h3>
      <ChoiceField
        label="Starts with"
        value={row.cue ?? ''}
        of={['', ...Object.keys(shot.cues)]}
        words={Object.fromEntries([['', 'a frame'], ...Object.values(shot.cues).map((c) => [c.id, c.name])])}
        onChange={(cue) => edit(changeRow(id, { cue: cue || null, start: first - (cue ? shot.cues[cue]!.frame : 0) }, 'Start with cue'))}
      />
      <NumberField
        label={row.cue ? 'After the cue' : 'First frame'}
        unit={row.cue ? 'frames' : ''}
        value={row.start}
        onChange={(start) => edit(changeRow(id, { start: Math.round(start) }, 'Move effect in time'))}
      />
      <NumberField
        label="Length"
        unit="frames"
        range={[1, 100000]}
        value={row.length}
        onChange={(length) => edit(changeRow(id, { length: Math.round(length) }, 'Change length'))}
      />
      {rare.length > 0 && <Fold title="More">{rare.map(field)}</Fold>}
    </>
  );
}
