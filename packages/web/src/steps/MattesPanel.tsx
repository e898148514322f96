import { ScanSearch, Spline, UserRound } from 'lucide-react';
import { Dropdown } from 'react-bootstrap';
import { matteSources, sourceKinds, type SourceKind } from '@wraithos/core/matte';
import { addMatte, clipWithRole, freshId, setSourceNamed, sourcesFor, together, usesOf } from '@wraithos/core/shot';
import { useParts } from '../state/shotStore';
import { take } from '../tools';
import { JobLine } from '../ui/JobLine';
import { Menu } from '../ui/Menu';
import { stopIsolating, useIsolating } from './isolate';

/** Mattes of the shot, and what they are used for. */
export function MattesPanel() {
  const { shot, selection, tool, set, edit } = useParts('shot', 'selection', 'tool', 'set', 'edit'),
    { state, error } = useIsolating();
  if (!shot) return null;
  const all = Object.values(shot.mattes),
    make = (kind: SourceKind | null) => {
      const id = freshId(shot.mattes, 'k'),
        source = kind && matteSources[kind],
        clip = source?.carriesOwn
          ? Object.values(shot.clips).find((c) => c.alpha || c.role === 'element')
          : clipWithRole(shot, 'performance'),
        other = source?.names && sourcesFor(shot, id, source.names)[0],
        picked = Object.entries(source?.params ?? {}).find(([, p]) => p.picked);
      const name = source?.names === 'row' && other ? `Matte of ${other.name}` : (source?.called ?? 'Outline'),
        add = addMatte({ id, name, source: kind, clip: clip?.id ?? null });
      edit(other ? together('Add matte', add, setSourceNamed(id, other.id)) : add);
      set({
        selection: { kind: 'matte', id },
        outline: null,
        matteView: 'overlay',
        // What is needed first is in the hand at once.
        ...(picked
          ? { tool: take('pick colour', { matte: id, source: 's1', param: picked[0] }) }
          : kind === null
            ? { tool: take('draw outline', { matte: id, mode: 'add', points: [] }) }
            : {}),
      });
    };
  return (
    <>
      <div className="pane-title">
        <span>Mattes</span>
        <Dropdown className="ms-auto">
          <Dropdown.Toggle as="button" className="btn btn-quiet btn-sm py-0">
            New matte
          </Dropdown.Toggle>
          <Menu>
            {sourceKinds.map((kind) => (
              <Dropdown.Item key={kind} onClick={() => make(kind)} title={matteSources[kind].summary}>
                {matteSources[kind].title}
              </Dropdown.Item>
            ))}
            <Dropdown.Item onClick={() => make(null)} title="Drawn outlines alone.">
              Outlines drawn by hand
            </Dropdown.Item>
          </Menu>
        </Dropdown>
      </div>
      {clipWithRole(shot, 'performance') && (
        <div className="px-3 py-1">
          {state ? (
            <JobLine label={state.words} done={state.done} total={state.total} onCancel={stopIsolating} />
          ) : (
            <div className="d-grid gap-1">
              <button
                type="button"
                className={`btn btn-sm ${tool?.kind === 'isolate' ? 'btn-quiet active' : all.length ? 'btn-quiet' : 'btn-primary'}`}
                title="One click on a character makes its matte through the whole shot, its traces, a track and its height"
                onClick={() => set({ tool: take('isolate', {}) })}
              >
                <UserRound size={14} className="me-1" />
                Isolate a body
              </button>
              <button
                type="button"
                className={`btn btn-sm btn-quiet ${tool?.kind === 'pick person' ? 'active' : ''}`}
                title="Finds a filmed person on every frame, without a clean plate: a rough matte that is laid on the edges of the picture. About half a second a frame where there is no graphics card."
                onClick={() => set({ tool: take('pick person', {}) })}
              >
                <ScanSearch size={14} className="me-1" />
                Find a person
              </button>
            </div>
          )}
          {error && (
            <div role="alert" className="bad mt-1">
              {error}
            </div>
          )}
        </div>
      )}
      {all.map((matte) => {
        const uses = usesOf(shot, 'matte', matte.id);
        return (
          <button
            key={matte.id}
            type="button"
            className={`list-item ${selection?.kind === 'matte' && selection.id === matte.id ? 'selected' : ''}`}
            onClick={() => set({ selection: { kind: 'matte', id: matte.id }, outline: null })}
          >
            <Spline size={15} className="flex-shrink-0" color="var(--heather)" />
            <span className="grow">
              <div>{matte.name}</div>
              <div className="quiet">
                {[...(matte.part ? [`part of ${shot.subjects[matte.part]!.name}`] : []), ...uses].join(', ') || 'not used yet'}
              </div>
            </span>
          </button>
        );
      })}
      {all.length === 0 && (
        <p className="quiet px-3 py-2">No mattes yet. With a clean plate, New matte, then Difference, isolates the character at once.</p>
      )}
    </>
  );
}
