import { act, fireEvent, screen } from '@testing-library/react';
import * as s from '@wraithos/core/shot';
import { useShot } from '../state/shotStore';
import { plates } from '../steps/plates';
import { aShot, fillIn, opens, show, shotNow } from '../testing/showing';
import { BaseSettings } from './BaseSettings';
import { ClipSettings } from './ClipSettings';

fillIn();
const other: s.NewClip = {
  ...{ name: 'walk two', role: 'element', media: { path: 'two' }, width: 1280, height: 720, frames: 48, rate: { num: 24, den: 1 } },
  ...{ alpha: false, bits: 8, transfer: 'srgb', start: 1001 },
};
const choose = (label: string, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } });

describe('a clip is split', () => {
  test('before the frame at the playhead; the new part is selected, says whose it is, and has no role of its own', () => {
    opens(aShot());
    useShot.setState({ frame: 1031, selection: { kind: 'clip', id: 'c1' } });
    const { rerender } = show(<ClipSettings id="c1" />);
    fireEvent.click(screen.getByRole('button', { name: 'Split at frame 1031' }));
    const part = shotNow().clips.c3!;
    expect(part).toMatchObject({ continues: 'c1', start: 1031, name: 'walk 2' });
    expect(useShot.getState().selection).toEqual({ kind: 'clip', id: 'c3' });
    rerender(<ClipSettings id="c3" />);
    expect(screen.getByText(/A later part of walk/)).toBeTruthy();
    expect(screen.queryByLabelText('Role')).toBeNull();
    expect(screen.queryByLabelText('Transfer curve')).toBeNull();
  });
  test('where it cannot be, the button says why', () => {
    opens(aShot());
    show(<ClipSettings id="c1" />);
    const button = screen.getByRole('button', { name: 'Split at frame 1001' });
    expect((button as HTMLButtonElement).disabled).toBe(true);
    expect(button.title).toMatch(/between 1002 and 1096/);
  });
});

test('an onion skin lays another take over the selected clip, and only there', () => {
  opens(aShot(s.addClip(other, 'c3')));
  useShot.setState({ skin: null, selection: { kind: 'clip', id: 'c3' } });
  show(<ClipSettings id="c3" />);
  choose('Onion skin', 'difference');
  const view = () => plates.view(useShot.getState());
  expect(view()).toMatchObject({ plain: 'c3', skin: { clip: 'c1', how: 'difference' } });
  act(() => useShot.setState({ selection: null }));
  expect(view().skin).toBeNull();
  act(() => useShot.setState({ selection: { kind: 'clip', id: 'c1' } }));
  expect(view().skin).toBeNull();
  act(() => useShot.setState({ selection: { kind: 'clip', id: 'c3' } }));
  choose('Onion skin', 'off');
  expect(view().skin).toBeNull();
});

test('a take is led by an effect: one that has a front, and then it needs no frame of its own', () => {
  opens(
    aShot(
      s.addClip(other, 'c3'),
      s.addRow({ id: 'r3', effect: 'ring', lane: 'front', subject: 's1', start: 1040, length: 20 }),
      s.addTake('b2', 'c3', 1050),
    ),
  );
  show(<BaseSettings />);
  expect(screen.getByLabelText('At frame')).toBeTruthy();
  choose('Transition', 'led by an effect');
  const led = screen.getByLabelText('Led by');
  expect([...(led as HTMLSelectElement).options].map((o) => o.text)).toEqual(['choose an effect', 'Ring']);
  choose('Led by', 'r3');
  expect(s.takeStart(shotNow(), shotNow().base.takes[1]!)).toBe(1040);
  expect(screen.queryByLabelText('At frame')).toBeNull();
});

test('effects look filmed as the base says: with grain of the plate and soft edges, until somebody wants it otherwise', () => {
  opens(aShot());
  show(<BaseSettings />);
  expect(shotNow().base.match).toEqual({ grain: 100, edges: 'as soft as the plate' });
  choose('Edges', 'as they are drawn');
  const grain = screen.getByLabelText('Grain');
  fireEvent.change(grain, { target: { value: '40' } });
  fireEvent.blur(grain);
  expect(shotNow().base.match).toEqual({ grain: 40, edges: 'as they are drawn' });
  act(() => useShot.getState().undo());
  expect(shotNow().base.match).toMatchObject({ grain: 100, edges: 'as they are drawn' });
});
