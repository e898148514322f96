import { flatten } from '@wraithos/core/matte';
import * as s from '@wraithos/core/shot';
import { useShot } from '../state/shotStore';
import { aShot, opens, shotNow } from '../testing/showing';
import { inHand, onwards, stateOf, take, tools } from './index';

const now = () => useShot.getState();
/** A press with the tool in hand, as the viewer does it. */
function press(...at: [number, number]): void {
  const { tool } = now(),
    held = inHand(tool)!;
  now().set({ tool: onwards(tool!, held.definition.press(held.state, at, now())) });
}
/** The pointer with the tool in hand, held down at a place, and lifted. */
function drag(at: [number, number]): void {
  const { tool } = now(),
    held = inHand(tool)!;
  now().set({ tool: onwards(tool!, held.definition.drag!(held.state, at, now())) });
}
function lift(): void {
  const { tool } = now(),
    held = inHand(tool)!;
  now().set({ tool: onwards(tool!, held.definition.lift!(held.state, now())) });
}
function key(name: string): boolean {
  const { tool } = now(),
    held = inHand(tool)!,
    next = held.definition.key?.(held.state, name, now());
  if (next === undefined) return false;
  now().set({ tool: onwards(tool!, next) });
  return true;
}
beforeEach(() => opens());
const brush = { of: 'c1', radius: 16, softness: 50, clip: null, frame: 3, offset: [20, 0] as [number, number], matched: true };

test('every tool says what to do next and how to leave it', () => {
  const states = {
    'add track': { track: 'plane' },
    'pick colour': { matte: 'k1', param: 'colour' },
    'pick for effect': { row: 'r1', param: 'towards' },
    'draw outline': { matte: 'k1', mode: 'add', points: [] },
    'draw shape': { matte: 'k1', mode: 'add', shape: 'ellipse', way: [] },
    isolate: {},
    'pick person': {},
    repair: { ...brush, points: [] },
    'follow edge': { matte: 'k1', mode: 'add', ways: [] },
    'draw line': { row: 'r1', hint: 'Draw a line. Esc leaves.', points: [] },
    'paint matte': { matte: 'k1', mode: 'add', span: 'this frame', radius: 9, softness: 0, points: [] },
    strokes: { matte: 'k1', mode: 'add', inside: true, strokes: [] },
  };
  expect(Object.keys(tools).sort()).toEqual(Object.keys(states).sort());
  for (const [kind, state] of Object.entries(states)) {
    const hint = tools[kind as keyof typeof states].hint(state);
    expect(hint).toMatch(/^[A-Z].*\.( Esc leaves\.|.*Esc leaves\.)$/);
  }
});

test('a press places a track at the frame of its clip, selects it and puts the tool down; beside the picture nothing happens', () => {
  now().set({ tool: take('add track', { track: 'plane' }), frame: 1011 });
  press(-4, 100);
  press(1300, 100);
  expect(Object.keys(shotNow().tracks)).toEqual(['t1']);
  expect(now().tool?.kind).toBe('add track');
  press(200.5, 90);
  const made = Object.values(shotNow().tracks).find((t) => t.id !== 't1')!;
  expect(made).toMatchObject({ kind: 'plane', name: 'Plane', clip: 'c1', at: [200.5, 90], frame: 10 });
  expect(now()).toMatchObject({ tool: null, selection: { kind: 'track', id: made.id } });
});

test('an outline needs three points; Backspace takes the last one away, Enter closes it and selects it', () => {
  now().set({ tool: take('draw outline', { matte: 'k1', mode: 'take away', points: [] }) });
  const points = () => stateOf(now().tool, 'draw outline')!.points;
  press(10, 10);
  press(200, 12);
  press(999, 999);
  expect(key('Backspace')).toBe(true);
  expect(points().map((v) => [v.x, v.y])).toEqual([
    [10, 10],
    [200, 12],
  ]);
  // Two points close nothing, and nothing of them is lost.
  expect(key('Enter')).toBe(true);
  expect(points()).toHaveLength(2);
  expect(shotNow().mattes.k1!.outlines).toEqual([]);
  press(120, 300);
  expect(key('r')).toBe(false);
  key('Enter');
  const [outline] = shotNow().mattes.k1!.outlines;
  expect(outline).toMatchObject({ mode: 'take away' });
  expect(outline!.keys[0]!.vertices.map((v) => v!).map((v) => [v.x, v.y])).toEqual([
    [10, 10],
    [200, 12],
    [120, 300],
  ]);
  expect(now()).toMatchObject({ tool: null, outline: outline!.id });
});

test('a drag of the pen draws a smooth point, a shaky click a corner', () => {
  now().set({ tool: take('draw outline', { matte: 'k1', mode: 'add', points: [] }) });
  press(10, 10);
  drag([12, 11]);
  press(200, 12);
  drag([230, 32]);
  expect(stateOf(now().tool, 'draw outline')!.points.map((v) => v.out)).toEqual([
    [0, 0],
    [30, 20],
  ]);
});

describe('a shape drawn with one drag', () => {
  const draws = (shape: 'rectangle' | 'ellipse' | 'freehand', way: readonly [number, number][]) => {
    now().set({ tool: take('draw shape', { matte: 'k1', mode: 'add', shape, way: [] }), frame: 1011 });
    const [first, ...others] = way;
    press(...first!);
    for (const at of others) drag(at);
    lift();
    return shotNow().mattes.k1!.outlines.at(-1)?.keys[0];
  };
  test('a rectangle, whichever corner it begins at, on the frame of its clip', () => {
    const made = draws('rectangle', [
      [200, 90],
      [20, 30],
    ])!;
    expect(made.frame).toBe(10);
    expect(made.vertices.map((v) => [v!.x, v!.y])).toEqual([
      [20, 30],
      [200, 30],
      [200, 90],
      [20, 90],
    ]);
    expect(now().tool).toBeNull();
  });
  test('an ellipse lies within its box, a quarter of a circle to each point', () => {
    const line = flatten(
      draws('ellipse', [
        [100, 100],
        [200, 160],
      ])!.vertices.map((v) => v!),
      1,
    );
    for (let i = 0; i < line.length; i += 2) expect(Math.hypot((line[i]! - 150) / 50, (line[i + 1]! - 130) / 30)).toBeCloseTo(1, 2);
  });
  test('freehand keeps to the way of the hand with few points', () => {
    const way = Array.from({ length: 120 }, (_, i): [number, number] => [
        400 + 120 * Math.cos((i / 120) * 2 * Math.PI),
        300 + 80 * Math.sin((i / 120) * 2 * Math.PI),
      ]),
      made = draws('freehand', way)!,
      line = flatten(
        made.vertices.map((v) => v!),
        1,
      );
    expect(made.vertices.length).toBeLessThan(14);
    for (const [x, y] of way) {
      let least = Infinity;
      for (let i = 0; i < line.length; i += 2) least = Math.min(least, Math.hypot(line[i]! - x, line[i + 1]! - y));
      expect(least).toBeLessThan(3.5);
    }
  });
  test('a press without a drag draws nothing, and the tool stays', () => {
    expect(draws('rectangle', [[20, 30]])).toBeUndefined();
    expect(now().tool?.kind).toBe('draw shape');
  });
});

test('strokes are inside until R, then outside; Backspace takes the last one back, and Enter makes nothing before an area is found', () => {
  now().set({ tool: take('strokes', { matte: 'k1', mode: 'add', inside: true, strokes: [] }) });
  const state = () => stateOf(now().tool, 'strokes')!;
  press(100, 100);
  drag([120, 110]);
  expect(key('r')).toBe(true);
  press(10, 20);
  expect(state().strokes.map((one) => [one.inside, one.points.length])).toEqual([
    [true, 2],
    [false, 1],
  ]);
  expect(key('Enter')).toBe(true);
  expect(now().tool?.kind).toBe('strokes');
  expect(shotNow().mattes.k1!.outlines).toEqual([]);
  expect(key('Backspace')).toBe(true);
  expect(state().strokes).toHaveLength(1);
});

test('a tool in hand is told from others', () => {
  const tool = take('pick colour', { matte: 'k1', source: 's1', param: 'screen' });
  expect(stateOf(tool, 'pick colour')).toEqual({ matte: 'k1', source: 's1', param: 'screen' });
  expect(stateOf(tool, 'draw outline')).toBeNull();
  expect(inHand(null)).toBeNull();
  expect(onwards(tool, null)).toBeNull();
});

test('without a performance no track is placed', () => {
  opens(aShot(s.remove('clip', 'c1')));
  now().set({ tool: take('add track', { track: 'plane' }) });
  press(100, 100);
  expect(shotNow().tracks).toEqual({});
  expect(now().tool?.kind).toBe('add track');
});

test('a repair is painted by pressing and dragging: one stroke, and the brush stays in hand', () => {
  now().set({ tool: take('repair', { ...brush, points: [] }) });
  const { drag, lift } = tools.repair,
    state = () => now().tool!.state;
  press(40, 50);
  now().set({ tool: onwards(now().tool!, drag!(state(), [41, 50], now())) });
  now().set({ tool: onwards(now().tool!, drag!(state(), [60, 58], now())) });
  expect(shotNow().clips.c1!.repairs).toEqual([]);
  now().set({ tool: onwards(now().tool!, lift!(state(), now())) });
  // A way of one pixel says nothing new with a brush of sixteen.
  expect(shotNow().clips.c1!.repairs).toMatchObject([
    {
      id: 'p1',
      radius: 16,
      offset: [20, 0],
      frame: 3,
      points: [
        [40, 50],
        [60, 58],
      ],
    },
  ]);
  expect(stateOf(now().tool, 'repair')!.points).toEqual([]);
  now().undo();
  expect(shotNow().clips.c1!.repairs).toEqual([]);
});

test('a brush paints into a matte on the frames that it says; R paints out; each stroke is one step to undo', () => {
  const paint = (span: 'this frame' | 'from this frame on' | 'all frames') =>
    now().set({ tool: take('paint matte', { matte: 'k1', mode: 'add', span, radius: 10, softness: 30, points: [] }), frame: 1011 });
  const stroke = (...ats: [number, number][]) => {
    press(...ats[0]!);
    for (const at of ats.slice(1)) {
      drag(at);
    }
    lift();
  };
  const painted = () => shotNow().mattes.k1!.painted.map(({ mode, first, last, points }) => [mode, first, last, points.length]);
  paint('this frame');
  // What is nearer than an eighth of the brush adds nothing.
  stroke([20, 20], [20.5, 20], [40, 20]);
  key('r');
  stroke([30, 30]);
  paint('from this frame on');
  stroke([5, 5]);
  paint('all frames');
  stroke([5, 5]);
  expect(painted()).toEqual([
    ['add', 10, 10, 2],
    ['take away', 10, 10, 1],
    ['add', 10, 95, 1],
    ['add', 0, 95, 1],
  ]);
  now().undo();
  now().undo();
  expect(painted()).toHaveLength(2);
});

test('a line that is painted for a front is kept where it stands on the body, on the frame of its row; beside the row words say so', () => {
  opens(aShot(s.addRow({ id: 'r1', effect: 'dissolve', lane: 'on', subject: 's1', start: 1005, length: 20 })));
  const paint = (frame: number) => {
    now().set({ frame, tool: take('draw line', { row: 'r1', hint: 'Draw a line. Esc leaves.', points: [] }) });
    press(100, 80);
    for (const at of [
      [101, 80],
      [120, 90],
    ] as [number, number][]) {
      drag(at);
    }
    lift();
  };
  paint(1011);
  paint(1090);
  expect(shotNow().rows.r1!.strokes).toEqual([
    {
      id: 'f1',
      frame: 6,
      points: [
        [100, 80],
        [120, 90],
      ],
    },
  ]);
  expect(now().notice).toMatch(/is not there on this frame: it goes from 1005 to 1024/);
});

test('a line along edges is set point by point, loses its last point by Backspace, and closes at its first point', () => {
  now().set({ tool: take('follow edge', { matte: 'k1', mode: 'keep inside', ways: [] }) });
  const ways = () => stateOf(now().tool, 'follow edge')!.ways;
  press(20, 20);
  press(200, 24);
  press(500, 500);
  expect(key('Backspace')).toBe(true);
  // A press at the beginning closes nothing while there are two points.
  expect(ways().map((way) => way.at(-1))).toEqual([
    [20, 20],
    [200, 24],
  ]);
  press(120, 220);
  press(22, 23);
  const [outline] = shotNow().mattes.k1!.outlines;
  expect(outline).toMatchObject({ mode: 'keep inside' });
  // Without the picture's edges the lines are straight; the corners are where the points were set.
  const corners = outline!.keys[0]!.vertices.map((v) => v!);
  for (const [x, y] of [
    [20, 20],
    [200, 24],
    [120, 220],
  ] as const)
    expect(Math.min(...corners.map((v) => Math.hypot(v.x - x, v.y - y)))).toBeLessThan(3);
  expect(now().tool).toBeNull();
});
