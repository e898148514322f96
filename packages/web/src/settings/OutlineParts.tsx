import { Combine, Scissors, Spline } from 'lucide-react';
import { Dropdown } from 'react-bootstrap';
import { brokenKeys, simplifiedKeys } from '@wraithos/core/matte';
import { breakOutline, joinOutlines, simplifyOutline, type Matte, type Outline } from '@wraithos/core/shot';
import { useOutlinePoints } from '../state/outlinePoints';
import { useParts } from '../state/shotStore';
import { Menu } from '../ui/Menu';

/** How far the line of an outline may move where it is made simpler, pixels. */
const OFF = 1;

/** Makes an outline simpler, breaks it in two at its selected points, or joins another one to it. */
export function OutlineParts({ matte, outline }: { matte: Matte; outline: Outline }) {
  const { edit, set } = useParts('edit', 'set'),
    { points } = useOutlinePoints(),
    others = matte.outlines.filter((o) => o.id !== outline.id && o.mount === outline.mount && o.mountFrame === outline.mountFrame),
    [first, second] = points,
    breaks = points.length === 2 && brokenKeys(outline.keys, first!, second!) !== null,
    simplify = () => {
      const left = simplifiedKeys(outline.keys, OFF)[0]!.vertices.length,
        all = outline.keys[0]!.vertices.length;
      if (left < all) edit(simplifyOutline(matte.id, outline.id, OFF));
      useOutlinePoints.setState({ points: [] });
      set({
        notice:
          left < all ? `${all - left} of ${all} points went; the line moved by less than ${OFF} px.` : 'Every point is needed: none went.',
      });
    };
  return (
    <div className="d-flex flex-wrap gap-1 mb-1">
      <button
        type="button"
        className="btn btn-quiet btn-sm"
        title={`Takes points away that move the line by less than ${OFF} px on every key`}
        onClick={simplify}
      >
        <Spline size={12} className="me-1" />
        Simplify
      </button>
      <button
        type="button"
        className="btn btn-quiet btn-sm"
        disabled={!breaks}
        title="Select two points that are not neighbours: the outline becomes two along the line between them"
        onClick={() => {
          edit(breakOutline(matte.id, outline.id, first!, second!));
          useOutlinePoints.setState({ points: [] });
        }}
      >
        <Scissors size={12} className="me-1" />
        Break
      </button>
      {others.length > 0 && (
        <Dropdown>
          <Dropdown.Toggle as="button" className="btn btn-quiet btn-sm">
            <Combine size={12} className="me-1" />
            Join
          </Dropdown.Toggle>
          <Menu>
            {others.map((o) => (
              <Dropdown.Item key={o.id} onClick={() => edit(joinOutlines(matte.id, outline.id, o.id))}>
                {o.name}
              </Dropdown.Item>
            ))}
          </Menu>
        </Dropdown>
      )}
    </div>
  );
}
