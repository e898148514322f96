import { drawnFace } from '../../test/drawnFace';
import { faceMiddle, FACE_MARKS, unmirrored } from './face';
import { findFace, type FaceFinder } from './findFace';
import type { PatchPicture } from './patches';

/** A clip of a face that goes to the right, and a second one that stays; the first is away for some frames. */
const clip = { width: 1280, height: 720, frames: 12 },
  faces = (f: number): Float64Array[] => [
    ...(f === 7 ? [] : [drawnFace({ x: 500 + 12 * f, y: 300, apart: 60 })]),
    drawnFace({ x: 900, y: 320, apart: 60 }),
  ];
/** Cuts nothing out, but remembers what square of which frame was asked for, so that the finder can tell where faces lie in it. */
function stand() {
  const asked: { frame: number; side: number }[] = [];
  let cut = { frame: 0, x: 0, y: 0, side: 0, size: 0 };
  const pool = (frame: number, [x, y]: readonly [number, number], side: number, size: number): Promise<PatchPicture> => {
      cut = { frame, x, y, side, size };
      asked.push({ frame, side });
      return Promise.resolve({ width: size, height: size, pixels: new Uint8ClampedArray() });
    },
    finder: FaceFinder = {
      look(_: PatchPicture, mirrored: boolean) {
        const k = cut.size / cut.side,
          seen = faces(cut.frame)
            .map((marks) => marks.map((v, i) => (v - (i % 2 ? cut.y : cut.x) + cut.side / 2) * k))
            .filter((marks) => faceMiddle(marks).every((v) => v > 0 && v < cut.size))
            .map((marks) => (mirrored ? unmirrored(marks, cut.size) : marks));
        return Promise.resolve(seen);
      },
    };
  return { asked, cut: pool, finder };
}
const search = (at: [number, number], frame = 3, signal = new AbortController().signal) => ({
  clip,
  at,
  frame,
  signal,
  tell: () => undefined,
});

test('the face that was pressed is found on every frame, from the first to the last, and lost where it is away', async () => {
  const { asked, ...by } = stand(),
    told: number[] = [],
    found = await findFace({ ...search([540, 310]), ...by, tell: (one) => told.push(one.frame) });
  expect(found.map((f) => f.frame)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11]);
  expect(told).toHaveLength(12);
  for (const { frame, marks, mirrored } of found) {
    if (frame === 7) expect(marks).toBeNull();
    else {
      expect(marks).toHaveLength(2 * FACE_MARKS);
      expect(faceMiddle(marks!)[0]).toBeCloseTo(500 + 12 * frame, 6);
      expect(faceMiddle(mirrored!)[0]).toBeCloseTo(500 + 12 * frame, 6);
    }
  }
  // Once it is known where, only what is about it is looked at.
  expect(asked.filter((a) => a.frame === 5)).toEqual([{ frame: 5, side: 300 }]);
});

test('where no face is, words say what the finder can and what else to do', async () => {
  const { asked: _, ...by } = stand();
  await expect(findFace({ ...search([100, 650]), ...by })).rejects.toThrow(/No face was found here.*Point or Area/);
});

test('what was found before a stop is given', async () => {
  const { asked: _, ...by } = stand(),
    control = new AbortController(),
    found = await findFace({ ...search([540, 310], 3, control.signal), ...by, tell: (one) => one.frame === 5 && control.abort() });
  expect(found.map((f) => f.frame)).toEqual([3, 4, 5]);
});
