import { apply, smallShot } from '../../test/smallShot';
import type { TrackSample } from '../motion';
import * as s from '../shot';
import { checkShot } from './checks';

const sample = (frame: number, state: TrackSample['state']): TrackSample => ({
  frame,
  x: state === 'lost' ? null : 30,
  y: state === 'lost' ? null : 20,
  rotation: 0,
  scale: 1,
  confidence: 0.9,
  state,
});
const tracked = (states: string) =>
  new Map([['t1', [...states].map((c, i) => sample(i, ({ g: 'good', w: 'weak', l: 'lost' } as const)[c as 'g']))]]);
const glowing = (...more: s.Edit[]) =>
  apply(
    smallShot(),
    s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 20], frame: 0 }),
    s.addRow({ id: 'r1', effect: 'glow', lane: 'front', subject: 's1', track: 't1' }),
    ...more,
  );
const ids = (shot: s.Shot, states = 'gggggggggggg') => checkShot(shot, tracked(states)).map((c) => c.id);

test('a shot in order has nothing to tell', () => expect(ids(glowing())).toEqual([]));

test('weak and lost frames are told where the track is used, as runs of shot frames', () => {
  const found = checkShot(glowing(), tracked('gggwwgggllgw'));
  expect(found.map((c) => [c.id, c.frame, c.text])).toEqual([
    ['track-weak', 1004, 'Glow hangs on Pin, which is weak at 1004–1005, 1012.'],
    ['track-lost', 1009, 'Glow hangs on Pin, which is lost at 1009–1010.'],
  ]);
  // Outside the row's range they do not matter; a correction by hand mends a frame.
  expect(ids(glowing(s.changeRow('r1', { start: 1006, length: 3 })), 'gggwwgggllgw')).toEqual([]);
  expect(ids(glowing(s.correctTrack('t1', 3, { at: [1, 1] }), s.correctTrack('t1', 4, { at: [1, 1] })), 'gggwwggggggg')).toEqual([]);
});

test('frames that were never tracked are told as that, and what fades while it is lost is not told of', () => {
  const found = checkShot(glowing(), tracked('gggwgggg'));
  expect(found.map((c) => [c.id, c.text])).toEqual([
    ['track-weak', 'Glow hangs on Pin, which is weak at 1004.'],
    ['track-untracked', 'Glow hangs on Pin, which was not tracked at 1009–1012.'],
  ]);
  expect(ids(glowing(s.carryRow('r1', { fade: 3 })), 'gggggggllggg')).toEqual([]);
  // What stands as at one frame uses that frame alone.
  expect(ids(glowing(s.carryRow('r1', { time: 'stays as at a frame', heldAt: 1002 })), 'gggggggllggg')).toEqual([]);
  expect(ids(glowing(s.carryRow('r1', { time: 'stays as at a frame', heldAt: 1008 })), 'gggggggllggg')).toEqual(['track-lost']);
});

test('hand keys, a ground that was drawn and several tracks are right without samples of their own', () => {
  const hung = (kind: 'hand' | 'ground' | 'several', ...more: s.Edit[]) =>
    apply(
      smallShot(),
      s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 20], frame: 0 }),
      s.addTrack({ id: 't2', name: 'Made', clip: 'c1', at: [30, 20], frame: 0, kind }),
      s.addRow({ id: 'r1', effect: 'glow', lane: 'front', subject: 's1', track: 't2' }),
      ...more,
    );
  expect(ids(hung('hand'))).toEqual([]);
  expect(ids(hung('ground'))).toEqual([]);
  expect(ids(hung('several', s.joinTracks('t2', ['t1'])))).toEqual([]);
  expect(ids(hung('several', s.joinTracks('t2', ['t1'])), 'gggwllgggggg')).toEqual(['track-weak', 'track-lost']);
});

test('a jump of a track is told with its size where the track is used, and not once a person has set the frame', () => {
  const jumping = (list: TrackSample[]) => new Map([['t1', list.map((one, i) => (i === 6 ? { ...one, x: 42, y: 25 } : one))]]),
    samples = jumping(tracked('gggggggggggg').get('t1')!);
  expect(checkShot(glowing(), samples).map((c) => [c.id, c.frame, c.text])).toEqual([
    ['track-jump', 1007, 'Glow hangs on Pin, which jumps by 13.0 px at 1007.'],
  ]);
  expect(checkShot(glowing(s.changeRow('r1', { start: 1001, length: 4 })), samples)).toEqual([]);
  expect(checkShot(glowing(s.correctTrack('t1', 6, { at: [30, 20] })), samples)).toEqual([]);
});

test('a row that is muted at render, one outside the shot, and one that nobody knows', () => {
  expect(ids(glowing(s.changeRow('r1', { muted: true })))).toEqual(['row-muted']);
  expect(ids(glowing(s.changeRow('r1', { start: 2000 })))).toEqual(['row-outside']);
  const unknown = glowing();
  expect(ids({ ...unknown, rows: { r1: { ...unknown.rows.r1!, effect: 'comet' } } })).toEqual(['effect-unknown']);
});

test('a dissolve without a clean plate or a matte; a glow that hangs on nothing', () => {
  const dissolve = s.addRow({ id: 'r2', effect: 'dissolve', lane: 'on', subject: 's1', values: { progress: 40 } });
  expect(ids(apply(smallShot(), dissolve))).toEqual([]);
  expect(ids(apply(smallShot(), dissolve, s.remove('clip', 'c2')))).toEqual(['no-clean-plate']);
  expect(ids(apply(smallShot(), dissolve, s.remove('matte', 'k1')))).toEqual(['no-matte']);
  expect(ids(glowing(s.hangRow('r1', null)))).toEqual(['no-mount']);
});

test('no false alarm: what does without its mount, bears its loss, or has a matte of its own', () => {
  const flash = (values: Record<string, string | number>) =>
    apply(
      smallShot(),
      s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 20], frame: 0 }),
      s.addRow({ id: 'r1', effect: 'flash', lane: 'whole', subject: null, track: 't1', values }),
    );
  expect(ids(flash({ over: 'whole picture', middle: 0 }), 'gggwwgggllgw')).toEqual([]);
  expect(ids(flash({ over: 'about the mount' }), 'gggwwgggllgw')).toEqual(['track-weak', 'track-lost']);
  const ember = (lost: string) =>
    apply(
      smallShot(),
      s.addTrack({ id: 't1', name: 'Eye', clip: 'c1', at: [30, 20], frame: 0 }),
      s.addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1', track: 't1', values: { lost } }),
    );
  expect(ids(ember('goes out'), 'ggggggggllgg')).toEqual([]);
  expect(ids(ember('stays'), 'ggggggggllgg')).toEqual(['track-lost']);
  // In the foreground it reads the matte of the farthest subject, as it is drawn.
  expect(ids(apply(smallShot(), s.addRow({ id: 'r1', effect: 'arcs', lane: 'foreground', subject: null })))).toEqual([]);
});

test('what a group lends to its rows counts: its mount, and that it is muted', () => {
  const grouped = apply(
    smallShot(),
    s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 20], frame: 0 }),
    s.addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1' }),
    s.groupRows(['r1'], 'g1'),
    s.changeGroup('g1', { track: 't1' }),
  );
  expect(ids(grouped)).toEqual([]);
  expect(checkShot(apply(grouped, s.changeGroup('g1', { muted: true })), tracked('gggggggggggg'))[0]!.text).toBe(
    'Ember is muted with its group Group and will not be in the render.',
  );
});

test('a curve that its row cuts off, a row that nobody can see, and one that another hides', () => {
  const curve = (last: number) =>
    s.setCurve('r1', 'strength', {
      points: [
        { frame: 0, value: 10, ease: 'linear' },
        { frame: last, value: 90, ease: 'linear' },
      ],
    });
  expect(ids(glowing(curve(11)))).toEqual([]);
  const cut = checkShot(glowing(s.changeRow('r1', { length: 6 }), curve(10)), tracked('gggggggggggg'));
  expect(cut.map((c) => [c.id, c.frame, c.text])).toEqual([
    ['curve-cut', 1006, 'Glow ends at 1006 with Strength at 50 %: its curve reaches 90 % only 5 frames later.'],
  ]);
  expect(ids(glowing(s.setValue('r1', 'strength', 0)))).toEqual(['row-idle']);
  expect(ids(glowing(s.changeRow('r1', { opacity: 0 })))).toEqual(['row-hidden']);
  const solo = s.addRow({ id: 'r2', effect: 'flash', lane: 'whole', subject: null });
  expect(ids(glowing(solo, s.changeRow('r2', { solo: true })))).toEqual(['row-hidden']);
});

test('a twin on a track of its own is looked at too, and so is what an effect aims at', () => {
  const two = glowing(s.addTrack({ id: 't2', name: 'Hem', clip: 'c1', at: [30, 40], frame: 0 }), s.addTwin('r1', 't2')),
    tracks = new Map([
      ...tracked('gggggggggggg'),
      ['t2', 'ggggllgggggg'].map((v, i) => (i ? [...v].map((c, f) => ({ ...sample(f, c === 'l' ? 'lost' : 'good'), y: 35 })) : v)) as [
        string,
        TrackSample[],
      ],
    ]);
  expect(checkShot(two, tracks).map((c) => c.text)).toEqual(['Glow hangs on Hem, which is lost at 1005–1006.']);
});

describe('elements, subjects and takes', () => {
  const element = (values: Record<string, string | number>) =>
    apply(
      smallShot(),
      s.addClip({ ...smallShot().clips.c1!, name: 'puff', role: 'element', frames: 5 }, 'c9'),
      s.addRow({ id: 'r1', effect: 'element', lane: 'front', subject: 's1', values }),
      s.changeRow('r1', { clip: 'c9' }),
    );
  test('an element that is over before its row is, says when', () => {
    const found = checkShot(element({}), new Map());
    expect(found.map((c) => [c.id, c.frame, c.text])).toEqual([
      ['element-ends', 1006, 'puff is over at 1006, and Element goes on to 1012.'],
    ]);
    for (const playback of ['loops', 'once, then stays']) expect(ids(element({ playback }))).toEqual([]);
    expect(ids(element({ speed: 40 }))).toEqual([]);
    expect(ids(apply(element({}), s.changeRow('r1', { clip: null })))).toEqual(['no-clip']);
  });
  test('a detached subject without a matte, or that still stands where it was filmed; one whose clip nobody sees', () => {
    const off = s.changeSubject('s1', { detached: true });
    expect(ids(apply(smallShot(), off))).toEqual([]);
    expect(ids(apply(smallShot(), off, s.remove('clip', 'c2')))).toEqual(['detached-twice']);
    expect(ids(apply(smallShot(), off, s.remove('matte', 'k1')))).toEqual(['detached-without-matte']);
    // Off its plate, what takes a subject apart needs no clean plate.
    const apart = s.addRow({ id: 'r1', effect: 'dissolve', lane: 'on', subject: 's1', length: 12 });
    expect(ids(apply(smallShot(), off, s.setBase('c4'), s.remove('clip', 'c2'), apart))).not.toContain('no-clean-plate');
    expect(ids(apply(smallShot(), s.remove('clip', 'c2'), apart))).toContain('no-clean-plate');
    expect(ids(apply(smallShot(), s.setBase('c3')))).toEqual(['subject-not-in-base']);
    expect(ids(apply(smallShot(), s.setBase('c3'), off))).toEqual([]);
  });
  test('a take whose edge stands in the picture, or that is over, with nothing behind it', () => {
    const placed = (name: string, value: string | number | [number, number]) => s.setPlaced({ kind: 'clip', id: 'c1' }, name, value),
      red = s.changeGround({ values: { ground: 'colour' } });
    expect(ids(apply(smallShot(), placed('size', 80)))).toEqual(['take-edge']);
    expect(ids(apply(smallShot(), placed('size', 80), red))).toEqual([]);
    expect(ids(apply(smallShot(), placed('size', 130), placed('turn', 3)))).toEqual([]);
    expect(ids(apply(smallShot(), placed('playback', 'once'), placed('trimEnd', 4)))).toEqual(['take-over']);
  });
  test('a take that nothing lets in, and one whose speed used up its frames', () => {
    const two = (values: s.Take['values']) => apply(smallShot(), s.addTake('b2', 'c2', 1006), s.changeTake('b2', { values }));
    expect(ids(two({ transition: 'led by an effect' }))).toEqual(['take-not-led']);
    expect(ids(two({ transition: 'led by a matte' }))).toEqual(['take-not-led']);
    expect(ids(two({ transition: 'crossfade' }))).toEqual([]);
    const fast = apply(smallShot(), s.setPlaced({ kind: 'clip', id: 'c1' }, 'speed', 200)),
      found = checkShot(fast, new Map());
    expect(found.map((c) => [c.id, c.frame, c.text])).toEqual([
      ['speed-runs-out', 1007, 'performance has used up its frames at 1006 and stands still to 1012.'],
    ]);
    expect(ids(apply(fast, s.setPlaced({ kind: 'clip', id: 'c1' }, 'playback', 'loops')))).toEqual([]);
    // The next take comes in before it stands still.
    expect(ids(apply(fast, s.addTake('b2', 'c2', 1006)))).toEqual([]);
  });
});
test('what a curve mends later on is no problem: sparks whose rate rises from nothing', () => {
  const sparks = (...more: s.Edit[]) =>
    ids(
      apply(
        smallShot(),
        s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 20], frame: 0 }),
        s.addRow({ id: 'r1', effect: 'emitter', lane: 'front', subject: 's1', track: 't1', values: { rate: 0, burst: 0 } }),
        ...more,
      ),
    );
  expect(sparks()).toContain('nothing-born');
  const rises = { points: [0, 6, 11].map((frame) => ({ frame, value: 8 * frame, ease: 'linear' as const })) };
  expect(sparks(s.setCurve('r1', 'rate', rises))).not.toContain('nothing-born');
});
