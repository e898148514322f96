import type { Homography } from '../image/warp';
import type { Point } from '../motion/frame';
import { valuesAt } from '../params';
import { after, back, seenAt } from '../image/homography';
import {
  asPlaced,
  clipParams,
  type ClipValues,
  momentsOf,
  placedMatrix,
  subjectParams,
  type PlaceValues,
  type SubjectValues,
} from '../placing';
import type { Moment } from '../time/moments';
import { clipWithRole, matteClip } from './clips';
import type { Clip, Matte, Shot, Subject } from './schema';
import { clipMoments, clipStart, laterParts, partAt } from './when';

/**
 * How a clip appears at a shot frame: which of its frames, and where its pixels stand. What was measured or drawn on a clip is kept in the clip's own
 * frames and pixels, and everything asks here where that is in the shot: its picture, mattes, tracks, outlines and handles.
 */
export interface Appearance {
  moments: readonly Moment[];
  /**
   * Pixels of the clip to whole-shot pixels; null where they are the same. `whole` where it fills the picture exactly, stretched where its size is another.
   */
  matrix: Homography | null;
  whole: boolean;
  /** Gain of red, green and blue light; null where it is as filmed. */
  light: readonly [number, number, number] | null;
}
/** Where a clip stands, without when. */
type Place = Pick<Appearance, 'matrix' | 'whole' | 'light'>;

/** Where something stands that is seen edge-on: it has no area, far outside of the picture. */
const EDGE_ON: Homography = [1e-6, 0, -1e6, 0, 1e-6, -1e6, 0, 0, 1];
const toCorner = (shot: Pick<Shot, 'width' | 'height'>): Homography => [1, 0, shot.width / 2, 0, 1, shot.height / 2, 0, 0, 1];

/** True for values that leave a clip where clips are when they are new: filling the picture. */
function fillsPicture(v: PlaceValues): boolean {
  return (
    v.placedBy === 'size and turn' &&
    v.fit === 'stretched to the picture' &&
    v.size === 1 &&
    v.turn === 0 &&
    v.swing === 0 &&
    v.tilt === 0 &&
    v.mirror === 'no' &&
    v.place[0] === 0 &&
    v.place[1] === 0
  );
}

/** Places of clips that do not move, by what they are placed by: they are asked for at every frame of every past. */
const still = new WeakMap<object, { key: string; place: Place }>();

/** The clip whose placement holds for a clip: a clean plate stands where the performance does, since it is the same place without anybody. */
const placedAs = (shot: Shot, clip: Clip, frame: number): Clip =>
  partAt(shot, clip.role === 'clean' ? (clipWithRole(shot, 'performance') ?? clip) : clip, frame);

/** True where a clip changes its place in the picture over time. */
export const isMoved = (shot: Shot, clip: Clip): boolean =>
  [
    placedAs(shot, clip, shot.first),
    ...laterParts(shot, clip.role === 'clean' ? (clipWithRole(shot, 'performance')?.id ?? clip.id) : clip.id),
  ].some((part) => Object.keys(part.placed.curves).some((name) => name !== 'speed'));

/** Where a clip stands at a shot frame. */
function placeOf(shot: Shot, clip: Clip, frame: number): Place {
  const owner = placedAs(shot, clip, frame),
    moves = Object.keys(owner.placed.curves).some((name) => name !== 'speed'),
    key = `${shot.width} ${shot.height} ${clip.width} ${clip.height}`,
    known = moves ? undefined : still.get(owner.placed);
  if (known?.key === key) return known.place;
  const place = placeNow(shot, clip, owner, frame);
  if (!moves) still.set(owner.placed, { key, place });
  return place;
}
function placeNow(shot: Shot, clip: Clip, owner: Clip, frame: number): Place {
  const { values, curves } = owner.placed,
    v = valuesAt(clipParams, values, curves, frame - clipStart(shot, owner), 1) as unknown as ClipValues,
    light = v.red === 1 && v.green === 1 && v.blue === 1 ? null : ([v.red, v.green, v.blue] as const);
  if (fillsPicture(v))
    return {
      matrix:
        clip.width === shot.width && clip.height === shot.height
          ? null
          : [shot.width / clip.width, 0, 0, 0, shot.height / clip.height, 0, 0, 0, 1],
      whole: true,
      light,
    };
  const sizes = { width: clip.width, height: clip.height, pictureWidth: shot.width, pictureHeight: shot.height },
    m = placedMatrix(v, sizes);
  return { matrix: m ? after(toCorner(shot), m) : EDGE_ON, whole: false, light };
}

/** The detached subject that carries a clip: the wanted one, or else the first. */
export function carrierOfClip(shot: Shot, clip: string, wanted: string | null = null): Subject | null {
  const of = (s: Subject | undefined): s is Subject => !!s && s.detached && s.clip === clip,
    first = wanted ? shot.subjects[wanted] : undefined;
  return of(first) ? first : (Object.values(shot.subjects).find(of) ?? null);
}

/** The detached subject that carries a matte: one whose matte (or traces) it is, or else one of its clip. */
export function carrierOfMatte(shot: Shot, matte: Matte, wanted: string | null = null): Subject | null {
  const of = (s: Subject | undefined): s is Subject => !!s && s.detached && (s.matte === matte.id || s.traces === matte.id),
    first = wanted ? shot.subjects[wanted] : undefined,
    clip = matteClip(shot, matte);
  return of(first) ? first : (Object.values(shot.subjects).find(of) ?? (clip ? carrierOfClip(shot, clip.id, wanted) : null));
}

/** The shot frames, as it was filmed, that a detached subject shows at a frame of the shot. */
export const subjectMoments = (shot: Shot, subject: Subject, frame: number): Moment[] =>
  momentsOf(
    { ...subject.placed.values, rate: 'frame for frame' },
    subject.placed.curves,
    frame - shot.first,
    { frames: shot.last - shot.first + 1, rate: shot.rate },
    shot.rate,
  ).map((m) => ({ ...m, frame: shot.first + m.frame }));

/** Where a detached subject stands: pixels of the shot, as it was filmed, to those where it is laid back; null where they are the same. */
export function subjectMatrix(shot: Shot, subject: Subject, frame: number): Homography | null {
  const v = valuesAt(subjectParams, subject.placed.values, subject.placed.curves, frame - shot.first, 1) as unknown as SubjectValues;
  if (v.shift[0] === 0 && v.shift[1] === 0 && v.size === 1 && v.turn === 0 && v.swing === 0 && v.tilt === 0 && v.mirror === 'no')
    return null;
  const m = placedMatrix(asPlaced(v), { width: shot.width, height: shot.height, pictureWidth: shot.width, pictureHeight: shot.height });
  return m ? after(toCorner(shot), m) : EDGE_ON;
}

/**
 * How a clip appears at a shot frame.
 * @param subject the detached subject that carries it there; null for the clip as it stands in the base.
 */
export function appearanceOf(shot: Shot, clip: Clip, frame: number, subject: Subject | null = null): Appearance {
  if (!subject) return { moments: clipMoments(shot, clip, frame), ...placeOf(shot, clip, frame) };
  const filmed = subjectMoments(shot, subject, frame),
    main = filmed.reduce((best, m) => (m.share > best.share ? m : best), filmed[0] ?? { frame: shot.first, share: 0 }),
    moments: Moment[] = [];
  for (const at of filmed) {
    const shown = clipMoments(shot, clip, at.frame);
    for (const m of shown) {
      // A motion is one between two frames of the clip: its own, or that of the subject where each end is a frame of it.
      const motion = filmed.length === 1 ? m.motion : shown.length === 1 ? at.motion : undefined,
        known = moments.find((k) => k.frame === m.frame && k.motion === motion);
      if (known) known.share += at.share * m.share;
      else moments.push({ frame: m.frame, share: at.share * m.share, ...(motion === undefined ? {} : { motion }) });
    }
  }
  const inPlace = placeOf(shot, clip, main.frame),
    moved = subjectMatrix(shot, subject, frame);
  return moved
    ? { moments, light: inPlace.light, matrix: inPlace.matrix ? after(moved, inPlace.matrix) : moved, whole: false }
    : { moments, ...inPlace };
}

/** Where a point of a clip stands on the picture, and the way back. */
export const onPicture = ({ matrix }: Appearance, p: Point): [number, number] => (matrix ? seenAt(matrix, p).at : [p[0], p[1]]);
export function onClip({ matrix }: Appearance, p: Point): [number, number] {
  const way = matrix && back(matrix);
  return way ? seenAt(way, p).at : [p[0], p[1]];
}
