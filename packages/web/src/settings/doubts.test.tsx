import { act, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { correctedSamples, type TrackSample } from '@wraithos/core/motion';
import * as s from '@wraithos/core/shot';
import { aShot, fillIn, opens, shotNow, show } from '../testing/showing';
import { useDocument, useShot } from '../state/shotStore';
import { TrackDoubts } from './TrackDoubts';

fillIn();
const samples: TrackSample[] = Array.from({ length: 30 }, (_, f) => {
  const lost = f >= 10 && f < 14;
  return {
    ...{ frame: f, x: lost ? null : 100 + 2 * f + (f === 20 ? 9 : 0), y: lost ? null : 50, rotation: 0, scale: 1, confidence: 1 },
    state: lost ? 'lost' : 'good',
  };
});
const Shown = () => {
  const track = useDocument().tracks.t1!;
  return <TrackDoubts track={track} samples={correctedSamples(samples, track.corrections)} />;
};

test('doubtful frames are listed; a press goes there, and one that is filled in leaves the list until it is undone', async () => {
  opens(aShot(s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [100, 50], frame: 0 })));
  show(<Shown />);
  const list = () => screen.queryAllByRole('listitem').map((li) => li.textContent);
  expect(list()).toEqual(['1011 lost for 4 frames', '1021 jumps by 9.0 px']);
  await userEvent.click(screen.getByText('jumps by 9.0 px', { exact: false }));
  expect(useShot.getState().frame).toBe(1021);
  await userEvent.click(screen.getByLabelText('Fill in from its neighbours: 1011'));
  expect(Object.keys(shotNow().tracks.t1!.corrections)).toEqual(['10', '11', '12', '13']);
  expect(shotNow().tracks.t1!.corrections['11']).toEqual({ at: [expect.closeTo(122, 6), 50] });
  expect(list()).toEqual(['1021 jumps by 9.0 px']);
  await userEvent.click(screen.getByLabelText('Fill in from its neighbours: 1021'));
  expect(list()).toEqual([]);
  act(() => useShot.getState().undo());
  act(() => useShot.getState().undo());
  expect(list()).toHaveLength(2);
});
