import { Modal } from 'react-bootstrap';

const keys: [string, string][] = [
  ['Space', 'Play or stop'],
  ['← →', 'One frame back or on'],
  ['Shift ← →', 'Ten frames'],
  ['Home, End', 'First and last frame'],
  ['Q', 'Put a cue at this frame'],
  ['Ctrl Z', 'Undo'],
  ['Ctrl Shift Z', 'Redo'],
  ['Ctrl Shift D', 'Duplicate the selected effect'],
  ['Ctrl C', 'Copy the selected effect or group'],
  ['Ctrl V', 'Paste it, here or on another shot'],
  ['Delete', 'Remove what is selected'],
  ['Esc', 'Leave a tool, then the selection'],
  ['Enter', 'Close the outline that is being drawn'],
  ['Wheel', 'Zoom at the pointer'],
  ['Space drag, middle drag', 'Move the picture'],
  ['Double-click', 'Fit the picture'],
  ['Drag a label', 'Change its number; Shift fine, Alt coarse'],
  ['?', 'This sheet'],
];
export function HelpDialog({ onClose }: { onClose(): void }) {
  return (
    <Modal show onHide={onClose} centered scrollable>
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="fs-5">
          Keys and the order of the work
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>
          Plates: bring clips in and say which is the performance and which the clean plate. Motion: follow points. Mattes: isolate the
          character. Effects: hang effects on the tracks, in depth. Render: make the film.
        </p>
        <table className="table table-sm">
          <tbody>
            {keys.map(([key, what]) => (
              <tr key={key}>
                <td className="num" style={{ whiteSpace: 'nowrap' }}>
                  {key}
                </td>
                <td>{what}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Modal.Body>
    </Modal>
  );
}
