import { hypot } from '../image/exactMath';
import { eyeDistance, faceMiddle, unmirrored, type FaceMarks as Marks, type FoundFace } from './face';
import type { PatchPicture, SquareCutter } from './patches';

/** A square of the clip, pixels of it. */
interface Square {
  at: readonly [number, number];
  side: number;
}
/** Sides of squares that are looked at, as multiples of the distance of the eyes: about the face, and wider where it was lost. */
const ABOUT = 5,
  WIDER = 10;
/** A face may be this far from where it was, in distances of its eyes. */
const NEAR = 2;
/** Pixels of what is looked at, at the most: the finder makes less of it itself. */
const SIZE = 640;
/** Pixels between the eyes below which nothing is told apart in a face. */
const SMALLEST = 10;

/** Finds faces in a picture, or in its mirror image: the places of each, in pixels of what was looked at. */
export interface FaceFinder {
  look(picture: PatchPicture, mirrored: boolean): Promise<Marks[]>;
}
export interface FaceSearch {
  clip: { width: number; height: number; frames: number };
  cut: SquareCutter;
  finder: FaceFinder;
  /** Where the face is, clip pixels, and the frame of the clip. */
  at: readonly [number, number];
  frame: number;
  signal?: AbortSignal;
  /** Hears of every frame that was looked at. */
  tell(found: FoundFace): void;
}

/** The nearest of some faces to a place; null where none is near enough. */
function nearest(faces: readonly Marks[], [x, y]: readonly [number, number], within: number): Marks | null {
  let best: Marks | null = null,
    least = Infinity;
  for (const marks of faces) {
    const [u, v] = faceMiddle(marks),
      off = hypot(u - x, v - y),
      apart = eyeDistance(marks);
    if (off < least && off < within * apart && apart >= SMALLEST) [best, least] = [marks, off];
  }
  return best;
}

/**
 * Looks for one face on every frame of a clip, from one frame to the end and then to the start, in a square about where it was.
 * @throws an Error for people where there is no face at the place that was pressed.
 */
export async function findFace({ clip, cut, finder, at, frame, signal, tell }: FaceSearch): Promise<FoundFace[]> {
  /** Both looks at a square of a frame: as it is, and mirrored. */
  const looked = async (
    f: number,
    { at: about, side }: Square,
    near: readonly [number, number],
    within: number,
  ): Promise<FoundFace | null> => {
    const each = Math.max(1, Math.ceil(side / SIZE)),
      size = 2 * Math.round(side / each / 2),
      // On whole pixels, so that nothing is moved by being cut out.
      [x, y] = [Math.round(about[0]), Math.round(about[1])],
      picture = await cut(f, [x, y], size * each, size);
    if (!picture) return null;
    const back = (marks: Marks) => marks.map((v, i) => v * each - (size * each) / 2 + (i % 2 ? y : x)),
      own = nearest((await finder.look(picture, false)).map(back), near, within);
    if (!own) return null;
    const again = (await finder.look(picture, true)).map((marks) => back(unmirrored(marks, size)));
    return { frame: f, marks: own, mirrored: nearest(again, faceMiddle(own), NEAR / 4) };
  };
  const whole = Math.max(clip.width, clip.height);
  let begun: FoundFace | null = null;
  for (const side of [clip.height * 0.6, whole, clip.height * 0.3, clip.height * 0.15]) {
    begun = await looked(frame, { at: side === whole ? [clip.width / 2, clip.height / 2] : at, side }, at, NEAR);
    if (begun?.marks) break;
  }
  if (!begun?.marks)
    throw new Error(
      'No face was found here. The finder knows the faces of filmed people that are at least 60 pixels high and turned no further than to the side. ' +
        'Press on the middle of the face, go to a frame on which it is seen better, or follow the eyes with Point or Area.',
    );
  const first = begun.marks,
    // Once more from near by: that is the look that every other frame has.
    close = await looked(frame, { at: faceMiddle(first), side: ABOUT * eyeDistance(first) }, faceMiddle(first), NEAR),
    found = [close ?? begun];
  tell(found[0]!);
  for (const step of [1, -1]) {
    let last = found[0]!.marks!,
      gone = 0;
    for (let f = frame + step; f >= 0 && f < clip.frames; f += step) {
      if (signal?.aborted) return sorted(found);
      const near = faceMiddle(last),
        apart = eyeDistance(last),
        here =
          (gone < 3 ? await looked(f, { at: near, side: ABOUT * apart }, near, NEAR) : null) ??
          (await looked(f, { at: near, side: WIDER * apart }, near, NEAR * 2));
      if (here?.marks) {
        last = here.marks;
        gone = 0;
      } else gone++;
      const one = here ?? { frame: f, marks: null, mirrored: null };
      found.push(one);
      tell(one);
    }
  }
  return sorted(found);
}
const sorted = (found: FoundFace[]): FoundFace[] => found.sort((a, b) => a.frame - b.frame);
