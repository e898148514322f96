import { apply, FIRST, smallShot } from '../../test/smallShot';
import { frozen } from '../placing';
import { valueAt } from '../time';
import * as s from './index';

const clip = { kind: 'clip', id: 'c1' } as const,
  at = (shot: s.Shot, frame: number) => s.clipFrame(shot, shot.clips.c1!, frame),
  trims = ({ clips: { c1 } }: s.Shot) => [c1!.start, c1!.placed.values.trimStart, c1!.placed.values.trimEnd];

describe('trims', () => {
  test('the start: what stands at the new first frame stood there before; what was cut comes back', () => {
    const shot = smallShot(),
      cut = apply(shot, s.trimClipStart(shot, 'c1', FIRST + 4));
    expect(trims(cut)).toEqual([FIRST + 4, 4, 0]);
    for (const f of [4, 7, 11]) expect(at(cut, FIRST + f)).toBe(at(shot, FIRST + f));
    expect(trims(apply(cut, s.trimClipStart(cut, 'c1', FIRST + 1)))).toEqual([FIRST + 1, 1, 0]);
    // No frame comes before the first.
    expect(trims(apply(cut, s.trimClipStart(cut, 'c1', FIRST - 20)))).toEqual([FIRST, 0, 0]);
    expect(trims(apply(shot, s.trimClipStart(shot, 'c1', FIRST + 90)))).toEqual([FIRST + 11, 11, 0]);
  });
  test('the end, at half speed and backwards', () => {
    const shot = smallShot(),
      cut = apply(shot, s.trimClipEnd(shot, 'c1', FIRST + 7));
    expect(trims(cut)).toEqual([FIRST, 0, 4]);
    expect(s.placedRange(cut, cut.clips.c1!)).toEqual([FIRST, FIRST + 7]);
    const slow = apply(shot, s.setPlaced(clip, 'speed', 50)),
      slowCut = apply(slow, s.trimClipEnd(slow, 'c1', FIRST + 7));
    expect(trims(slowCut)).toEqual([FIRST, 0, 8]);
    expect(s.placedRange(slowCut, slowCut.clips.c1!)).toEqual([FIRST, FIRST + 7]);
    const back = apply(shot, s.setPlaced(clip, 'direction', 'backwards')),
      backCut = apply(back, s.trimClipStart(back, 'c1', FIRST + 3));
    expect(trims(backCut)).toEqual([FIRST + 3, 0, 3]);
    expect(at(backCut, FIRST + 3)).toBe(at(back, FIRST + 3));
  });
  test('curves of the placement stay where they were in the shot', () => {
    const shot = apply(smallShot(), s.setPlacedPoint(clip, 'size', { frame: 6, value: 50, ease: 'linear' })),
      cut = apply(shot, s.trimClipStart(shot, 'c1', FIRST + 4));
    expect(cut.clips.c1!.placed.curves.size!.points[0]!.frame).toBe(2);
  });
  test('a slip shows other frames in the same place, as far as there are any', () => {
    const shot = apply(smallShot(), s.setPlaced(clip, 'trimStart', 3), s.setPlaced(clip, 'trimEnd', 2));
    expect(trims(apply(shot, s.slipClip(shot, 'c1', 1)))).toEqual([FIRST, 4, 1]);
    expect(trims(apply(shot, s.slipClip(shot, 'c1', 9)))).toEqual([FIRST, 5, 0]);
    expect(trims(apply(shot, s.slipClip(shot, 'c1', -9)))).toEqual([FIRST, 0, 5]);
  });
});

describe('a freeze', () => {
  test('the same picture for its frames, then on as before', () => {
    const shot = apply(smallShot(), s.freezePlaced(clip, 3, 4));
    expect([0, 1, 2, 3, 4, 6, 7, 8, 9, 10].map((f) => at(shot, FIRST + f))).toEqual([0, 1, 2, 3, 3, 3, 3, 4, 5, 6]);
    // At the very beginning too.
    expect([0, 1, 2, 3].map((f) => at(apply(smallShot(), s.freezePlaced(clip, 0, 2)), FIRST + f))).toEqual([0, 0, 0, 1]);
  });
  test('a speed that changes goes on where it was; a second freeze in the first does no harm', () => {
    const ramp = {
        points: [
          { frame: 0, value: 0, ease: 'linear' as const },
          { frame: 20, value: 200, ease: 'linear' as const },
        ],
      },
      still = frozen(ramp, 100, 10, 5);
    expect([9, 10, 14].map((f) => valueAt(still, f))).toEqual([90, 0, 0]);
    expect(valueAt(still, 15)).toBe(150);
    const twice = frozen(still, 100, 12, 6);
    expect(twice.points.every((p, i) => i === 0 || p.frame > twice.points[i - 1]!.frame)).toBe(true);
    expect(valueAt(twice, 13)).toBe(0);
  });
  test('a row that shows a clip', () => {
    const shot = apply(smallShot(), s.addRow({ id: 'r1', effect: 'element', lane: 'front', subject: 's1' }), s.freezeRow('r1', 2, 3));
    expect(shot.rows.r1!.curves.speed!.points.map((p) => [p.frame, p.value])).toEqual([
      [0, 100],
      [2, 0],
      [5, 100],
    ]);
    expect(() => s.readShot(JSON.parse(JSON.stringify(shot)))).not.toThrow();
  });
});

describe('a split', () => {
  const shot = apply(smallShot(), s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 24], frame: 0 }));
  test('changes no frame; then the later part can be moved, slipped and retimed for itself', () => {
    const split = apply(shot, s.splitClip(shot, 'c1', FIRST + 5, 'c9'));
    expect(split.clips.c9).toMatchObject({ continues: 'c1', start: FIRST + 5, role: 'element', name: 'performance 2' });
    for (let f = 0; f < 12; f++) expect(at(split, FIRST + f)).toBe(f);
    const slipped = apply(split, s.slipClip(split, 'c9', -3));
    expect([4, 5, 8, 11].map((f) => at(slipped, FIRST + f))).toEqual([4, 2, 5, 8]);
    const slow = apply(split, s.setPlaced({ kind: 'clip', id: 'c9' }, 'speed', 50), s.changeClip('c9', { start: FIRST + 7 }));
    // The earlier part stays on its last frame until the later one begins.
    expect([4, 6, 7, 9].map((f) => at(slow, FIRST + f))).toEqual([4, 4, 5, 6]);
  });
  test('parts of parts belong to the first; what was measured is asked for there; all go together', () => {
    const once = apply(shot, s.splitClip(shot, 'c1', FIRST + 4, 'c8')),
      twice = apply(once, s.splitClip(once, 'c8', FIRST + 8, 'c9'));
    expect(twice.clips.c9!.continues).toBe('c1');
    expect(s.laterParts(twice, 'c1').map((c) => c.id)).toEqual(['c8', 'c9']);
    expect(s.partAt(twice, twice.clips.c1!, FIRST + 9).id).toBe('c9');
    expect(twice.tracks.t1!.clip).toBe('c1');
    expect(Object.keys(apply(twice, s.remove('clip', 'c1')).clips).sort()).toEqual(['c2', 'c3', 'c4']);
    expect(Object.keys(apply(twice, s.remove('clip', 'c9')).clips)).toContain('c8');
  });
  test('the curve of the codes is that of the medium: all parts have it', () => {
    const split = apply(shot, s.splitClip(shot, 'c1', FIRST + 4, 'c8'), s.changeClip('c1', { transfer: 'rec709' }));
    expect([split.clips.c1!.transfer, split.clips.c8!.transfer, split.clips.c2!.transfer]).toEqual(['rec709', 'rec709', 'srgb']);
  });
  test('says where it cannot be', () => {
    expect(s.whyNotSplit(shot, shot.clips.c1!, FIRST)).toMatch(/between 1002 and 1012/);
    expect(s.whyNotSplit(shot, shot.clips.c1!, FIRST + 1)).toBeNull();
    expect(s.whyNotSplit(shot, shot.clips.c2!, FIRST + 1)).toMatch(/still/);
    const loops = apply(shot, s.setPlaced(clip, 'playback', 'loops'));
    expect(s.whyNotSplit(loops, loops.clips.c1!, FIRST + 3)).toMatch(/for ever/);
  });
});
