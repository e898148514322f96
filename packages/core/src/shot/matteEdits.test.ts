import { apply, smallShot } from '../../test/smallShot';
import * as s from './index';

test('parts of a subject are offered with its name, those of the asked subject first, and let go with it', () => {
  const shot = apply(
    smallShot(),
    s.addSubject('s2', 'Post', 'c1'),
    s.addMatte({ id: 'k5', name: 'Rope', source: null, clip: null }),
    s.addMatte({ id: 'k6', name: 'Hand', source: null, clip: null }),
    s.changeMatte('k5', { part: 's2' }),
    s.changeMatte('k6', { part: 's1' }),
  );
  expect(s.offeredMattes(shot, 's1').map((m) => m.name)).toEqual(['Body: Hand', 'Post: Rope', 'Body', 'Post']);
  expect(s.offeredMattes(shot, 's2')[0]!.name).toBe('Post: Rope');
  expect(apply(shot, s.remove('subject', 's2')).mattes.k5!.part).toBeNull();
});
test('values of the first refinement of a kind are set, or one is added; what a kind does not have is left out', () => {
  const shot = apply(smallShot(), s.refineMatte('k1', { grow: { by: 3 }, feather: { to: 'outwards', width: 9 } }));
  expect(shot.mattes.k1!.refine.map((one) => one.kind)).toEqual(['despeckle', 'fill holes', 'grow', 'blur', 'feather']);
  expect(shot.mattes.k1!.refine[2]).toMatchObject({ by: 3 });
  const changed = apply(shot, s.changeRefinement('k1', 'f3', { by: -2, width: 7, muted: true }));
  expect(changed.mattes.k1!.refine[2]).toEqual({ id: 'f3', kind: 'grow', by: -2, muted: true });
});
test('a source is set by its id, or the first one where none is named; values of other kinds are left out', () => {
  const shot = apply(
    smallShot(),
    s.addSource('k1', 'luma', 'keep inside'),
    s.setSourceValues('k1', { low: 20, threshold: 9 }, 's2'),
    s.setSourceClip('k1', 'c1', 's2'),
    s.setSourceNamed('k1', 'k2', 's2'),
  );
  expect(shot.mattes.k1!.sources[1]).toMatchObject({ mode: 'keep inside', source: { kind: 'luma', low: 20, clip: 'c1' } });
  expect('threshold' in shot.mattes.k1!.sources[1]!.source).toBe(false);
  expect('matte' in shot.mattes.k1!.sources[1]!.source).toBe(false);
  // A matte without sources has nothing to set.
  const none = apply(smallShot(), s.addMatte({ id: 'k5', name: 'Drawn', source: null, clip: null }));
  expect(apply(none, s.setSourceValues('k5', { low: 3 })).mattes.k5).toEqual(none.mattes.k5);
});
test('a performance with alpha is isolated as it comes, once; one without is not', () => {
  const shot = smallShot(),
    bare = { ...shot, subjects: {}, mattes: {}, mounts: {}, rows: {}, occluders: {} },
    drawn = { ...bare, clips: { ...bare.clips, c1: { ...bare.clips.c1!, alpha: true } } };
  expect(apply(bare, s.ownSubject('c1'))).toEqual(bare);
  const isolated = s.readShot(apply(drawn, s.ownSubject('c1'), s.ownSubject('c1'))),
    [subject] = Object.values(isolated.subjects),
    matte = isolated.mattes[subject!.matte!]!;
  expect(Object.keys(isolated.subjects)).toHaveLength(1);
  expect(matte.sources.map((one) => one.source)).toEqual([{ kind: 'clip', clip: null }]);
  expect(matte.refine.filter((one) => one.kind === 'blur')).toEqual([expect.objectContaining({ radius: 0 })]);
});
