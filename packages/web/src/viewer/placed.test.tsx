import { act, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import Konva from 'konva';
import type { ReactNode } from 'react';
import { Layer, Stage } from 'react-konva';
import * as s from '@wraithos/core/shot';
import { BaseSettings } from '../settings/BaseSettings';
import { useShot } from '../state/shotStore';
import { aShot, fillIn, opens, shotNow, show } from '../testing/showing';
import { GivenTracks } from '../workbench/tracks';
import { EffectOverlay } from './EffectOverlay';
import { ClipOverlay, SubjectOverlay } from './PlacedOverlay';

fillIn();
/** The picture at half its size, from (10, 20) on. */
const space = { zoom: 0.5, x: 10, y: 20 },
  at = (x: number, y: number) => [x * 0.5 + 10, y * 0.5 + 20] as const;
const over = (overlay: ReactNode) =>
  show(
    <Stage width={660} height={400}>
      <Layer>
        <GivenTracks value={new Map()}>{overlay}</GivenTracks>
      </Layer>
    </Stage>,
  );
const named = (name: string) => Konva.stages.at(-1)!.findOne(`.${name}`)!;
function drag(name: string, [x, y]: readonly [number, number], letGo = true): void {
  const node = named(name);
  act(() => {
    node.position({ x, y });
    node.fire('dragmove', { target: node }, true);
    if (letGo) node.fire('dragend', { target: node }, true);
  });
}
const element = (...more: s.Edit[]) =>
  aShot(
    s.addClip({ ...aShot().clips.c1!, name: 'smoke', role: 'element', width: 400, height: 200 }, 'c9'),
    s.addRow({ id: 'r9', effect: 'element', lane: 'front', subject: 's1' }),
    s.changeRow('r9', { clip: 'c9' }),
    ...more,
  );
const row = () => shotNow().rows.r9!;

test('an element is moved by its pivot, sized by a corner, turned above it and in space beside it', () => {
  opens(element());
  useShot.setState({ selection: { kind: 'row', id: 'r9' } });
  over(<EffectOverlay space={space} row={row()} />);
  // Its middle is that of the picture, 400 x 200 about it.
  expect(named('handle-place').position()).toEqual({ x: 330, y: 200 });
  drag('handle-corner-2', at(640 + 400, 360 + 200));
  expect(row().values.size).toBe(200);
  drag('handle-place', at(700, 300));
  expect(row().values.place).toEqual([60, -60]);
  // The knob that turns stands above; a quarter to the right.
  drag('handle-turn', at(700 + 300, 300));
  expect(row().values.turn).toBe(90);
  const space0 = named('handle-space').position();
  drag('handle-space', [space0.x + 40, space0.y - 20], false);
  expect(useShot.getState().live!.rows.r9!.values).toMatchObject({ swing: 20, tilt: 10 });
  expect(row().values).toMatchObject({ swing: 0, tilt: 0 });
});
test('a value that is a curve gets a point at this frame', () => {
  opens(element(s.setCurvePoint('r9', 'size', { frame: 0, value: 100, ease: 'smooth' })));
  useShot.setState({ frame: 1011 });
  over(<EffectOverlay space={space} row={row()} />);
  drag('handle-corner-2', at(640 + 100, 360 + 50));
  expect(row().curves.size!.points.map((p) => [p.frame, p.value])).toEqual([
    [0, 100],
    [10, 50],
  ]);
});
test('a clip is moved in its picture; a clean plate has no handles of its own', () => {
  opens();
  useShot.setState({ selection: { kind: 'clip', id: 'c1' } });
  over(<ClipOverlay space={space} />);
  drag('handle-place', at(660, 340));
  expect(shotNow().clips.c1!.placed.values.place).toEqual([20, -20]);
  act(() => useShot.setState({ selection: { kind: 'clip', id: 'c2' } }));
  expect(Konva.stages.at(-1)!.findOne('.handle-place')).toBeUndefined();
});
test('a detached subject is shifted by its pivot, from where it was filmed', () => {
  opens(aShot(s.changeSubject('s1', { detached: true, pixels: 400 }), s.setPlaced({ kind: 'subject', id: 's1' }, 'pivot', [50, 200])));
  useShot.setState({ selection: { kind: 'subject', id: 's1' } });
  over(<SubjectOverlay space={space} />);
  const [x, y] = at(640 + 50, 360 + 200);
  expect(named('handle-place').position()).toEqual({ x, y });
  drag('handle-place', at(640 + 80, 360 + 150));
  expect(shotNow().subjects.s1!.placed.values.shift).toEqual([30, -50]);
});

test('the base: a take comes in at the playhead, with a transition; a background stands behind', async () => {
  const user = userEvent.setup();
  opens(element());
  useShot.setState({ frame: 1040 });
  show(<BaseSettings />);
  await user.click(screen.getByText('Add a take at this frame'));
  expect(shotNow().base.takes.map((t) => [t.clip, t.start])).toEqual([
    ['c1', 1001],
    ['c9', 1040],
  ]);
  await user.selectOptions(screen.getByLabelText('Transition'), 'crossfade');
  expect(shotNow().base.takes[1]!.values.transition).toBe('crossfade');
  expect(screen.getByLabelText('Easing')).toBeTruthy();
  await user.selectOptions(screen.getByLabelText('Transition'), 'led by a matte');
  await user.selectOptions(screen.getByLabelText('Led by'), 'k1');
  expect(shotNow().base.takes[1]!.matte).toBe('k1');
  await user.selectOptions(screen.getByLabelText('Behind it'), 'colour');
  expect(shotNow().base.ground.values.ground).toBe('colour');
  await user.click(screen.getByLabelText('Remove take 1'));
  expect(shotNow().base.takes.map((t) => t.clip)).toEqual(['c9']);
});
