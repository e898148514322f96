import { faceParts, faceSamples, type TrackSample } from '../motion';
import { drawnFace } from '../../test/drawnFace';
import { apply, smallShot } from '../../test/smallShot';
import { addTrack, applyEdit, applyChange, faceOf, faceTracks, readShot, remove, type Shot, type Track } from '.';

const found = faceSamples(
    Array.from({ length: 12 }, (_, frame) => {
      const marks = drawnFace({ x: 30 + frame, y: 20, apart: 12 });
      return { frame, marks, mirrored: marks };
    }),
    0,
  ),
  shot = apply(smallShot(), addTrack({ id: 't1', name: 'Ilse', clip: 'c1', at: [28, 22], frame: 0, kind: 'face' })),
  stored = new Map<string, readonly TrackSample[]>(),
  keep = (samples: readonly TrackSample[]) => {
    const hash = `h${stored.size}`;
    stored.set(hash, samples);
    return Promise.resolve(hash);
  },
  kindsIn = (of: Shot) => Object.values(of.tracks).reduce<Record<string, number>>((n, t) => ({ ...n, [t.kind]: (n[t.kind] ?? 0) + 1 }), {});

test('a face that was found gets its parts and lids in one edit, named by both sides; one step back takes them all away', async () => {
  const made = applyEdit(shot, await faceTracks(shot, shot.tracks.t1!, found, keep)),
    all = Object.values(made.shot.tracks),
    named = (name: string) => all.find((t) => t.name === name)!;
  readShot(made.shot);
  expect(kindsIn(made.shot)).toEqual({ face: 1, 'face part': faceParts.length, lids: 2 });
  expect(made.shot.tracks.t1!.at).toEqual([expect.closeTo(30, 6), expect.closeTo(20, 6)]);
  const eye = named('Left eye (screen right)');
  expect(stored.get(eye.samples!)).toBe(found.parts['left eye']);
  expect(eye.at[0]).toBeCloseTo(36, 6);
  const lids = named('Lids of the left eye');
  expect(stored.get(lids.samples!)).toBe(found.lids['left eye']);
  expect(faceOf(made.shot, lids)?.id).toBe('t1');
  expect(faceOf(made.shot, eye)?.id).toBe('t1');
  expect(applyChange(made.shot, made.change.inverse)).toEqual(shot);
});

test('found again, what was removed stays away and the others are measured anew', async () => {
  const first = apply(shot, await faceTracks(shot, shot.tracks.t1!, found, keep)),
    brow = Object.values(first.tracks).find((t) => t.name.startsWith('Left brow'))!,
    less = apply(first, remove('track', brow.id)),
    again = apply(less, await faceTracks(less, less.tracks.t1!, found, keep));
  expect(Object.keys(again.tracks).sort()).toEqual(Object.keys(less.tracks).sort());
  for (const track of Object.values(again.tracks) as Track[]) {
    expect(stored.has(track.samples!)).toBe(true);
    expect(track.samples).not.toBe(less.tracks[track.id]!.samples);
  }
});
