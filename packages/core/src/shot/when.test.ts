import { smallShot } from '../../test/smallShot';
import {
  addClip,
  addCue,
  addRow,
  applyEdit,
  asStored,
  canPin,
  changeClip,
  changeRow,
  clipFrame,
  clipStart,
  cueFrame,
  drawnRows,
  moveCue,
  pinCue,
  placedRange,
  readShot,
  remove,
  rowRange,
  rowValues,
  setCurve,
  setCurvePoint,
  setPlaced,
  settledCurves,
  waitsForItself,
  whatGoesWith,
  type Edit,
  type Shot,
} from './index';

describe('cues and what hangs on them', () => {
  const at = { playback: 'once, then stays', speed: 100 },
    placed = (): Shot => {
      const s = smallShot(),
        clip = s.clips.c1!;
      return { ...s, clips: { ...s.clips, c1: { ...clip, placed: { ...clip.placed, values: { ...clip.placed.values, ...at } } } } };
    };
  const after = (...edits: Edit[]) => edits.reduce((s: Shot, e) => applyEdit(s, e).shot, placed());

  test('a pinned cue moves with its clip, and what hangs on it moves along', () => {
    const pinned = after(
      addCue('q1', 'hit', 1005),
      pinCue('q1', 'c1'),
      addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1' }),
      changeRow('r1', { cue: 'q1', start: 2 }),
    );
    expect(pinned.cues.q1).toMatchObject({ clip: 'c1', frame: 4 });
    expect(cueFrame(pinned, 'q1')).toBe(1005);
    const later = applyEdit(pinned, changeClip('c1', { start: 1004 })).shot;
    expect(cueFrame(later, 'q1')).toBe(1008);
    expect(rowRange(later, later.rows.r1!)[0]).toBe(1010);
    // Played at half the speed, its frame 4 is the nearest from seven frames on.
    const slow = applyEdit(pinned, setPlaced({ kind: 'clip', id: 'c1' }, 'speed', 50)).shot;
    expect(cueFrame(slow, 'q1')).toBe(1008);
  });
  test('let go, or its clip removed, it stays where it is', () => {
    const pinned = after(addCue('q1', 'hit', 1005), pinCue('q1', 'c1'), changeClip('c1', { start: 1003 }));
    expect(applyEdit(pinned, pinCue('q1', null)).shot.cues.q1).toMatchObject({ clip: null, frame: 1007 });
    expect(applyEdit(pinned, remove('clip', 'c1')).shot.cues.q1).toMatchObject({ clip: null, frame: 1007 });
    expect(applyEdit(pinned, moveCue('q1', 1009)).shot.cues.q1).toMatchObject({ clip: 'c1', frame: 6 });
  });
  test('a frame that never shows stands where it would', () => {
    const pinned = after(addCue('q1', 'hit', 1005), pinCue('q1', 'c1'));
    expect(cueFrame({ ...pinned, first: 1007, last: 1012 }, 'q1')).toBe(1005);
  });
  test('curves keep their frames, or their share of the length; a length of one frame and back loses nothing', () => {
    const curve = { points: [0, 4, 10].map((frame) => ({ frame, value: frame, ease: 'linear' as const })) },
      row = (timing: 'from its start' | 'with its length') =>
        after(
          addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1' }),
          changeRow('r1', { length: 11, curveTiming: timing }),
          setCurve('r1', 'strength', curve),
        ),
      frames = (s: Shot) => s.rows.r1!.curves.strength!.points.map((p) => p.frame);
    expect(frames(applyEdit(row('from its start'), changeRow('r1', { length: 21 })).shot)).toEqual([0, 4, 10]);
    const long = applyEdit(row('with its length'), changeRow('r1', { length: 21 })).shot;
    expect(frames(long)).toEqual([0, 8, 20]);
    const one = applyEdit(long, changeRow('r1', { length: 1 })).shot;
    frames(applyEdit(one, changeRow('r1', { length: 11 })).shot).forEach((f, i) => expect(f).toBeCloseTo([0, 4, 10][i]!, 9));
    expect(readShot(one)).toEqual(one);
  });

  test('a clip that begins with a cue moves with it, also where that one is pinned to another clip; let go, it stays', () => {
    const { c1 } = placed().clips,
      burst = addClip({ ...c1!, role: 'element', name: 'burst', start: 1003 }, 'c9'),
      hung = after(burst, addCue('q1', 'hit', 1005), pinCue('q1', 'c1'), changeClip('c9', { cue: 'q1', start: -2 })),
      start = (s: Shot) => clipStart(s, s.clips.c9!);
    expect(hung.clips.c9).toMatchObject({ cue: 'q1', start: -2 });
    expect([start(hung), placedRange(hung, hung.clips.c9!)[0], clipFrame(hung, hung.clips.c9!, 1006)]).toEqual([1003, 1003, 3]);
    const later = applyEdit(hung, changeClip('c1', { start: 1004 })).shot;
    expect([start(later), clipFrame(later, later.clips.c9!, 1006)]).toEqual([1006, 0]);
    for (const edit of [remove('cue', 'q1'), remove('clip', 'c1')]) expect(start(applyEdit(later, edit).shot)).toBe(1006);
    expect(readShot(later)).toEqual(later);
  });
  test('no clip can wait for itself: not at once, not by way of another, not by its later part or its plate', () => {
    const { c1 } = placed().clips,
      more = (id: string) => addClip({ ...c1!, role: 'element', name: id }, id),
      both = after(
        more('c8'),
        more('c9'),
        addCue('q1', 'a', 1005),
        addCue('q2', 'b', 1006),
        pinCue('q1', 'c8'),
        changeClip('c9', { cue: 'q1', start: 0 }),
      );
    expect(waitsForItself(both, 'c8', 'q1')).toBe(true);
    expect(waitsForItself(both, 'c9', 'q1')).toBe(false);
    expect([canPin(both, 'q1', 'c9'), canPin(both, 'q1', 'c1'), canPin(both, 'q2', 'c9')]).toEqual([false, true, true]);
    const round = applyEdit(both, pinCue('q2', 'c9')).shot;
    expect(waitsForItself(round, 'c8', 'q2')).toBe(true);
    expect(() => readShot({ ...round, clips: { ...round.clips, c8: { ...round.clips.c8!, cue: 'q2' } } })).toThrow(
      'begins at a cue that is pinned to what it shows itself',
    );
    const part = { ...c1!, id: 'c7', name: 'part', role: 'element' as const, continues: 'c8' };
    expect(waitsForItself({ ...both, clips: { ...both.clips, c7: part } }, 'c7', 'q1')).toBe(true);
  });
  test('points of a curve that hang on a cue move with it; the others move with the effect', () => {
    const points = [0, 4, 10].map((frame) => ({ frame, value: frame, ease: 'linear' as const })),
      row = (s: Shot) => drawnRows(s).of('r1')[0]!,
      frames = (s: Shot) => row(s).curves.strength!.points.map((p) => [p.frame + row(s).first, p.value]),
      hung = after(
        addCue('q1', 'hit', 1006),
        addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1' }),
        changeRow('r1', { start: 1002, length: 11, curveTiming: 'with its length' }),
        setCurve('r1', 'strength', { points: points.map((p, i) => (i === 1 ? { ...p, frame: 0, cue: 'q1' } : p)) }),
      );
    expect(frames(hung)).toEqual([
      [1002, 0],
      [1006, 4],
      [1012, 10],
    ]);
    // The cue goes beyond the last point: what hangs on it comes last.
    expect(frames(applyEdit(hung, moveCue('q1', 1014)).shot).at(-1)).toEqual([1014, 4]);
    expect(frames(applyEdit(hung, changeRow('r1', { start: 1004, length: 21 })).shot)).toEqual([
      [1004, 0],
      [1006, 4],
      [1024, 10],
    ]);
    expect(rowValues(row(hung), 1004, 1).strength).toBeCloseTo(0.02, 9);
    expect(readShot(hung)).toEqual(hung);
    // A value that is set where it stands goes to it, and it hangs on.
    const set = applyEdit(hung, setCurvePoint('r1', 'strength', { frame: 4, value: 7, ease: 'hold' })).shot;
    expect(set.rows.r1!.curves.strength!.points[1]).toEqual({ frame: 0, cue: 'q1', value: 7, ease: 'hold' });
    expect(asStored(hung, row(hung).curves.strength!, 1002)).toEqual(hung.rows.r1!.curves.strength);
    // A cue that goes lets it stay, also where it stands on another point.
    const gone = applyEdit(applyEdit(hung, moveCue('q1', 1012)).shot, remove('cue', 'q1')).shot;
    expect(gone.rows.r1!.curves.strength!.points.map((p) => [p.frame, p.value, p.cue])).toEqual([
      [0, 0, undefined],
      [10, 4, undefined],
    ]);
    expect(whatGoesWith(hung, 'cue', 'q1')).toContain('curve of Ember');
    expect(settledCurves(hung, hung.rows.r1!).strength!.points.map((p) => [p.frame, p.cue])).toEqual([
      [0, undefined],
      [4, undefined],
      [10, undefined],
    ]);
  });
});
