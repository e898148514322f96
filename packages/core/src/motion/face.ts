import { exp, hypot, PI } from '../image/exactMath';
import type { Point } from './frame';
import { placeAt } from './layers';
import type { TrackSample } from './pointTracker';
import { similarityOf, sizeOf, turnOf } from './similarity';

/** What of a face can be carried by a track. Left and right are the person's own. */
export const faceParts = [
  'left eye',
  'right eye',
  'left pupil',
  'right pupil',
  'left brow',
  'right brow',
  'mouth',
  'outline of the face',
] as const;
export type FacePart = (typeof faceParts)[number];
export const eyeParts = ['left eye', 'right eye'] as const;
export type EyePart = (typeof eyeParts)[number];

/** Places that a face finder gives of one face on one frame, clip pixels: 478 of them, x and y in turns, in the order of the canonical face mesh. */
export type FaceMarks = Float64Array;
/** Numbers of a face's places. */
export const FACE_MARKS = 478;

/*
 * Which places of the canonical face mesh (the topology that MediaPipe publishes, with the irises after it) belong to what. The person's own right comes
 * first in it, which is on the left of the screen.
 */
const places: Record<FacePart, readonly number[]> = {
  'right eye': [33, 7, 163, 144, 145, 153, 154, 155, 133, 173, 157, 158, 159, 160, 161, 246],
  'left eye': [263, 249, 390, 373, 374, 380, 381, 382, 362, 398, 384, 385, 386, 387, 388, 466],
  'right pupil': [468, 469, 470, 471, 472],
  'left pupil': [473, 474, 475, 476, 477],
  'right brow': [70, 63, 105, 66, 107, 46, 53, 52, 65, 55],
  'left brow': [300, 293, 334, 296, 336, 276, 283, 282, 295, 285],
  mouth: [61, 146, 91, 181, 84, 17, 314, 405, 321, 375, 291, 409, 270, 269, 267, 0, 37, 39, 40, 185],
  'outline of the face': [
    10, 338, 297, 332, 284, 251, 389, 356, 454, 323, 361, 288, 397, 365, 379, 378, 400, 377, 152, 148, 176, 149, 150, 136, 172, 58, 132, 93,
    234, 127, 162, 21, 54, 103, 67, 109,
  ],
};
/** Places that keep their distances whatever the face does: corners of the eyes, the bridge of the nose and its root and wings. */
const firm = [33, 133, 362, 263, 168, 6, 197, 195, 5, 98, 327, 2];
/** Of each eye: its two corners, and pairs of the upper and the lower lid. */
const lids: Record<EyePart, { corners: readonly [number, number]; pairs: readonly (readonly [number, number])[] }> = {
  'right eye': {
    corners: [33, 133],
    pairs: [
      [160, 144],
      [159, 145],
      [158, 153],
    ],
  },
  'left eye': {
    corners: [263, 362],
    pairs: [
      [387, 373],
      [386, 374],
      [385, 380],
    ],
  },
};
const mirrored: Record<FacePart, FacePart> = {
  ...{ 'left eye': 'right eye', 'right eye': 'left eye', 'left pupil': 'right pupil', 'right pupil': 'left pupil' },
  ...{ 'left brow': 'right brow', 'right brow': 'left brow', mouth: 'mouth', 'outline of the face': 'outline of the face' },
};
/** The same part on the other side of the face; the part itself where it has no side. */
export const otherSide = (part: FacePart): FacePart => mirrored[part];

const at = (marks: FaceMarks, i: number): Point => [marks[2 * i]!, marks[2 * i + 1]!];
function middle(marks: FaceMarks, of: readonly number[]): [number, number] {
  let [x, y] = [0, 0];
  for (const i of of) {
    x += marks[2 * i]!;
    y += marks[2 * i + 1]!;
  }
  return [x / of.length, y / of.length];
}
const between = (a: Point, b: Point) => hypot(a[0] - b[0], a[1] - b[1]);
/** Distance between the middles of the eyes, pixels. */
export const eyeDistance = (marks: FaceMarks): number => between(middle(marks, places['left eye']), middle(marks, places['right eye']));
/** Middle between the eyes. */
export const faceMiddle = (marks: FaceMarks): Point => middle(marks, firm.slice(0, 4));
/** Middle of a part. */
export const partMiddle = (marks: FaceMarks, part: FacePart): Point => middle(marks, places[part]);
/** How far an eye is open: the mean gap between its lids over its width (Soukupová and Čech 2016). About 0.3 open, below 0.15 shut. */
export function lidGap(marks: FaceMarks, eye: EyePart): number {
  const { corners, pairs } = lids[eye],
    wide = between(at(marks, corners[0]), at(marks, corners[1]));
  return wide > 0 ? pairs.reduce((sum, [up, low]) => sum + between(at(marks, up), at(marks, low)), 0) / pairs.length / wide : 0;
}

/** A face on one frame: where it was found, and where in the mirrored picture, put back; null where none was found. */
export interface FoundFace {
  frame: number;
  marks: FaceMarks | null;
  mirrored: FaceMarks | null;
}
/** The mirrored places as those of the picture itself: sides are exchanged, x goes back. @param width of the picture that was mirrored, pixels. */
export function unmirrored(marks: FaceMarks, width: number): FaceMarks {
  const out = new Float64Array(marks.length);
  for (let i = 0; i < marks.length / 2; i++) {
    out[2 * i] = width - marks[2 * mirrorOf[i]!]!;
    out[2 * i + 1] = marks[2 * mirrorOf[i]! + 1]!;
  }
  return out;
}
/** Which place stands for which in a mirrored face, for all that are used here. */
const mirrorOf: readonly number[] = (() => {
  const all = Array.from({ length: FACE_MARKS }, (_, i) => i),
    swap = (a: readonly number[], b: readonly number[]) =>
      a.forEach((i, k) => {
        all[i] = b[k]!;
        all[b[k]!] = i;
      });
  for (const part of ['eye', 'pupil', 'brow'] as const) swap(places[`right ${part}`], places[`left ${part}`]);
  // An iris is its middle, then right, top, left and bottom.
  [all[469], all[471], all[474], all[476]] = [476, 474, 471, 469];
  swap([61, 146, 91, 181, 84, 185, 40, 39, 37], [291, 375, 321, 405, 314, 409, 270, 269, 267]);
  const { 'outline of the face': oval } = places;
  for (let k = 1; k < oval.length / 2; k++) swap([oval[k]!], [oval[oval.length - k]!]);
  swap([98], [327]);
  return all;
})();

/**
 * What two looks at the same face may differ by and still be sure, as a share of the distance of the eyes. A face that is seen well differs by 1 to 2 %,
 * one that is covered or turned far by much more (measured on photographs and on a drawn face).
 */
const SURE = 0.05;
/** Lids that are this far apart at the most, as a share of how far they open, hide the pupil: shut, they are still told 0.25 to 0.35 apart. */
const HIDES = 0.45;

/** How far the lids open where they are open, as the ninth tenth of all frames; 0 where no face was found. */
export function openGap(found: readonly FoundFace[], eye: EyePart): number {
  const gaps = found.flatMap(({ marks }) => (marks ? [lidGap(marks, eye)] : [])).sort((a, b) => a - b);
  return gaps.length ? gaps[Math.min(gaps.length - 1, Math.floor(0.9 * gaps.length))]! : 0;
}

/** The mean of both looks. */
function meanMarks({ marks, mirrored: other }: FoundFace): FaceMarks | null {
  return marks && other ? marks.map((v, i) => (v + other[i]!) / 2) : (marks ?? other);
}

/**
 * Samples of the tracks of a face: of the whole (its place is between the eyes), of each part, and of each eye's lids (their confidence is how far it is
 * open, 0..1 of the widest). Turn and growth are those of the whole face since `reference`, by what of it is firm, so that a mouth that opens turns
 * nothing. The finder says nothing of how sure it is: the face is looked at twice, the second time mirrored, and what the two differ by says it.
 * @throws RangeError where no face was found on any frame.
 */
export function faceSamples(
  found: readonly FoundFace[],
  reference: number,
): { face: TrackSample[]; parts: Record<FacePart, TrackSample[]>; lids: Record<EyePart, TrackSample[]> } {
  const means = found.map(meanMarks),
    known = found.flatMap(({ frame }, i) => (means[i] ? [{ frame, marks: means[i]! }] : []));
  if (!known.length) throw new RangeError('faceSamples: no face was found');
  const first = known.reduce((best, one) => (Math.abs(one.frame - reference) < Math.abs(best.frame - reference) ? one : best)).marks,
    widest = { 'left eye': openGap(found, 'left eye'), 'right eye': openGap(found, 'right eye') },
    out = {
      face: [] as TrackSample[],
      parts: Object.fromEntries(faceParts.map((part) => [part, []])) as unknown as Record<FacePart, TrackSample[]>,
      lids: { 'left eye': [] as TrackSample[], 'right eye': [] as TrackSample[] },
    };
  found.forEach((one, i) => {
    const { frame } = one,
      marks = means[i],
      lost: TrackSample = { frame, x: null, y: null, rotation: 0, scale: 1, confidence: 0, state: 'lost' };
    if (!marks) {
      out.face.push(lost);
      for (const part of faceParts) out.parts[part].push(lost);
      for (const eye of eyeParts) out.lids[eye].push(lost);
      return;
    }
    const map = similarityOf(firm.map((k) => [at(first, k), at(marks, k)] as const)),
      pose = { rotation: map ? (turnOf(map) * 180) / PI : 0, scale: map ? sizeOf(map) : 1 },
      apart = eyeDistance(marks),
      sureOf = (of: readonly number[]) => {
        if (!one.marks || !one.mirrored) return 0.4;
        const off = between(middle(one.marks, of), middle(one.mirrored, of)) / Math.max(1, apart) / SURE;
        return exp(-0.7 * off * off);
      },
      sample = (of: readonly number[], most = 1): TrackSample => {
        const [x, y] = middle(marks, of),
          confidence = Math.min(most, sureOf(of));
        return { frame, x, y, ...pose, confidence, state: confidence >= 0.5 ? 'good' : 'weak' };
      };
    out.face.push(sample(firm.slice(0, 4)));
    for (const part of faceParts) {
      const eye = part === 'left pupil' ? 'left eye' : part === 'right pupil' ? 'right eye' : null,
        hidden = eye && widest[eye] > 0 && lidGap(marks, eye) < HIDES * widest[eye];
      out.parts[part].push(sample(places[part], hidden ? 0.3 : 1));
    }
    for (const eye of eyeParts) {
      const open = widest[eye] > 0 ? lidGap(marks, eye) / widest[eye] : 0;
      out.lids[eye].push({ ...sample(places[eye]), confidence: Math.min(1, open), state: 'good' });
    }
  });
  return out;
}

/** What a track of a part is called: the person's own side, and where on the screen that is. */
export const partName = (part: FacePart, side: string | null): string =>
  `${part[0]!.toUpperCase()}${part.slice(1)}${side ? ` (${side})` : ''}`;
/** On which side of the screen a part lies, where it has one, by the face's own turn at a frame: a face that stands upside down has its left on the left. */
export function screenSide(parts: Pick<Record<FacePart, readonly TrackSample[]>, FacePart>, part: FacePart, frame: number): string | null {
  const other = otherSide(part),
    here = other === part ? null : placeAt(parts[part], frame),
    there = here && placeAt(parts[other], frame);
  return here && there ? (here.x < there.x ? 'screen left' : 'screen right') : null;
}
