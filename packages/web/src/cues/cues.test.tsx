import { act, fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import * as s from '@wraithos/core/shot';
import { useDocument, useShot } from '../state/shotStore';
import { aShot, fillIn, opens, shotNow, show } from '../testing/showing';
import { ClipLine } from './ClipLine';
import { CurveEditor, CurveList } from './Curves';
import { CueStrip } from './CueStrip';
import { RangeLine } from './RangeLine';
import { timeScale } from './scale';
import { steps } from '../steps';

fillIn();
/** 96 frames of 10 px. */
const x = timeScale(1001, 1096, 960);
const Line = ({ id }: { id: string }) => {
  const shot = useDocument(),
    row = shot.rows[id]!,
    [first, last] = s.rowRange(shot, row);
  return <RangeLine row={row} first={first} last={last} x={x} top={0} selected={false} />;
};
const Editor = ({ id }: { id: string }) => <CurveEditor row={useDocument().rows[id]!} x={x} width={960} />;
/** A drag, pixel by pixel far enough to count as one. */
function drag(el: Element, dx: number, dy = 0, letGo = true): void {
  fireEvent.pointerDown(el, { button: 0, clientX: 100, clientY: 50, pointerId: 1 });
  fireEvent.pointerMove(el, { clientX: 100 + dx, clientY: 50 + dy, pointerId: 1 });
  if (letGo) fireEvent.pointerUp(el, { clientX: 100 + dx, clientY: 50 + dy, pointerId: 1 });
}
const half = [s.changeRow('r1', { start: 1021, length: 30 })] as const;
const range = () => s.rowRange(shotNow(), shotNow().rows.r1!);

test('an effect is moved in time as a whole, and by each end', () => {
  opens(aShot(...half));
  show(<Line id="r1" />);
  const line = screen.getByLabelText('Range of Glow');
  expect(range()).toEqual([1021, 1050]);
  drag(line, 70);
  expect(range()).toEqual([1028, 1057]);
  drag(line.querySelector('.end.a')!, -30);
  expect(range()).toEqual([1025, 1057]);
  drag(line.querySelector('.end.b')!, -100);
  expect(range()).toEqual([1025, 1047]);
  expect(useShot.getState().selection).toEqual({ kind: 'row', id: 'r1' });
});
test('it snaps to a cue, is previewed before the hand lets go, and never gets shorter than a frame', () => {
  opens(aShot(...half, s.addCue('q1', 'Turn', 1061)));
  show(<Line id="r1" />);
  const line = screen.getByLabelText('Range of Glow');
  drag(line.querySelector('.end.b')!, 105, 0, false);
  expect(range()).toEqual([1021, 1050]);
  expect(s.rowRange(useShot.getState().live!, useShot.getState().live!.rows.r1!)).toEqual([1021, 1061]);
  fireEvent.pointerUp(line.querySelector('.end.b')!, { clientX: 205, clientY: 50, pointerId: 1 });
  expect(range()).toEqual([1021, 1061]);
  drag(line.querySelector('.end.a')!, 2000);
  expect(range()).toEqual([1061, 1061]);
});
test('a clip is placed as a whole, trimmed by its ends, and slipped with Alt', () => {
  const clip = () => shotNow().clips.c1!,
    of = () => [clip().start, clip().placed.values.trimStart, clip().placed.values.trimEnd],
    Clip = () => <ClipLine clip={useDocument().clips.c1!} x={x} top={0} />;
  opens();
  show(<Clip />);
  const line = screen.getByLabelText('Placement of walk');
  drag(line.querySelector('.end.a')!, 100);
  expect(of()).toEqual([1011, 10, 0]);
  drag(line.querySelector('.end.b')!, -200);
  expect(of()).toEqual([1011, 10, 20]);
  drag(line, 30);
  expect(of()).toEqual([1014, 10, 20]);
  fireEvent.pointerDown(line, { button: 0, clientX: 100, clientY: 50, pointerId: 1, altKey: true });
  fireEvent.pointerMove(line, { clientX: 150, clientY: 50, pointerId: 1 });
  fireEvent.pointerUp(line, { clientX: 150, clientY: 50, pointerId: 1 });
  // Dragged to the right, earlier frames come in.
  expect(of()).toEqual([1014, 5, 25]);
});
test('a click selects and moves nothing', () => {
  opens(aShot(...half));
  show(<Line id="r1" />);
  drag(screen.getByLabelText('Range of Glow'), 1);
  expect(range()).toEqual([1021, 1050]);
  expect(useShot.getState().done).toHaveLength(0);
  expect(useShot.getState().selection).toEqual({ kind: 'row', id: 'r1' });
});

const curved = s.setCurve('r1', 'strength', {
  points: [
    { frame: 0, value: 0, ease: 'linear' },
    { frame: 40, value: 100, ease: 'linear' },
  ],
});
const points = () => shotNow().rows.r1!.curves.strength!.points.map((p) => [p.frame, Math.round(p.value)]);

test('a double-click in a curve adds a point on it; its easing is chosen and it is removed again', async () => {
  opens(aShot(curved));
  show(<Editor id="r1" />);
  const area = screen.getByLabelText('Curves of Glow');
  fireEvent.doubleClick(area, { clientX: x(1021), clientY: 50 });
  expect(points()).toEqual([
    [0, 0],
    [20, 50],
    [40, 100],
  ]);
  await userEvent.selectOptions(screen.getByLabelText('Easing after this point'), 'hold');
  expect(shotNow().rows.r1!.curves.strength!.points[1]!.ease).toBe('hold');
  await userEvent.click(screen.getByText('Remove point'));
  expect(points()).toHaveLength(2);
});
test('a point of a curve is let move with a cue, stands where that one is put, and is dragged from there', async () => {
  opens(aShot(curved, s.addCue('q1', 'Turn', 1041)));
  show(<Editor id="r1" />);
  const { first } = s.drawnRows(shotNow()).of('r1')[0]!;
  drag(screen.getByLabelText(`Point at ${first + 40}`), 0);
  await userEvent.selectOptions(screen.getByLabelText('Moves with'), 'q1');
  expect(points()).toEqual([
    [0, 0],
    [first + 40 - 1041, 100],
  ]);
  act(() => useShot.getState().edit(s.moveCue('q1', 1031)));
  const there = screen.getByLabelText(`Point at ${first + 30}`);
  expect(there.textContent).toContain('moves with Turn');
  drag(there, x(1003) - x(1001));
  expect(points()[1]).toEqual([first + 32 - 1031, 100]);
  expect(s.drawnRows(shotNow()).of('r1')[0]!.curves.strength!.points[1]!.frame).toBe(32);
});
test('the curves of an effect are named with their values now and their units', () => {
  opens(aShot(curved));
  useShot.setState({ frame: 1011 });
  const List = () => <CurveList row={useDocument().rows.r1!} />;
  show(<List />);
  expect(screen.getByText('Strength').parentElement!.textContent).toMatch(/Strength25\.0 %/);
});

test('the playhead goes where the strip is pressed; a cue is dragged to another frame, a press on it goes there', () => {
  opens(aShot(s.addCue('q1', 'Turn', 1041)));
  const effects = steps.find((step) => step.id === 'effects')!;
  show(<CueStrip step={{ ...effects, Time: undefined, Beside: undefined }} />);
  const head = screen.getByRole('slider', { name: 'Playhead' });
  // The strip is 800 px wide until it is measured.
  const at = timeScale(1001, 1096, 800);
  fireEvent.pointerDown(head, { button: 0, clientX: at(1031), pointerId: 1 });
  expect(useShot.getState().frame).toBe(1031);
  fireEvent.pointerMove(head, { clientX: at(1035), pointerId: 1 });
  fireEvent.pointerUp(head, { pointerId: 1 });
  expect(useShot.getState().frame).toBe(1035);
  const flag = screen.getByRole('button', { name: 'Turn' });
  drag(flag, at(1051) - at(1041));
  expect(shotNow().cues.q1!.frame).toBe(1051);
  drag(flag, 0);
  expect(useShot.getState()).toMatchObject({ frame: 1051, selection: { kind: 'cue', id: 'q1' } });
  act(() => useShot.getState().undo());
  expect(shotNow().cues.q1!.frame).toBe(1041);
});
