import { EllipsisVertical } from 'lucide-react';
import { Dropdown } from 'react-bootstrap';
import { refinementKinds, refinements, type StoredRefinement } from '@wraithos/core/matte';
import { addRefinement, changeRefinement, moveRefinement, removeRefinement, type Matte } from '@wraithos/core/shot';
import { useParts } from '../state/shotStore';
import { Menu } from '../ui/Menu';
import { FieldScope } from './fields';
import { ParamFields, plainTarget } from './ParamFields';

/** The refinements of a matte, in the order in which they are applied. */
export function MatteRefinements({ matte }: { matte: Matte }) {
  const { edit } = useParts('edit');
  return (
    <section aria-label="Refine">
      <div className="section-head">
        <h3 className="flex-grow-1">Refine</h3>
        <Dropdown>
          <Dropdown.Toggle as="button" className="btn btn-quiet btn-sm py-0">
            Add
          </Dropdown.Toggle>
          <Menu>
            {refinementKinds.map((kind) => (
              <Dropdown.Item key={kind} title={refinements[kind].summary} onClick={() => edit(addRefinement(matte.id, kind))}>
                {refinements[kind].title}
              </Dropdown.Item>
            ))}
          </Menu>
        </Dropdown>
      </div>
      {matte.refine.map((one, i) => (
        <FieldScope.Provider key={one.id} value={`${one.id} `}>
          <Refine matte={matte.id} one={one} first={i === 0} last={i === matte.refine.length - 1} />
        </FieldScope.Provider>
      ))}
    </section>
  );
}

function Refine({ matte, one, first, last }: { matte: string; one: StoredRefinement; first: boolean; last: boolean }) {
  const { edit } = useParts('edit'),
    { title, params, summary } = refinements[one.kind],
    // A single value is its own title.
    single = Object.keys(params).length === 1,
    fields = (
      <ParamFields
        params={params}
        title=""
        target={plainTarget(params, one, (name, value) => changeRefinement(matte, one.id, { [name]: value }))}
      />
    );
  return (
    <div className={`refinement ${one.muted ? 'muted' : ''}`}>
      <div className="d-flex align-items-center">
        {single ? (
          <div className="flex-grow-1">{fields}</div>
        ) : (
          <span className="flex-grow-1" title={summary}>
            {title}
          </span>
        )}
        <Dropdown align="end">
          <Dropdown.Toggle as="button" className="btn btn-quiet btn-sm icon-only" aria-label={`More of ${title}`}>
            <EllipsisVertical size={13} />
          </Dropdown.Toggle>
          <Menu>
            <Dropdown.Item onClick={() => edit(changeRefinement(matte, one.id, { muted: !one.muted }))}>
              {one.muted ? 'Let it count' : 'Mute'}
            </Dropdown.Item>
            <Dropdown.Item disabled={first} onClick={() => edit(moveRefinement(matte, one.id, -1))}>
              Move up
            </Dropdown.Item>
            <Dropdown.Item disabled={last} onClick={() => edit(moveRefinement(matte, one.id, 1))}>
              Move down
            </Dropdown.Item>
            <Dropdown.Item onClick={() => edit(removeRefinement(matte, one.id))}>Remove</Dropdown.Item>
          </Menu>
        </Dropdown>
      </div>
      {!single && fields}
    </div>
  );
}
