import { Modal } from 'react-bootstrap';
import { steps } from '../steps';

const keys: [string, string][] = [
  ['Space', 'Play or pause'],
  ['← →', 'Previous or next frame'],
  ['Shift ← →', 'Ten frames'],
  ['Home, End', 'First and last frame'],
  ['Ctrl ← →', 'Previous or next cue'],
  ['G', 'Go to a frame or timecode'],
  ['W', 'Picture over the whole width, and back'],
  ['F', 'Picture over the whole screen, and back'],
  ['I, O', 'Play only from here, only up to here'],
  ['N', 'Mark this frame for yourself, or take the mark away'],
  ['C', 'Compare with the base, and back'],
  ['M', 'Measure: values, histogram, waveform'],
  ['Shift drag', 'While measuring: the mean of a box of the picture'],
  ['Q', 'Put a cue at this frame'],
  ['Ctrl Z', 'Undo'],
  ['Ctrl Shift Z', 'Redo'],
  ['Ctrl Shift D', 'Duplicate the selected effect'],
  ['Ctrl C', 'Copy the selected effect or group'],
  ['Ctrl V', 'Paste it, here or on another shot'],
  ['Delete', 'Remove what is selected; points of an outline first'],
  ['Double-click on an outline', 'Add a point; on a point: round it, or make it a corner'],
  ['Shift click a point', 'Select several points of an outline'],
  ['Esc', 'Leave a tool, then the selection'],
  ['Enter', 'Close the outline that is being drawn'],
  ['Backspace', 'Take the last point of it away'],
  ['Double-click in a curve', 'Add a point to it'],
  ['Wheel', 'Zoom at the pointer'],
  ['Space drag, middle drag', 'Move the picture'],
  ['Double-click', 'Fit the picture'],
  ['Drag a label', 'Change its number; Shift fine, Alt coarse'],
  ['?', 'This sheet'],
];
export function HelpDialog({ onClose }: { onClose(): void }) {
  return (
    <Modal show onHide={onClose} centered scrollable aria-label="Keys and the order of the work">
      <Modal.Header closeButton>
        <Modal.Title as="h2" className="fs-5">
          Keys and the order of the work
        </Modal.Title>
      </Modal.Header>
      <Modal.Body tabIndex={0}>
        <p>The steps, in their order:</p>
        <dl>
          {steps.map((step) => (
            <div key={step.id}>
              <dt>{step.title}</dt>
              <dd>{step.about}</dd>
            </div>
          ))}
        </dl>
        <table className="table table-sm">
          <tbody>
            {keys.map(([key, what]) => (
              <tr key={key}>
                <td className="num text-nowrap">{key}</td>
                <td>{what}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Modal.Body>
    </Modal>
  );
}
