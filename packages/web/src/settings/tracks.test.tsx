import { act, cleanup, fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { TrackSample } from '@wraithos/core/motion';
import * as s from '@wraithos/core/shot';
import { TrackTime, TrackTimeChoice } from '../cues/TrackTime';
import { timeScale } from '../cues/scale';
import { useShot } from '../state/shotStore';
import { MotionPanel } from '../steps/MotionPanel';
import { aShot, fillIn, opens, shotNow, show } from '../testing/showing';
import { GivenTracks } from '../workbench/tracks';
import { EffectSettings } from './EffectSettings';
import { TrackSettings } from './TrackSettings';

fillIn();
const samples: TrackSample[] = Array.from({ length: 96 }, (_, f) => ({
    ...{ frame: f, x: 300 + 2 * f, y: 200 + 10 * Math.sin(f / 5), rotation: 0, scale: 1, confidence: 0.9 },
    state: f === 40 ? 'weak' : 'good',
  })),
  selects = (id: string) => act(() => useShot.setState({ selection: { kind: 'track', id } }));
const inTracks = (what: React.ReactElement) => <GivenTracks value={new Map([['t1', samples]])}>{what}</GivenTracks>;

test('a hand key is typed: place, turn and growth on the frame of the playhead', () => {
  opens(aShot(s.addTrack({ id: 't2', name: 'Ghost', clip: 'c1', at: [100, 80], frame: 0, kind: 'hand' })));
  useShot.setState({ frame: 1005 });
  show(inTracks(<TrackSettings id="t2" />));
  const type = (label: string, value: string) => {
    const field = screen.getByLabelText(label);
    fireEvent.change(field, { target: { value } });
    fireEvent.keyDown(field, { key: 'Enter' });
    fireEvent.blur(field);
  };
  type('Turn', '30');
  type('Growth', '150');
  expect(shotNow().tracks.t2!.corrections).toEqual({ 4: { at: [100, 80], turn: 30, growth: 1.5 } });
  fireEvent.click(screen.getByText('Remove the key'));
  expect(shotNow().tracks.t2!.corrections).toEqual({});
});

test('a track of several is made of what is chosen; one of its kind is not offered, so nothing goes round', async () => {
  opens(
    aShot(
      s.addTrack({ id: 't2', name: 'Both', clip: 'c1', at: [0, 0], frame: 0, kind: 'several' }),
      s.addTrack({ id: 't3', name: 'All', clip: 'c1', at: [0, 0], frame: 0, kind: 'several' }),
    ),
  );
  show(inTracks(<TrackSettings id="t2" />));
  await userEvent.click(screen.getByLabelText('Lantern'));
  expect(shotNow().tracks.t2).toMatchObject({ tracks: [{ track: 't1' }] });
  expect(screen.queryByLabelText('All')).toBeNull();
  await userEvent.click(screen.getByLabelText('Lantern'));
  expect(shotNow().tracks.t2).toMatchObject({ tracks: [] });
});

test('a gate takes the selected track and the frame of the playhead; it cannot be compared before that is tracked', async () => {
  opens();
  useShot.setState({ frame: 1030, selection: { kind: 'track', id: 't1' } });
  show(inTracks(<MotionPanel />));
  await userEvent.click(screen.getByText('Add track'));
  await userEvent.click(await screen.findByText('Gate'));
  const gate = Object.values(shotNow().tracks).find((t) => t.kind === 'gate')!;
  expect(gate).toMatchObject({ pair: 't1', frame: 29 });
  show(inTracks(<TrackSettings id={gate.id} />));
  expect(screen.getByText('Compare all frames')).toHaveProperty('disabled', true);
  act(() => useShot.getState().edit(s.storeSamples({ t1: 'a'.repeat(64) })));
  expect(screen.getByText('Compare all frames')).toHaveProperty('disabled', false);
});

test('an effect says how it is carried, and that is read without opening it; a gate is chosen where there is one', async () => {
  opens(aShot(s.addTrack({ id: 't2', name: 'Eye open', clip: 'c1', at: [0, 0], frame: 0, kind: 'gate' })));
  useShot.setState({ selection: { kind: 'row', id: 'r1' } });
  show(inTracks(<EffectSettings id="r1" />));
  await userEvent.click(screen.getByText('How it is carried'));
  await userEvent.selectOptions(screen.getByLabelText('While lost'), 'goes on');
  const mount = () => shotNow().mounts[shotNow().rows.r1!.mount!]!;
  expect(mount()).toMatchObject({ track: 't1', lost: 'goes on', trails: 0 });
  expect(screen.getByText('Carried: goes on')).toBeTruthy();
  act(() => useShot.setState({ frame: 1050 }));
  await userEvent.selectOptions(screen.getByLabelText('In time'), 'stays as at a frame');
  expect(mount()).toMatchObject({ time: 'stays as at a frame', heldAt: 1050 });
  await userEvent.selectOptions(screen.getByLabelText('Gate'), 't2');
  expect(shotNow().rows.r1!.gate).toBe('t2');
  act(() => useShot.getState().undo());
  expect(shotNow().rows.r1!.gate).toBeNull();
});

test('the curves of a track stand under the filmstrip: what counts, and faintly what was measured', async () => {
  opens(aShot(s.setTrackValues('t1', { smoothing: 50 }), s.correctTrack('t1', 20, { at: [500, 300] })));
  selects('t1');
  show(
    inTracks(
      <>
        <TrackTimeChoice />
        <TrackTime x={timeScale(1001, 1096, 960)} width={960} />
      </>,
    ),
  );
  expect(screen.getByLabelText('Confidence of Lantern')).toBeTruthy();
  await userEvent.selectOptions(screen.getByLabelText('Shown of the selected track'), 'place');
  const svg = screen.getByLabelText('Curves of Lantern');
  expect([...svg.querySelectorAll('text')].map((t) => t.textContent)).toEqual(['x 300.0 px', 'y 200.0 px']);
  expect(svg.querySelectorAll('path')).toHaveLength(4);
  fireEvent.click(svg.querySelector('circle')!);
  expect(useShot.getState().frame).toBe(1021);
  await userEvent.selectOptions(screen.getByLabelText('Shown of the selected track'), 'confidence');
});

test('what hangs on a track is listed with it', () => {
  opens();
  show(inTracks(<TrackSettings id="t1" />));
  expect(screen.getByLabelText('Used by').textContent).toBe('Glow');
  act(() => useShot.getState().edit(s.hangRow('r1', null)));
  expect(screen.getByLabelText('Used by').textContent).toBe('nothing hangs on it yet');
});

test('samples are copied from one track to another', async () => {
  localStorage.clear();
  opens(aShot(s.addTrack({ id: 't2', name: 'Hem', clip: 'c1', at: [9, 9], frame: 0 })));
  show(inTracks(<TrackSettings id="t1" />));
  await userEvent.click(screen.getByText('Samples'));
  await userEvent.click(await screen.findByText('Copy'));
  expect(useShot.getState().notice).toBe('96 frames of Lantern copied.');
  show(inTracks(<TrackSettings id="t2" />));
  await userEvent.click(screen.getAllByText('Samples').at(-1)!);
  expect((await screen.findAllByText('Paste those of Lantern')).length).toBeGreaterThan(0);
});

test('a track on a matte takes the subject of the clip, says that it is not measured yet, and wants a matte', async () => {
  opens();
  show(inTracks(<MotionPanel />));
  await userEvent.click(screen.getByText('Add track'));
  await userEvent.click(await screen.findByText('Matte'));
  const track = Object.values(shotNow().tracks).find((t) => t.kind === 'matte')!;
  expect(track).toMatchObject({ matte: 'k1' });
  expect(screen.getByText(/not measured yet/)).toBeTruthy();
  show(inTracks(<TrackSettings id={track.id} />));
  expect(screen.getByText('Measure on all frames')).toHaveProperty('disabled', false);
  fireEvent.change(screen.getByLabelText('Matte'), { target: { value: '' } });
  expect(shotNow().tracks[track.id]).toMatchObject({ matte: null });
  expect(screen.getByText('Measure on all frames')).toHaveProperty('disabled', true);
});

test('a part of a face is found with its face; lids are chosen as the gate of an effect, and grey where they are shut', async () => {
  opens(
    aShot(
      s.addTrack({ id: 't2', name: 'Ilse', clip: 'c1', at: [600, 300], frame: 0, kind: 'face' }),
      s.addTrack({ id: 't3', name: 'Left eye', clip: 'c1', at: [640, 290], frame: 0, kind: 'face part' }),
      s.addTrack({ id: 't4', name: 'Lids', clip: 'c1', at: [640, 290], frame: 0, kind: 'lids' }),
      s.pairTrack('t4', 't3'),
    ),
  );
  show(inTracks(<TrackSettings id="t2" />));
  expect(screen.getByText('Find the face on all frames')).toHaveProperty('disabled', false);
  expect(screen.getByText(/become tracks of their own/)).toBeTruthy();
  // Its face is not chosen yet.
  cleanup();
  show(inTracks(<TrackSettings id="t4" />));
  expect(screen.getByText('Find the face on all frames')).toHaveProperty('disabled', true);
  act(() => useShot.getState().edit(s.pairTrack('t3', 't2')));
  expect(screen.getByText('Find the face on all frames')).toHaveProperty('disabled', false);
  expect(screen.getByLabelText('Eye')).toHaveProperty('value', 't3');
  cleanup();
  useShot.setState({ selection: { kind: 'row', id: 'r1' } });
  show(inTracks(<EffectSettings id="r1" />));
  const gate = screen.getByLabelText('Gate');
  expect([...gate.querySelectorAll('option')].map((o) => o.textContent)).toEqual(['none', 'Lids']);
  const open: TrackSample[] = samples.map((sample) => ({ ...sample, state: 'good', confidence: sample.frame < 20 ? 1 : 0.2 }));
  cleanup();
  useShot.setState({ selection: { kind: 'track', id: 't4' } });
  show(
    <GivenTracks value={new Map([['t4', open]])}>
      <TrackTimeChoice />
      <TrackTime x={timeScale(1001, 1096, 960)} width={960} />
    </GivenTracks>,
  );
  await userEvent.selectOptions(screen.getByLabelText('Shown of the selected track'), 'confidence');
  const bars = [...screen.getByLabelText('How far it is open of Lids').querySelectorAll('rect')];
  expect(bars.slice(0, 20).every((bar) => bar.getAttribute('fill') === '#6fc7b0')).toBe(true);
  expect(bars.slice(20).every((bar) => bar.getAttribute('fill') === '#5b6064')).toBe(true);
});
