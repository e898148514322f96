import { apply, smallShot } from '../../test/smallShot';
import { corner, type FollowedBody } from '../matte';
import { shapeAt } from '../matte/outlineKeys';
import { bodyHeight, bodySamples, keepIsolated, keepPerson } from './isolated';
import { changeSubject } from './edits';
import { readShot } from './schema';

/** A body of 20 by 30 px that goes 2 px a frame; not there on frame 5, half covered on frame 7. */
const bodies = Array.from({ length: 12 }, (_, frame): FollowedBody => {
  const x = 10 + 2 * frame,
    around = [corner(x - 2, 8), corner(x + 22, 8), corner(x + 22, 42), corner(x - 2, 42)];
  if (frame === 5) return { frame, area: 0, middle: [x + 10, 25], box: null, around, sure: 0, spreads: false };
  const half = frame === 7;
  return {
    frame,
    area: half ? 300 : 600,
    middle: [x + 10, 25],
    box: [x, 10, x + 20, half ? 25 : 40],
    around,
    sure: half ? 0.4 : 1,
    spreads: false,
  };
});

test('samples say where it stands, where it is not, and that a body that is covered has not shrunk', () => {
  const samples = bodySamples(bodies, 3);
  expect(samples.map((s) => s.state)).toEqual([
    'good',
    'good',
    'good',
    'keyed',
    'good',
    'lost',
    'good',
    'weak',
    'good',
    'good',
    'good',
    'good',
  ]);
  expect(samples[8]).toMatchObject({ x: 36, y: 25, scale: 1 });
  expect(samples[7]!.scale).toBe(1);
  expect(bodyHeight(bodies)).toBe(30);
});

test('all that is made of a body are ordinary entities, and belong to a subject', () => {
  const before = apply(smallShot(), changeSubject('s1', { matte: null })),
    shot = apply(before, keepIsolated({ name: 'Body', clip: 'c1', bodies, pressed: 3, samples: 'kept', shadow: 'dropped' })),
    subject = shot.subjects.s1!,
    matte = shot.mattes[subject.matte!]!,
    traces = shot.mattes[subject.traces!]!;
  expect(Object.keys(shot.subjects)).toEqual(Object.keys(before.subjects));
  expect(matte.sources[0]!.source).toMatchObject({ kind: 'difference', looks: 'the whole body', shadow: 'dropped' });
  expect(traces.sources[0]!.source).toMatchObject({ shadow: 'kept' });
  expect(traces.outlines[0]!.values.grow).toBe(Math.round(0.22 * 30));
  const [around] = matte.outlines;
  expect(around!.mode).toBe('keep inside');
  for (const { frame, around: true_ } of bodies) expect(Math.abs(shapeAt(around!.keys, frame)[0]!.x - true_[0]!.x)).toBeLessThan(0.35);
  // Only the frame that was pressed counts as drawn; the frame without the body is doubtful.
  expect(around!.keys.filter((k) => !k.sure).map((k) => k.frame)).toEqual([3]);
  expect(around!.keys.some((k) => k.sure && Math.min(...k.sure) === 0)).toBe(true);
  const track = shot.tracks[shot.mounts[subject.mount!]!.track]!;
  expect(track).toMatchObject({ kind: 'matte', matte: matte.id, frame: 3, samples: 'kept' });
  expect(subject.pixels).toBe(30);
  expect(() => readShot(JSON.parse(JSON.stringify({ ...shot, tracks: {}, mounts: {}, subjects: {} })))).not.toThrow();
});

test('a subject that has a matte keeps it: the body becomes one of its own', () => {
  const shot = apply(smallShot(), keepIsolated({ name: 'Body', clip: 'c1', bodies, pressed: 3, samples: 'kept', shadow: 'kept' }));
  expect(shot.subjects.s1).toEqual(smallShot().subjects.s1);
  expect(Object.values(shot.subjects).map((s) => s.name)).toContain('Body');
});

test('a person who was found is a clip of mattes, a matte on the edges of the picture, and a subject with its height', () => {
  const before = apply(smallShot(), changeSubject('s1', { matte: null })),
    found = { ...before.clips.c3!, name: 'found', frames: 12 },
    shot = readShot(apply(before, keepPerson({ name: 'Person', of: 'c1', found, height: 200 }))),
    { matte, pixels } = shot.subjects.s1!,
    made = shot.mattes[matte!]!,
    source = made.sources[0]!.source;
  expect(pixels).toBe(200);
  expect(made.clip).toBeNull();
  expect(shot.clips[source.clip!]).toMatchObject({ role: 'element', start: shot.clips.c1!.start, frames: 12 });
  expect(made.refine.at(-1)).toMatchObject({ kind: 'follow edges', radius: 5 });
  // A second one is a subject of its own.
  const two = apply(shot, keepPerson({ name: 'Person', of: 'c1', found, height: 90 }));
  expect(Object.values(two.subjects).map((one) => one.pixels)).toEqual([200, 90]);
});
