import fc from 'fast-check';
import type { TrackSample } from './pointTracker';
import { readTracks, tracksAsCsv, tracksAsJson, type CarriedTrack } from './trackFile';

const number = fc.double({ min: -5000, max: 5000, noNaN: true }).map((v) => (Object.is(v, -0) ? 0 : v)),
  point = fc.tuple(number, number),
  sample = (frame: number): fc.Arbitrary<TrackSample> =>
    fc.boolean().chain((lost) =>
      fc.record({
        frame: fc.constant(frame),
        x: lost ? fc.constant(null) : number,
        y: lost ? fc.constant(null) : number,
        rotation: number,
        scale: fc.double({ min: 0.01, max: 50, noNaN: true }),
        ...(lost ? {} : { corners: fc.array(point, { minLength: 4, maxLength: 4 }) }),
        confidence: lost ? fc.constant(0) : fc.double({ min: 0, max: 1, noNaN: true }).map((v) => v + 0),
        state: fc.constantFrom(...(lost ? (['lost'] as const) : (['good', 'weak', 'keyed'] as const))),
      } as never),
    ),
  track = (name: string): fc.Arbitrary<CarriedTrack> =>
    fc
      .tuple(sample(0), sample(1), sample(2), sample(7))
      .filter((all) => all.some((s) => s.x !== null))
      .map((samples) => ({ name, kind: 'plane', samples }));

test('whatever tracks are written as a table or as JSON are read again, to the last bit', () => {
  fc.assert(
    fc.property(track('Pin, "left"'), track('Hem'), (a, b) => {
      expect(readTracks(tracksAsCsv([a, b]), 'x.csv')).toEqual([a, b]);
      expect(readTracks(tracksAsJson([a, b]), 'x.json')).toEqual([a, b]);
    }),
    { numRuns: 60 },
  );
});
test('tables of others need no more than frame, x and y, in any order and with any separator', () => {
  expect(readTracks('Y;X;Frame\n20.5;10;1\n\n21;11;0\n;;2\n', 'hand.csv')).toEqual([
    {
      name: 'hand',
      kind: 'point',
      samples: [
        { frame: 0, x: 11, y: 21, rotation: 0, scale: 1, confidence: 1, state: 'good' },
        { frame: 1, x: 10, y: 20.5, rotation: 0, scale: 1, confidence: 1, state: 'good' },
        { frame: 2, x: null, y: null, rotation: 0, scale: 1, confidence: 0, state: 'lost' },
      ],
    },
  ]);
});
test('what the command line writes is read, and samples alone', () => {
  const samples = [{ frame: 3, x: 1, y: 2, rotation: 0, scale: 1, confidence: 1, state: 'good' }];
  expect(readTracks(JSON.stringify({ mode: 'area', samples }), 'coat.json')).toMatchObject([{ name: 'coat', kind: 'area', samples }]);
  expect(readTracks(JSON.stringify(samples), 'coat.json')).toMatchObject([{ kind: 'point', samples }]);
});
test.each([
  ['frame,x\n1,2', /y is missing/],
  ['frame,x,y\n1,2,three', /Line 2: y wants a number, not "three"/],
  ['frame,x,y\n1,2,3\n1.5,2,3', /Line 3: frame is not right/],
  ['frame,x,y\n1,2,3\n1,2,3', /frame 1 twice/],
  ['frame,x,y,state\n1,2,3,fine', /Line 2: state is not right \("fine"\)/],
  ['frame,x,y', /no lines/],
  ['frame,x,y\n1,,', /no place on any frame/],
  ['{"kind":', /neither JSON/],
  ['{"kind":"shot"}', /holds no tracks/],
])('%j is refused in words', (text, words) => expect(() => readTracks(text, 'a.csv')).toThrow(words));
