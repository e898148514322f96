import { Spline } from 'lucide-react';
import { Dropdown } from 'react-bootstrap';
import { addMatte, clipWithRole, freshId, usesOf, type Matte } from '@wraithos/core/shot';
import { useShot } from '../state/shotStore';

const names: Record<Matte['source'], string> = {
  difference: 'Difference',
  outlines: 'Outline',
  clip: 'Clip matte',
  'colour area': 'Colour',
};

/** Mattes of the shot, and what they are used for. */
export function MattesPanel() {
  const { shot, selection, set, edit } = useShot();
  if (!shot) return null;
  const all = Object.values(shot.mattes),
    make = (source: Matte['source']) => {
      const id = freshId(shot.mattes, 'k'),
        clip =
          source === 'clip'
            ? (Object.values(shot.clips).find((c) => c.alpha || c.role === 'element')?.id ?? null)
            : (clipWithRole(shot, 'performance')?.id ?? null);
      edit(addMatte({ id, name: names[source], source, clip }));
      set({
        selection: { kind: 'matte', id },
        outline: null,
        matteView: 'overlay',
        ...(source === 'colour area' ? { tool: { kind: 'pick colour', matte: id } } : {}),
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
          <Dropdown.Menu>
            <Dropdown.Item onClick={() => make('difference')}>Difference from the clean plate</Dropdown.Item>
            <Dropdown.Item onClick={() => make('outlines')}>Outlines drawn by hand</Dropdown.Item>
            <Dropdown.Item onClick={() => make('clip')}>A clip's own matte</Dropdown.Item>
            <Dropdown.Item onClick={() => make('colour area')}>A flat colour of a drawing</Dropdown.Item>
          </Dropdown.Menu>
        </Dropdown>
      </div>
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
              <div className="quiet">{uses.length ? uses.join(', ') : 'not used yet'}</div>
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
