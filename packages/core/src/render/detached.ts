import type { Arena } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import { alphaOf, clampedLine, cutOut } from '../image/planeMath';
import { backingBehind, growMatte, ofLuminanceOne, takeOutSpill, type SpillRemoval } from '../matte';
import { linearColour } from '../params';
import { subjectMatrix, subjectMoments } from '../shot/appearance';
import { clipWithRole, counting } from '../shot/clips';
import type { Homography } from '../image/warp';
import type { Moving } from '../placing';
import type { Clip, Matte, Shot, Subject } from '../shot/schema';
import type { Moment } from '../time/moments';
import { combine } from './combine';
import type { Step } from './evaluate';
import { matteInBase, type MatteWorld } from './matteSteps';
import { sizeOf, type Factor } from './factor';
import { clearStep, mixedStep, placedStep, plateStep } from './plateSteps';

/**
 * A detached subject where and when it was put: premultiplied, with its matte as alpha. It is cut out as it was filmed, and only then mixed in time,
 * moved and turned, so that soft edges stay what they are; the colour of what stood behind it is taken out of them.
 */
export function detachedStep(world: MatteWorld, subject: Subject, clip: Clip, frame: number, factor: Factor): Step<Picture> {
  const { shot, sources } = world,
    size = sizeOf(shot, factor),
    matte = subject.matte ? shot.mattes[subject.matte] : undefined;
  if (!matte) return clearStep(size);
  const filmed = subjectMoments(shot, subject, frame),
    matrix = subjectMatrix(shot, subject, frame),
    moving = movingOf(shot, subject, frame),
    clean = clip.role === 'performance' && !clip.alpha && !backingOf(matte) ? clipWithRole(shot, 'clean') : undefined,
    key = backingOf(matte),
    edges = (subject.placed.values.edges as number) / 100,
    cut = (m: Moment, at: Factor): Step<Picture> =>
      combine(
        `cut out ${edges} ${JSON.stringify(key)}`,
        [
          plateStep(shot, clip, m.frame, at, sources),
          matteInBase(world, matte, m.frame, at),
          ...(clean ? [plateStep(shot, clean, m.frame, at, sources)] : []),
        ],
        ([picture, plane, behind]: [Picture, Plane, Picture | undefined], arena: Arena) => {
          return key ? cutFree(picture, plane, key, edges, arena) : cutOut(picture, plane, behind ?? null, edges, arena);
        },
      ) as Step<Picture>,
    own = mixedStep(
      filmed,
      (m) => cut(m, factor),
      (m) => cut(m, 2),
    );
  return own ? (matrix || moving ? placedStep(own, matrix ?? STILL, size, moving) : own) : clearStep(size);
}

const STILL: Homography = [1, 0, 0, 0, 1, 0, 0, 0, 1];
/** How a detached subject moves about a frame, for its motion blur; null where it stands still, or has none. */
function movingOf(shot: Shot, subject: Subject, frame: number): Moving | null {
  const open = (subject.placed.values.shutter as number) / 360;
  if (!(open > 0) || !Object.keys(subject.placed.curves).length) return null;
  const [before, now, after] = [-1, 0, 1].map((d) => subjectMatrix(shot, subject, frame + d) ?? STILL);
  return [before, after].every((m) => JSON.stringify(m) === JSON.stringify(now)) ? null : { before: before!, after: after!, open };
}

/** A backing, linear, and how its light is taken out. */
export type Backing = { colour: readonly [number, number, number] } & SpillRemoval;
/** What a matte holds of a picture before a backing, premultiplied, without the backing's light. @param edges share of the backing that is taken out of soft pixels. */
export function cutFree(picture: Picture, matte: Plane, key: Backing, edges: number, arena: Arena): Picture {
  const backing = backingBehind(picture, matte, key.colour, arena),
    out = cutOut(picture, matte, backing, edges, arena);
  arena.give(backing);
  takeOutSpill(out, key.colour, key);
  return out;
}
/** The backing that a matte was keyed from; null for any other matte. */
export function backingOf(matte: Matte): Backing | null {
  for (const { source } of counting(matte).sources)
    if (source.kind === 'chroma') {
      const { replaced, replacement } = source,
        instead = replaced === 'nothing' ? null : ofLuminanceOne(replaced === 'grey' ? [1, 1, 1] : linearColour(replacement));
      return { colour: linearColour(source.backing), share: source.spill / 100, instead };
    }
  return null;
}

/** How much of each pixel a subject that is laid back covers. */
export const coverStep = (layer: Step<Picture>): Step<Plane> =>
  combine('cover', [layer], ([picture]: [Picture], arena: Arena) => alphaOf(picture, arena)) as Step<Plane>;

/** What is left of a subject that is laid back, where rows took parts of it: as much of its layer as of its `whole` matte is `left`. */
export const keptStep = (layer: Step<Picture>, whole: Step<Plane>, left: Step<Plane>): Step<Picture> =>
  combine('kept', [layer, whole, left], ([picture, all, rest]: [Picture, Plane, Plane], arena: Arena, owned) => {
    const out = owned(0) ? picture : arena.takePicture(picture.width, picture.height),
      from = picture.data,
      to = out.data;
    for (let p = 0, i = 0; p < all.data.length; p++, i += 4) {
      const k = all.data[p]! > 0 ? rest.data[p]! / all.data[p]! : 0;
      for (let c = 0; c < 4; c++) to[i + c] = from[i + c]! * k;
    }
    return out;
  }) as Step<Picture>;

/** Pixels of the whole shot around a detached subject where the base is emptied too: soft edges reach beyond their matte. */
const AROUND = 3;
/** Where the base is emptied for a detached subject: its matte as it was filmed and its traces, hardened so that no ghost of its edge stays. */
export function emptiedWhere(world: MatteWorld, subject: Subject, frame: number, factor: Factor): Step<Plane>[] {
  const { shot } = world;
  return [subject.matte, subject.traces].flatMap((id, i) => {
    const matte = id ? shot.mattes[id] : undefined;
    if (!matte) return [];
    const step = matteInBase(world, matte, frame, factor);
    // Traces are as soft as they are drawn.
    if (i === 1) return [step];
    return [
      combine('emptied', [step], ([plane]: [Plane], arena: Arena) => {
        const out = clampedLine(plane, 1, 0, arena);
        growMatte(out, AROUND / factor, arena);
        return clampedLine(out, 6, 0, arena, out);
      }) as Step<Plane>,
    ];
  });
}
