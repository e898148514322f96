import {
  eyeDistance,
  FACE_MARKS,
  faceMiddle,
  faceParts,
  faceSamples,
  lidGap,
  openGap,
  otherSide,
  partMiddle,
  partName,
  screenSide,
  unmirrored,
  type FaceMarks,
  type FoundFace,
} from './face';
import { drawnFace } from '../../test/drawnFace';

const both = (frame: number, marks: FaceMarks | null, off = 0): FoundFace => ({
  frame,
  marks,
  mirrored: marks && marks.map((v) => v + off),
});

test('a drawn face has its parts where it was drawn, left and right as the person has them', () => {
  const marks = drawnFace({ x: 300, y: 200, apart: 80 });
  expect(marks).toHaveLength(2 * FACE_MARKS);
  expect(eyeDistance(marks)).toBeCloseTo(80, 9);
  expect(faceMiddle(marks)).toEqual([expect.closeTo(300, 9), expect.closeTo(200, 9)]);
  // Somebody who looks into the camera has the right eye on the left of the screen.
  expect(partMiddle(marks, 'right eye')[0]).toBeCloseTo(260, 9);
  expect(partMiddle(marks, 'left pupil')[0]).toBeCloseTo(340, 9);
  expect(partMiddle(marks, 'mouth')[1]).toBeGreaterThan(260);
});

test('a face in a mirrored picture, put back, is the face itself', () => {
  const marks = drawnFace({ x: 300, y: 200, apart: 80, turn: 12, open: 0.5 }),
    // A mirrored picture shows the face the other way round, and the finder takes its right for its left.
    other = drawnFace({ x: 640 - 300, y: 200, apart: 80, turn: -12, open: 0.5 }),
    back = unmirrored(other, 640);
  for (const part of faceParts) {
    const [x, y] = partMiddle(marks, part),
      [u, v] = partMiddle(back, part);
    expect([part, Math.hypot(u - x, v - y) < 1e-6]).toEqual([part, true]);
  }
  expect(lidGap(back, 'left eye')).toBeCloseTo(lidGap(marks, 'left eye'), 9);
});

test('tracks of a face go, turn and grow with it; a mouth that opens turns nothing', () => {
  const found = Array.from({ length: 20 }, (_, f) =>
      both(f, drawnFace({ x: 300 + 3 * f, y: 200 + f, apart: 80 * (1 + 0.01 * f), turn: 1.5 * f, mouth: (f % 5) / 5 })),
    ),
    { face, parts } = faceSamples(found, 0);
  for (const f of [0, 7, 19]) {
    expect(face[f]).toMatchObject({ frame: f, state: 'good', x: expect.closeTo(300 + 3 * f, 6), y: expect.closeTo(200 + f, 6) });
    expect(face[f]!.rotation).toBeCloseTo(1.5 * f, 6);
    expect(face[f]!.scale).toBeCloseTo(1 + 0.01 * f, 6);
    expect(parts.mouth[f]!.rotation).toBeCloseTo(1.5 * f, 6);
    const pupil = partMiddle(found[f]!.marks!, 'left pupil');
    expect([parts['left pupil'][f]!.x, parts['left pupil'][f]!.y]).toEqual([expect.closeTo(pupil[0], 9), expect.closeTo(pupil[1], 9)]);
  }
});

test('what two looks differ by says how sure a place is; where no face was found the track is lost', () => {
  const marks = drawnFace({ x: 300, y: 200, apart: 80 }),
    { face, parts } = faceSamples([both(0, marks), both(1, marks, 0.5), both(2, marks, 6), both(3, null)], 0);
  expect(face.map((s) => s.state)).toEqual(['good', 'good', 'weak', 'lost']);
  expect(face[3]).toMatchObject({ x: null, y: null, confidence: 0 });
  expect(parts['left eye'][2]!.confidence).toBeLessThan(parts['left eye'][1]!.confidence);
  // One look alone is never called good.
  expect(faceSamples([{ frame: 0, marks, mirrored: null }], 0).face[0]!.state).toBe('weak');
  expect(() => faceSamples([both(0, null)], 0)).toThrow(RangeError);
});

test('lids say how far the eye is open, of its widest; a pupil behind shut lids is weak', () => {
  const opens = [1, 1, 0.9, 0.5, 0.1, 0, 0.4, 1, 1, 1],
    found = opens.map((open, f) => both(f, drawnFace({ x: 300, y: 200, apart: 80, open }))),
    { lids, parts } = faceSamples(found, 0);
  expect(openGap(found, 'left eye')).toBeCloseTo(0.3, 6);
  opens.forEach((open, f) => expect(lids['left eye'][f]!.confidence).toBeCloseTo(open, 6));
  expect(parts['right pupil'].map((s) => s.state)).toEqual(opens.map((open) => (open < 0.45 ? 'weak' : 'good')));
  expect(parts['right eye'].every((s) => s.state === 'good')).toBe(true);
});

test('a part is named by both sides: the own one, and the one on the screen, also upside down', () => {
  const upright = faceSamples([both(0, drawnFace({ x: 300, y: 200, apart: 80 }))], 0).parts,
    upside = faceSamples([both(0, drawnFace({ x: 300, y: 200, apart: 80, turn: 180 }))], 0).parts;
  expect(partName('left eye', screenSide(upright, 'left eye', 0))).toBe('Left eye (screen right)');
  expect(partName('left eye', screenSide(upside, 'left eye', 0))).toBe('Left eye (screen left)');
  expect(partName('mouth', screenSide(upright, 'mouth', 0))).toBe('Mouth');
  expect(otherSide('left brow')).toBe('right brow');
  expect(otherSide('mouth')).toBe('mouth');
});
