import { smallShot } from '../../test/smallShot';
import {
  addCue,
  addRow,
  applyEdit,
  changeClip,
  changeRow,
  cueFrame,
  moveCue,
  pinCue,
  readShot,
  remove,
  rowRange,
  setCurve,
  setPlaced,
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
});
