import { BookMarked, Copy, Rows3, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { blendNames } from '@wraithos/core/image';
import { effectOf, type StoredValue } from '@wraithos/core/effects';
import { trackKinds } from '@wraithos/core/motion';
import { easeOf } from '@wraithos/core/time';
import {
  aimRow,
  changeRow,
  curvePoint,
  duplicateRow,
  freezeRow,
  freshId,
  ownClips,
  groupRows,
  hangRow,
  offsetRow,
  joinGroup,
  drawnRows,
  setCurve,
  setCurvePoint,
  setPoint,
  setValue,
  whyNotVisible,
  type Row,
  curveTimings,
  offeredMattes,
} from '@wraithos/core/shot';
import { BuildPlate } from '../plates/BuildPlate';
import { saveRecipe } from '../recipes/saved';
import { useDocument, useParts } from '../state/shotStore';
import { stateOf, take } from '../tools';
import { useChecks } from '../workbench/useChecks';
import { IconButton } from '../ui/IconButton';
import { TextField } from './CueSettings';
import { ChoiceField, NumberField, PairField } from './fields';
import { Carried } from './Carried';
import { StartsWith } from './StartsWith';
import { FrontSettings, PathSettings, PatternMatte } from './FrontSettings';
import { Freeze } from './Freeze';
import { ParamFields, type ParamTarget } from './ParamFields';
import { TestStrip } from './TestStrip';
import { TreatmentSettings } from './TreatmentSettings';
import { TwinSettings } from './TwinSettings';
import { useContrast } from './useContrast';

/** Ways to lay light on a picture. */
const lightBlends = ['screen', 'add'] as const;

/** Settings of an effect, built from its own description. */
export function EffectSettings({ id }: { id: string }) {
  const shot = useDocument(),
    { edit, preview, remove, set, frame, tool } = useParts('edit', 'preview', 'remove', 'set', 'frame', 'tool'),
    row = shot.rows[id] as Row,
    effect = effectOf(row.effect),
    checks = useChecks().filter((c) => c.row === id),
    [strip, setStrip] = useState(false),
    drawn = drawnRows(shot).of(id)[0]!,
    why = whyNotVisible(drawn, frame),
    unread = useContrast(row, why === null);
  if (!effect)
    return (
      <>
        <h2>{row.name}</h2>
        <p className="why">The effect "{row.effect}" is not known here. It was kept as it is and is left out of the picture.</p>
      </>
    );
  const { first, last, curves } = drawn,
    inRow = frame - first,
    mount = row.mount ? shot.mounts[row.mount] : undefined,
    aim = row.aim ? shot.mounts[row.aim] : undefined,
    gates = Object.values(shot.tracks).filter((t) => trackKinds[t.kind].opens),
    uses = (kind: string) => Object.values(effect.inputs).some((i) => i.kind === kind);
  const duplicate = () => {
    const copy = freshId(shot.rows, 'r');
    edit(duplicateRow(id, copy));
    set({ selection: { kind: 'row', id: copy } });
  };
  const offered = offeredMattes(shot, row.subject),
    mattes = (none: string) => ({
      of: ['', ...offered.map((m) => m.id)],
      words: Object.fromEntries([['', none], ...offered.map((m) => [m.id, m.name])]),
    });
  const tracks = (none: string) => ({
    of: ['', ...Object.keys(shot.tracks)],
    words: Object.fromEntries([['', none], ...Object.values(shot.tracks).map((t) => [t.id, t.name])]),
  });
  const target: ParamTarget = {
    values: row.values as Record<string, StoredValue>,
    usual: (_, p) => p.default as StoredValue,
    put: (name, value) => setValue(id, name, value),
    reset: (name) => setValue(id, name, effect.params[name]!.default as StoredValue),
    pick: {
      picking: stateOf(tool, 'pick for effect')?.param ?? null,
      start: (name) => set({ tool: take('pick for effect', { row: id, param: name }) }),
    },
    curves: {
      of: curves,
      inRow,
      set: (name, value) =>
        setCurvePoint(id, name, { frame: inRow, value, ease: (curves[name] && easeOf(curves[name], inRow)) ?? 'smooth' }),
      setPoint: (name, value) => setPoint(id, name, value, inRow),
      make: (name, value) => (value === null ? setCurve(id, name, null) : setCurvePoint(id, name, { frame: inRow, value, ease: 'smooth' })),
      makePoint: (name, value) => curvePoint(id, name, value && { frame: inRow, value }),
    },
  };
  const time = (
    <>
      <h3>Time</h3>
      <StartsWith
        label="Starts with"
        atFrame="First frame"
        cue={row.cue}
        start={row.start}
        at={first}
        change={(to) => changeRow(id, to, to.cue === undefined ? 'Move effect in time' : 'Start with cue')}
      />
      <NumberField
        label="Length"
        unit="frames"
        range={[1, 100000]}
        value={row.length}
        onChange={(length) => edit(changeRow(id, { length: Math.round(length) }, 'Change length'))}
      />
      {Object.keys(row.curves).length > 0 && (
        <ChoiceField
          label="Curves keep"
          help="What the curves of this effect do where its length changes"
          value={row.curveTiming}
          of={curveTimings}
          words={{ 'from its start': 'their frames', 'with its length': 'their share of the length' }}
          onChange={(curveTiming) => edit(changeRow(id, { curveTiming }, 'Change curves'))}
        />
      )}
      {uses('moment') && <Freeze at={inRow} freeze={(at, frames) => freezeRow(id, at, frames)} />}
      {uses('mount') && !effect.removes && <TwinSettings row={row} />}
      <TreatmentSettings of={{ kind: 'row', id }} list={row.treatments} />
    </>
  );
  return (
    <>
      <div className="d-flex align-items-start">
        <h2 className="flex-grow-1">{effect.title}</h2>
        <IconButton small label="Test strip: one value in five steps" onClick={() => setStrip(true)}>
          <Rows3 size={14} />
        </IconButton>
        <IconButton small label="Save as a recipe" onClick={() => void saveRecipe(shot, row, (notice) => set({ notice }))}>
          <BookMarked size={14} />
        </IconButton>
        <IconButton small label="Duplicate" keys="Ctrl+Shift+D" onClick={duplicate}>
          <Copy size={14} />
        </IconButton>
        <IconButton small label="Remove" keys="Delete" onClick={() => remove('row', id)}>
          <Trash2 size={14} />
        </IconButton>
      </div>
      {strip && <TestStrip row={row} onClose={() => setStrip(false)} />}
      <div className="quiet mb-1">
        {first} to {last}
        {row.cue
          ? `, with the cue ${shot.cues[row.cue]!.name}${row.start ? ` ${row.start > 0 ? '+' : '−'} ${Math.abs(row.start)}` : ''}`
          : ''}
      </div>
      {why && <div className="why">{why}</div>}
      {unread && (
        <div className="mb-1 bad" role="status">
          ! {unread.text} <span className="quiet">{unread.fix}</span>
        </div>
      )}
      {checks.map((c) => (
        <div key={c.id + c.text} className="mb-1 bad">
          ! {c.text} <span className="quiet">{c.fix}</span>
          {c.mend === 'clean plate' && <BuildPlate />}
          {c.frame !== undefined && (
            <button type="button" className="btn btn-link btn-sm p-0 ms-1" onClick={() => set({ frame: c.frame })}>
              Go there
            </button>
          )}
        </div>
      ))}
      <TextField label="Name" value={row.name} onChange={(name) => edit(changeRow(id, { name }, 'Rename effect'))} />
      {uses('mount') && (
        <ChoiceField
          label="Hangs on"
          value={mount?.track ?? ''}
          {...tracks('nothing')}
          onChange={(track) => edit(hangRow(id, track || null))}
        />
      )}
      {uses('mount') && mount && (
        <PairField
          label="Track offset"
          unit="px"
          help="In pixels of the body: it turns and grows with a pair. Drag the small square beside the ring on the picture."
          value={mount.offset}
          changed={mount.offset[0] !== 0 || mount.offset[1] !== 0}
          onReset={() => edit(offsetRow(id, [0, 0]))}
          onChange={(offset) => edit(offsetRow(id, offset))}
        />
      )}
      {uses('mount') && mount && <Carried row={id} mount={mount} />}
      {gates.length > 0 && (
        <ChoiceField
          label="Gate"
          help="Lets the effect show while it is open."
          value={row.gate ?? ''}
          of={['', ...gates.map((t) => t.id)]}
          words={Object.fromEntries([['', 'none'], ...gates.map((t) => [t.id, t.name])])}
          onChange={(gate) => edit(changeRow(id, { gate: gate || null }, 'Change gate'))}
        />
      )}
      <PathSettings row={row} />
      {effect.arrives ? (
        <FrontSettings row={row} />
      ) : (
        uses('pattern') && (
          <PatternMatte
            row={row}
            label="Displaced by"
            help="The slopes of this matte move the picture; a luma key of any clip gives one."
            undo="Choose matte"
          />
        )
      )}
      {uses('aim') && (
        <ChoiceField
          label="Aims at"
          value={aim?.track ?? ''}
          {...tracks('nothing')}
          onChange={(track) => edit(aimRow(id, track || null))}
        />
      )}
      {(uses('element') || uses('moment')) && (
        <ChoiceField
          label={uses('moment') ? 'Shows' : 'Draws'}
          value={row.clip ?? ''}
          help={uses('moment') ? 'The clip that stands here.' : 'Pictures of a clip, where its shape is drawn.'}
          of={['', ...ownClips(shot).map((c) => c.id)]}
          words={Object.fromEntries([['', 'no pictures'], ...ownClips(shot).map((c) => [c.id, c.name])])}
          onChange={(clip) => edit(changeRow(id, { clip: clip || null }, 'Choose pictures'))}
        />
      )}
      {(uses('matte') || uses('mattes')) && !effect.removes && (
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
            label="Under"
            help="What stays above it: a hand before a beam."
            value={row.under ?? ''}
            {...mattes('nothing')}
            onChange={(m) => edit(changeRow(id, { under: m || null }))}
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
      <ChoiceField
        label="Group"
        value={row.group ?? ''}
        of={['', ...Object.keys(shot.groups), '+']}
        words={Object.fromEntries([['', 'none'], ['+', 'a new one'], ...Object.values(shot.groups).map((g) => [g.id, g.name])])}
        onChange={(g) => {
          if (g !== '+') edit(joinGroup(id, g || null));
          else edit(groupRows([id], freshId(shot.groups, 'g')));
        }}
      />
      {row.group && shot.groups[row.group] && (
        <button
          type="button"
          className="btn btn-link btn-sm p-0 mb-1"
          onClick={() => set({ selection: { kind: 'group', id: row.group! } })}
        >
          Settings of {shot.groups[row.group]!.name}
        </button>
      )}
      <ParamFields params={effect.params} target={target} title={effect.title} between={time} />
    </>
  );
}
