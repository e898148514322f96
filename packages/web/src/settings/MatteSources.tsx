import { ArrowDown, ArrowUp, Eye, EyeOff, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { matteModes, matteSources, sourceKinds, type MatteMode, type SourceKind } from '@wraithos/core/matte';
import {
  addSource,
  changeSource,
  clipWithRole,
  freshId,
  moveSource,
  ownClips,
  removeSource,
  setSourceClip,
  setSourceKind,
  setSourceNamed,
  setSourceValues,
  sourcesFor,
  type Matte,
  type MatteSourceEntry,
} from '@wraithos/core/shot';
import { BuildPlate } from '../plates/BuildPlate';
import { useDocument, useParts } from '../state/shotStore';
import { stateOf, take } from '../tools';
import { IconButton } from '../ui/IconButton';
import { Menu } from '../ui/Menu';
import { ChoiceField, FieldScope } from './fields';
import { modeWords } from './matteWords';
import { ParamFields, plainTarget } from './ParamFields';
import { SoloButton } from './SoloButton';

const called = Object.fromEntries(sourceKinds.map((kind) => [kind, matteSources[kind].called])) as Record<SourceKind, string>;

/** The sources of a matte in their order; the selected one shows its settings. */
export function MatteSources({ matte }: { matte: Matte }) {
  const shot = useDocument(),
    { edit, set } = useParts('edit', 'set'),
    [chosen, choose] = useState<string | null>(null),
    { sources } = matte,
    open = sources.find((one) => one.id === chosen)?.id ?? sources[0]?.id,
    nameOf = ({ source }: MatteSourceEntry) =>
      (source.kind === 'matte' && source.matte && shot.mattes[source.matte]?.name) ||
      (source.kind === 'row' && source.row && shot.rows[source.row]?.name) ||
      matteSources[source.kind].called;
  return (
    <section aria-label="Sources">
      <div className="section-head">
        <h3 className="flex-grow-1">Sources</h3>
        <Dropdown>
          <Dropdown.Toggle as="button" className="btn btn-quiet btn-sm py-0">
            Add a source
          </Dropdown.Toggle>
          <Menu>
            {sourceKinds.map((kind) => (
              <Dropdown.Item
                key={kind}
                title={matteSources[kind].summary}
                onClick={() => {
                  const ready = matteSources[kind].carriesOwn ? ownClips(shot).find((c) => c.alpha || c.role === 'element') : undefined,
                    { names } = matteSources[kind],
                    other = names && sourcesFor(shot, matte.id, names)[0];
                  edit(addSource(matte.id, kind, 'add', other?.id ?? null, ready?.id ?? null));
                  const id = freshId(sources, 's'),
                    picked = Object.entries(matteSources[kind].params).find(([, p]) => p.picked);
                  choose(id);
                  if (picked) set({ tool: take('pick colour', { matte: matte.id, source: id, param: picked[0] }) });
                }}
              >
                {matteSources[kind].title}
              </Dropdown.Item>
            ))}
          </Menu>
        </Dropdown>
      </div>
      {sources.map((entry, i) => (
        <FieldScope.Provider key={entry.id} value={`${entry.id} `}>
          <div className={`outline-entry ${entry.id === open ? 'selected' : ''} ${entry.muted ? 'muted' : ''}`}>
            <div className="d-flex align-items-center">
              <button
                type="button"
                className="btn btn-link btn-sm p-0 flex-grow-1 text-start plain text-truncate"
                onClick={() => choose(entry.id)}
              >
                {nameOf(entry)} <span className="quiet">{modeWords[entry.mode].toLowerCase()}</span>
              </button>
              {sources.length > 1 && (
                <>
                  <IconButton small label="Move up" disabled={i === 0} onClick={() => edit(moveSource(matte.id, entry.id, -1))}>
                    <ArrowUp size={13} />
                  </IconButton>
                  <IconButton
                    small
                    label="Move down"
                    disabled={i === sources.length - 1}
                    onClick={() => edit(moveSource(matte.id, entry.id, 1))}
                  >
                    <ArrowDown size={13} />
                  </IconButton>
                </>
              )}
              <SoloButton
                on={entry.solo}
                name={nameOf(entry)}
                onClick={() => edit(changeSource(matte.id, entry.id, { solo: !entry.solo }))}
              />
              <IconButton
                small
                label={entry.muted ? `Let ${nameOf(entry)} count` : `Mute ${nameOf(entry)}`}
                onClick={() => edit(changeSource(matte.id, entry.id, { muted: !entry.muted }))}
              >
                {entry.muted ? <EyeOff size={13} /> : <Eye size={13} />}
              </IconButton>
              <IconButton small label={`Remove ${nameOf(entry)}`} onClick={() => edit(removeSource(matte.id, entry.id))}>
                <Trash2 size={13} />
              </IconButton>
            </div>
            {entry.id === open && <OneSource matte={matte} entry={entry} />}
          </div>
        </FieldScope.Provider>
      ))}
    </section>
  );
}

function OneSource({ matte, entry }: { matte: Matte; entry: MatteSourceEntry }) {
  const shot = useDocument(),
    { edit, set, tool } = useParts('edit', 'set', 'tool'),
    { id, source } = entry,
    definition = matteSources[source.kind],
    picking = stateOf(tool, 'pick colour'),
    named = source.kind === 'matte' ? source.matte : source.kind === 'row' ? source.row : null,
    others = definition.names ? sourcesFor(shot, matte.id, definition.names) : [];
  return (
    <>
      <ChoiceField
        label="Made from"
        value={source.kind}
        of={sourceKinds}
        words={called}
        help={definition.summary}
        onChange={(kind) => edit(setSourceKind(matte.id, kind, id))}
      />
      <ChoiceField
        label="Mode"
        value={entry.mode}
        of={matteModes}
        words={modeWords}
        help="Sources count from the first to the last, then the outlines."
        onChange={(mode: MatteMode) => edit(changeSource(matte.id, id, { mode }))}
      />
      {definition.names && (
        <ChoiceField
          label={definition.names === 'matte' ? 'Matte' : 'Effect'}
          value={named ?? ''}
          of={['', ...others.map((m) => m.id)]}
          words={Object.fromEntries([['', 'none'], ...others.map((m) => [m.id, m.name])])}
          help={`${definition.names === 'matte' ? 'Mattes that are made of this one' : 'Effects that need this matte'} are not offered.`}
          onChange={(other) => edit(setSourceNamed(matte.id, other || null, id))}
        />
      )}
      {definition.inputs.includes('plate') && (
        <ChoiceField
          label="Clip"
          value={source.clip ?? ''}
          of={['', ...ownClips(shot).map((c) => c.id)]}
          words={Object.fromEntries([['', 'as the matte'], ...ownClips(shot).map((c) => [c.id, c.name])])}
          onChange={(clip) => edit(setSourceClip(matte.id, clip || null, id))}
        />
      )}
      {definition.inputs.includes('clean') && !clipWithRole(shot, 'clean') && (
        <div className="why">
          There is no clean plate. Build one from the performance, or bring one in on Plates.
          <BuildPlate />
        </div>
      )}
      <ParamFields
        params={definition.params}
        title=""
        target={plainTarget(definition.params, source, (name, value) => setSourceValues(matte.id, { [name]: value }, id), {
          picking: picking && picking.source === id ? picking.param : null,
          start: (name) => set({ tool: take('pick colour', { matte: matte.id, source: id, param: name }) }),
        })}
      />
    </>
  );
}
