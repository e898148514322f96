import { act } from '@testing-library/react';
import Konva from 'konva';
import type { ReactNode } from 'react';
import { Layer, Stage } from 'react-konva';
import type { TrackSample } from '@wraithos/core/motion';
import { corner, shapeAt } from '@wraithos/core/matte';
import * as s from '@wraithos/core/shot';
import { useOutlinePoints } from '../state/outlinePoints';
import { useShot } from '../state/shotStore';
import { aShot, fillIn, opens, shotNow, show } from '../testing/showing';
import { stateOf, take, tools } from '../tools';
import { GivenTracks } from '../workbench/tracks';
import { EffectOverlay } from './EffectOverlay';
import { OutlineOverlay } from './OutlineOverlay';
import { TrackOverlay } from './TrackOverlay';

fillIn();
const space = { zoom: 0.5, x: 10, y: 20 };
const sample = (frame: number, x: number, y: number): TrackSample => ({
  frame,
  x,
  y,
  rotation: 0,
  scale: 1,
  confidence: frame === 5 ? 0.3 : 1,
  state: frame === 5 ? 'weak' : 'good',
});
/** The lantern moves by 4 px to the right in each frame; from frame 10 on its hook lies below it rather than at its right: a turn by 90 degrees. */
const lantern = Array.from({ length: 20 }, (_, frame) => sample(frame, 640 + 4 * frame, 360)),
  hook = lantern.map(({ frame, x, y }) => (frame < 10 ? sample(frame, x! + 100, y!) : sample(frame, x!, y! + 100)));
const turning = [
  s.addTrack({ id: 't2', name: 'Hook', clip: 'c1', at: [740, 360], frame: 0 }),
  s.setTrackKind('t1', 'pair'),
  s.pairTrack('t1', 't2'),
] as const;
const showOver = (overlay: ReactNode) =>
  show(
    <Stage width={660} height={400}>
      <Layer>
        <GivenTracks
          value={
            new Map([
              ['t1', lantern],
              ['t2', hook],
            ])
          }
        >
          {overlay}
        </GivenTracks>
      </Layer>
    </Stage>,
  );
const stage = () => Konva.stages.at(-1)!;
const texts = () =>
  stage()
    .find<Konva.Text>('Text')
    .map((t) => t.text());
/** Drags a handle to a place of the screen, letting go or not. */
function drag(node: Konva.Node, x: number, y: number, letGo = true): void {
  act(() => {
    node.position({ x, y });
    node.fire('dragmove', { target: node }, true);
    if (letGo) node.fire('dragend', { target: node }, true);
  });
}
const named = (name: string) => stage().findOne(`.${name}`)!;
const row = () => shotNow().rows.r1!;

test('a track stands where it was measured and says when it is weak; a drag corrects that frame', () => {
  opens();
  useShot.setState({ frame: 1006 });
  showOver(<TrackOverlay space={space} />);
  const knob = named('track-t1');
  expect(knob.position()).toEqual({ x: 660 * 0.5 + 10, y: 360 * 0.5 + 20 });
  expect(texts()).toEqual(['Lantern weak']);
  drag(knob, 350, 190, false);
  expect(useShot.getState().live!.tracks.t1!.corrections).toEqual({ 5: { at: [680, 340] } });
  expect(shotNow().tracks.t1!.corrections).toEqual({});
  drag(knob, 350, 190);
  expect(shotNow().tracks.t1!.corrections).toEqual({ 5: { at: [680, 340] } });
  expect(useShot.getState().selection).toEqual({ kind: 'track', id: 't1' });
});

test('corners of a plane are dragged: before it is measured they are drawn so, later they are set on their frame', () => {
  opens(aShot(s.addTrack({ id: 't9', name: 'Deck', clip: 'c1', at: [600, 300], frame: 0, kind: 'plane' })));
  useShot.setState({ frame: 1001, selection: { kind: 'track', id: 't9' } });
  showOver(<TrackOverlay space={{ zoom: 1, x: 0, y: 0 }} />);
  const track = () =>
    shotNow().tracks.t9! as unknown as { topLeft: number[]; at: number[]; corrections: Record<string, s.Track['corrections'][string]> };
  expect(named('corner-t9-0').position()).toEqual({ x: 520, y: 240 });
  drag(named('corner-t9-0'), 500, 230);
  expect(track()).toMatchObject({ topLeft: [-100, -70], at: [600, 300], corrections: {} });
});

test('a hand key is set wherever it is dragged, on its frame', () => {
  opens(aShot(s.addTrack({ id: 't9', name: 'Ghost', clip: 'c1', at: [600, 300], frame: 0, kind: 'hand' })));
  useShot.setState({ frame: 1005, selection: { kind: 'track', id: 't9' } });
  showOver(<TrackOverlay space={{ zoom: 1, x: 0, y: 0 }} />);
  drag(named('track-t9'), 640, 350);
  act(() => useShot.setState({ frame: 1009 }));
  drag(named('track-t9'), 700, 330);
  expect(shotNow().tracks.t9!.corrections).toEqual({ 4: { at: [640, 350] }, 8: { at: [700, 330] } });
  act(() => useShot.setState({ frame: 1007 }));
  expect(named('track-t9').x()).toBeCloseTo(670, 6);
});

test('the pattern and the search box are sized by their corners', () => {
  opens();
  useShot.setState({ selection: { kind: 'track', id: 't1' } });
  showOver(<TrackOverlay space={{ zoom: 2, x: 0, y: 0 }} />);
  const side = () => (shotNow().tracks.t1 as unknown as { pattern: number }).pattern,
    before = side(),
    corner = stage()
      .find('Group')
      .find((n) => n.x() === 640 * 2 + before && n.y() === 360 * 2 + before)!;
  drag(corner, 640 * 2 + before + 20, 360 * 2 + before);
  expect(side()).toBeGreaterThanOrEqual(before + 19);
});

test('an outline that rides is drawn where it is now, and a vertex that is dragged there is kept as it was drawn', () => {
  opens(
    aShot(
      ...turning,
      s.addOutline('k1', 'add', [
        [600, 300],
        [700, 300],
        [700, 400],
      ]),
    ),
  );
  const outline = () => shotNow().mattes.k1!.outlines[0]!;
  act(() => useShot.getState().edit(s.rideOutline('k1', outline().id, 't1', 0, outline().keys)));
  // Frame 15 of the clip: 60 px to the right of where it was drawn, and turned by 90 degrees about the lantern.
  useShot.setState({ selection: { kind: 'matte', id: 'k1' }, outline: outline().id, frame: 1016 });
  showOver(<OutlineOverlay space={{ zoom: 1, x: 0, y: 0 }} />);
  const corners = stage()
    .find('Rect')
    .map((r) => r.getParent()!)
    .map((g) => [Math.round(g.x()), Math.round(g.y())]);
  // (600, 300) lies at (-40, -60) from the lantern; turned by 90 degrees that is (60, -40).
  expect(corners[0]).toEqual([760, 320]);
  drag(stage().find('Rect')[0]!.getParent()!, 770, 320);
  const [v] = shapeAt(outline().keys, 15);
  expect([Math.round(v!.x), Math.round(v!.y)]).toEqual([600, 290]);
});

test('an outline is keyed by moving it on another frame: a point, several, all of it, and a feather', () => {
  opens(
    aShot(
      s.addOutline('k1', 'add', [
        [600, 300],
        [700, 300],
        [700, 400],
        [600, 400],
      ]),
    ),
  );
  const outline = () => shotNow().mattes.k1!.outlines[0]!,
    xs = (frame: number) => shapeAt(outline().keys, frame).map((v) => Math.round(v.x));
  useShot.setState({ selection: { kind: 'matte', id: 'k1' }, outline: outline().id, frame: 1011 });
  showOver(<OutlineOverlay space={{ zoom: 1, x: 0, y: 0 }} />);
  const at = (name: string) => stage().findOne(`.${name}`)!;
  drag(at('point-1'), 720, 300);
  expect(outline().keys.map((k) => k.frame)).toEqual([0, 10]);
  expect(xs(10)).toEqual([600, 720, 700, 600]);
  expect(xs(0)).toEqual([600, 700, 700, 600]);
  // Point 1 is selected by its drag; with Shift a second one is, and both go together.
  act(() => void at('point-2').fire('click', { evt: { shiftKey: true } }, true));
  drag(at('point-2'), 710, 400);
  expect(xs(10)).toEqual([600, 730, 710, 600]);
  // The whole by its line, on a third frame.
  act(() => useShot.setState({ frame: 1021 }));
  const line = at(`outline-${outline().id}`);
  drag(line, 15, 0);
  expect(xs(20)).toEqual([615, 745, 725, 615]);
  expect(xs(10)).toEqual([600, 730, 710, 600]);
  // Feather of one point outwards: the handle stands a little beyond where it ends.
  act(() => useOutlinePoints.setState({ points: [3] }));
  const feather = at('feather-outer-3'),
    before = [feather.x(), feather.y()];
  drag(feather, before[0]! - 10, before[1]! + 10);
  expect(shapeAt(outline().keys, 20)[3]!.outer).toBeGreaterThan(8);
  expect(shapeAt(outline().keys, 20)[2]!.outer).toBe(0);
  // Only moved points: the others are not set there.
  act(() => useOutlinePoints.setState({ points: [], sets: 'only moved points' }));
  act(() => useShot.setState({ frame: 1006 }));
  drag(at('point-0'), 590, 300);
  expect(
    outline()
      .keys.find((k) => k.frame === 5)!
      .vertices.map(Boolean),
  ).toEqual([true, false, false, false]);
  act(() => useOutlinePoints.setState({ sets: 'the whole outline' }));
});

test('a double-click on the line of an outline adds a point there on every key', () => {
  opens(
    aShot(
      s.addOutline('k1', 'add', [
        [600, 300],
        [700, 300],
        [700, 400],
      ]),
    ),
  );
  const outline = () => shotNow().mattes.k1!.outlines[0]!;
  useShot.setState({ selection: { kind: 'matte', id: 'k1' }, outline: outline().id });
  showOver(<OutlineOverlay space={{ zoom: 1, x: 0, y: 0 }} />);
  act(
    () =>
      void stage()
        .findOne(`.outline-${outline().id}`)!
        .fire('dblclick', { evt: { offsetX: 650, offsetY: 301 } }, true),
  );
  expect(outline().keys[0]!.vertices.map((v) => [v!.x, v!.y])).toEqual([
    [600, 300],
    [650, 300],
    [700, 300],
    [700, 400],
  ]);
});

test('a double-click turns a corner into a smooth vertex, and back', () => {
  opens(
    aShot(
      s.addOutline('k1', 'add', [
        [600, 300],
        [700, 300],
        [700, 400],
      ]),
    ),
  );
  useShot.setState({ selection: { kind: 'matte', id: 'k1' }, outline: shotNow().mattes.k1!.outlines[0]!.id });
  showOver(<OutlineOverlay space={space} />);
  const double = () => act(() => void stage().find('Rect')[0]!.getParent()!.fire('dblclick', {}, true)),
    out = () => shotNow().mattes.k1!.outlines[0]!.keys[0]!.vertices[0]!.out;
  double();
  expect(Math.hypot(...out())).toBeGreaterThan(0);
  double();
  expect(out()).toEqual([0, 0]);
});

test("an effect's mount is moved on the picture, in the body's own directions", () => {
  opens(aShot(...turning));
  useShot.setState({ selection: { kind: 'row', id: 'r1' }, frame: 1016 });
  showOver(<EffectOverlay space={{ zoom: 1, x: 0, y: 0 }} row={row()} />);
  const handle = named('handle-mount'),
    { x, y } = handle.position();
  expect(texts()).toContain('Lantern');
  // Down on the picture is to the right on a body that is turned by 90 degrees.
  drag(handle, x, y + 12);
  expect(shotNow().mounts[row().mount!]!.offset.map(Math.round)).toEqual([12, 0]);
});

test("an effect's mount is turned on the picture; that is one edit, and stays when the track is measured again", () => {
  opens(aShot(...turning));
  useShot.setState({ selection: { kind: 'row', id: 'r1' }, frame: 1001 });
  showOver(<EffectOverlay space={{ zoom: 1, x: 0, y: 0 }} row={row()} />);
  const ring = named('handle-mount').position(),
    handle = named('handle-mount-turn'),
    turn = () => shotNow().mounts[row().mount!]!.turn;
  expect(turn()).toBe(0);
  // A quarter turn clockwise about the mount, which stands beside its other knob.
  drag(handle, ring.x + 15, ring.y + 30);
  expect(turn()).toBeCloseTo(90, 0);
  act(() => useShot.getState().edit(s.storeSamples({ [shotNow().mounts[row().mount!]!.track]: 'b'.repeat(64) })));
  expect(turn()).toBeCloseTo(90, 0);
  act(() => useShot.getState().undo());
  act(() => useShot.getState().undo());
  expect(turn()).toBe(0);
});

test("every handle of every effect stands on the picture and changes the effect's values", async () => {
  const { effects } = await import('@wraithos/core/effects');
  for (const effect of Object.values(effects).filter((e) => e.handles?.length)) {
    opens(
      aShot(
        s.addRow({
          id: 'r9',
          effect: effect.type,
          lane: effect.lanes[0]!,
          subject: ['behind', 'on', 'front'].includes(effect.lanes[0]!) ? 's1' : null,
          track: 't1',
        }),
      ),
    );
    useShot.setState({ selection: { kind: 'row', id: 'r9' }, frame: 1004 });
    const { unmount } = showOver(<EffectOverlay space={{ zoom: 1, x: 0, y: 0 }} row={shotNow().rows.r9!} />),
      handles = stage()
        .find('Group')
        .filter((n) => n.name().startsWith('handle-') && !n.name().startsWith('handle-mount'));
    for (const handle of handles) {
      const before = JSON.stringify(shotNow().rows.r9!.values);
      drag(handle, handle.x() + 33, handle.y() + 21);
      expect([effect.type, handle.name(), JSON.stringify(shotNow().rows.r9!.values) !== before]).toEqual([
        effect.type,
        handle.name(),
        true,
      ]);
    }
    unmount();
  }
});

test('the first point of an outline that is being drawn closes it', () => {
  opens();
  useShot.setState({
    tool: take('draw outline', {
      matte: 'k1',
      mode: 'add',
      points: [corner(10, 10), corner(90, 10), corner(50, 80)],
    }),
  });
  const { Overlay } = tools['draw outline'],
    state = stateOf(useShot.getState().tool, 'draw outline')!;
  showOver(Overlay && <Overlay state={state} space={space} />);
  const [first] = stage().find('Circle');
  act(() => void first!.fire('mousedown', {}, true));
  expect(shotNow().mattes.k1!.outlines).toHaveLength(1);
  expect(useShot.getState().tool).toBeNull();
});
