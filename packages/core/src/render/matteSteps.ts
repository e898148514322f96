import type { Picture, Plane } from '../image/picture';
import { emptyPlane, product } from '../image/planeMath';
import type { Arena } from '../image/arena';
import { back } from '../image/homography';
import { drawPlacedPlane } from '../placing';
import {
  MatteSum,
  matteSources,
  outlineCoverage,
  paintedAt,
  paintOver,
  refined,
  refinements,
  refinementsAt,
  type SourceInput,
  type SourceReads,
} from '../matte';
import { planeBetween } from '../motion/between';
import { valuesAt } from '../params';
import { appearanceOf, carrierOfMatte } from '../shot/appearance';
import { clipFrame, clipStart } from '../shot/when';
import { clipOfSource, clipWithRole, counting, matteClip } from '../shot/clips';
import type { Clip, Matte, Shot, Subject } from '../shot/schema';
import type { Step } from './evaluate';
import { outlineAt } from './outlineAt';
import { keyOf } from './key';
import { matchedStep } from './matchedLight';
import { sizeOf, type Factor } from './factor';
import { draftMap, fittedStep, ownStep, placedStep, weighedSteps } from './plateSteps';
import { combine } from './combine';
import type { Mounts } from './frames';
import type { Sources } from './sources';

/** What is needed to make mattes. */
export interface MatteWorld {
  shot: Shot;
  sources: Sources;
  mounts: Mounts;
  /** What a row draws over nothing at a shot frame, for mattes that are made of it; see rowPicture.ts. */
  rowPicture: (row: string, frame: number, factor: Factor) => Step<Picture>;
}

/**
 * What a matte is worth at a shot frame, where its clip appears, 0..1.
 * @param subject the subject that it is asked for; a detached one takes its mattes along.
 */
export function matteStep(world: MatteWorld, matte: Matte, frame: number, factor: Factor, subject: string | null = null): Step<Plane> {
  return appearingMatte(world, matte, frame, factor, carrierOfMatte(world.shot, matte, subject));
}
/** The same as it stands in the base, wherever its subject was taken. */
export const matteInBase = (world: MatteWorld, matte: Matte, frame: number, factor: Factor): Step<Plane> =>
  appearingMatte(world, matte, frame, factor, null);

function appearingMatte(world: MatteWorld, matte: Matte, frame: number, factor: Factor, carrier: Subject | null): Step<Plane> {
  const { shot } = world,
    clip = matteClip(shot, matte),
    size = sizeOf(shot, factor);
  // Outlines of a shot without a performance lie in its own picture.
  if (!clip) return clipMatteStep(world, matte, null, frame, frame, factor);
  const { moments, matrix } = appearanceOf(shot, clip, frame, carrier),
    weighed = weighedSteps(
      moments,
      (m) => clipMatteStep(world, matte, clip, m.frame, frame, factor),
      (m) => ownStep(shot, clip, m.frame, 2, world.sources),
      planeBetween,
    ),
    steps = weighed.map((w) => w.step),
    shares = weighed.map((w) => w.share),
    own =
      steps.length > 1
        ? (combine(`mattes ${shares.join()}`, steps, (planes: Plane[], arena: Arena) => {
            const out = product(planes[0]!, planes[0]!, arena, 0);
            planes.forEach((plane, i) => addPlane(out, plane, shares[i]!));
            return out;
          }) as Step<Plane>)
        : steps[0];
  if (!own)
    return {
      key: keyOf('no matte', size),
      inputs: [],
      keep: 'never',
      run: (_, arena) => emptyPlane(size.width, size.height, arena),
    };
  return matrix
    ? {
        key: keyOf('placed matte', matrix, size, own.key),
        inputs: [own],
        keep: own.keep,
        run: ([plane]: Plane[], arena) => drawPlacedPlane(plane!, draftMap(matrix, factor), size.width, size.height, arena),
      }
    : own;
}
function addPlane(sum: Plane, plane: Plane, share: number): void {
  for (let i = 0; i < sum.data.length; i++) sum.data[i]! += share * plane.data[i]!;
}

/** A copy that may be written into. */
function copied(plane: Plane, arena: Arena): Plane {
  const out = arena.takePlane(plane.width, plane.height);
  out.data.set(plane.data);
  return out;
}

/** A matte at a frame `at` of the clip that it lies on (null is the shot's own picture), which stands at a shot frame, at a draft size. */
interface MatteAt {
  world: MatteWorld;
  matte: Matte;
  clip: Clip | null;
  at: number;
  frame: number;
  factor: Factor;
}

/** A source of a matte at a frame of the clip that it lies on, in that clip's picture; null where what it is made from is not there. */
function sourceStep({ world, matte, clip, at, frame, factor }: MatteAt, entry: Matte['sources'][number]): Step<Plane | null> | null {
  const { shot, sources } = world,
    { source } = entry,
    definition = matteSources[source.kind],
    size = sizeOf(clip ?? shot, factor),
    clean = clipWithRole(shot, 'clean'),
    from = clipOfSource(shot, matte, entry),
    /** The frame of another clip that goes with this frame of the clip, whatever becomes of them in the shot. */
    matching = (other: Clip) =>
      clip ? Math.min(other.frames - 1, Math.max(0, at + clipStart(shot, clip) - clipStart(shot, other))) : clipFrame(shot, other, frame),
    fitting = (other: Clip) => other.width === (clip ?? shot).width && other.height === (clip ?? shot).height,
    reads: Record<SourceInput, () => Step | null> = {
      plate: () => {
        if (!from || from.id === clip?.id) return from ? ownStep(shot, from, at, factor, sources) : null;
        const own = ownStep(shot, from, matching(from), factor, sources);
        return !clip || fitting(from) ? own : fittedStep(own, size);
      },
      clean: () => {
        if (!clean) return null;
        const own = matchedStep(shot, clean, frame, ownStep(shot, clean, clipFrame(shot, clean, frame), factor, sources), sources);
        return own && fitting(clean) ? own : own && fittedStep(own, size);
      },
      matte: () => {
        const other = source.kind === 'matte' && source.matte ? shot.mattes[source.matte] : undefined;
        if (!other) return null;
        const on = matteClip(shot, other) ?? null;
        if (!on || !clip || on.id === clip.id) return clipMatteStep(world, other, on, at, frame, factor);
        return fittedPlane(clipMatteStep(world, other, on, matching(on), frame, factor), on, clip, factor);
      },
      row: () => {
        if (source.kind !== 'row' || !source.row || !shot.rows[source.row]) return null;
        const own = world.rowPicture(source.row, frame, factor),
          // A row lies on the shot, wherever the clip of the matte was put.
          matrix = clip && appearanceOf(shot, clip, frame).matrix,
          way = matrix && back(matrix);
        return clip ? (way ? placedStep(own, way, size) : fittedStep(own, size)) : own;
      },
    },
    read = definition.inputs.map((name) => reads[name]());
  if (!read.every(Boolean)) return null;
  const inputs = read as Step[],
    v = valuesAt(definition.params, source as never, {}, 0, 1 / factor),
    alpha = !!from?.alpha;
  return {
    key: keyOf(
      'matte source',
      source.kind,
      v,
      alpha,
      inputs.map((i) => i.key),
      size,
    ),
    inputs,
    keep: inputs.every((i) => i.keep === 'for frames') ? 'for frames' : 'for edits',
    run(values: (Picture | Plane)[], arena) {
      const given = Object.fromEntries(definition.inputs.map((name, i) => [name, values[i]!])) as unknown as SourceReads;
      return definition.make({ pictures: arena, width: size.width, height: size.height, alpha }, v, given);
    },
  };
}
/** A matte of one clip stretched to the picture of another. */
function fittedPlane(own: Step<Plane>, from: Clip, to: Clip, factor: Factor): Step<Plane> {
  if (from.width === to.width && from.height === to.height) return own;
  const { width, height } = sizeOf(to, factor),
    stretch = [to.width / from.width, 0, 0, 0, to.height / from.height, 0, 0, 0, 1] as const;
  return combine(`matte stretched to ${width} x ${height}`, [own], ([plane]: [Plane], arena: Arena) =>
    drawPlacedPlane(plane, draftMap(stretch as never, factor), width, height, arena),
  ) as Step<Plane>;
}

/**
 * What a matte is worth at a frame of its clip, in the clip's own picture, refined and with what was painted on it. Lengths and areas follow the draft size.
 * @param frame the shot frame, for the clean plate and for what belongs to other clips.
 */
export function clipMatteStep(world: MatteWorld, matte: Matte, clip: Clip | null, at: number, frame: number, factor: Factor): Step<Plane> {
  const refine = refinementsAt(matte.refine, 1 / factor),
    made = refinedStep({ world, matte, clip, at, frame, factor }, refine),
    painted = paintedAt(matte.painted, at);
  if (!painted.length) return made;
  return {
    key: keyOf('painted matte', painted, factor, made.key),
    inputs: [made],
    keep: made.keep,
    run([plane]: Plane[], arena, owned) {
      const out = owned(0) ? plane! : copied(plane!, arena);
      paintOver(out, painted, 1 / factor);
      return out;
    },
  };
}

type Refining = ReturnType<typeof refinementsAt>;
/** Frames to each side that a refinement looks at. */
const framesOf = ({ kind, v }: Refining[number]): number => refinements[kind].frames?.(v as never) ?? 0;

/** The matte after some refinements. The last of them that looks at frames beside this one takes the mattes there, as they are before it, as inputs. */
function refinedStep(of: MatteAt, refine: Refining): Step<Plane> {
  const { clip, at, frame, factor } = of;
  const over = clip && clip.frames > 1 ? refine.findLastIndex((one) => framesOf(one) > 0) : -1;
  // A still has nothing beside it.
  if (over < 0) {
    const alone = refine.filter((one) => framesOf(one) === 0);
    return madeStep(of, alone);
  }
  const { shot, sources } = of.world,
    reach = framesOf(refine[over]!),
    // Frames beside this one of the clip stand beside it in the shot, unless it is retimed, where only the light of a clean plate would tell.
    beside = Array.from({ length: 2 * reach + 1 }, (_, i) => i - reach).filter((d) => d !== 0 && at + d >= 0 && at + d < clip!.frames),
    before = (d: number) => refinedStep({ ...of, at: at + d, frame: frame + d }, refine.slice(0, over)),
    half = (d: number) => ownStep(shot, clip!, at + d, 2, sources),
    rest = refine.slice(over),
    plate = rest.some(({ kind }) => refinements[kind].inputs.includes('plate')) ? ownStep(shot, clip!, at, factor, sources) : null,
    mattes = beside.map(before),
    halves = beside.map(half),
    own = before(0),
    inputs: Step[] = [own, half(0), ...mattes, ...halves, ...(plate ? [plate] : [])];
  return {
    key: keyOf(
      'steady matte',
      rest,
      inputs.map((i) => i.key),
    ),
    inputs,
    keep: inputs.every((i) => i.keep === 'for frames') ? 'for frames' : 'for edits',
    run(values: (Plane | Picture)[], arena) {
      const n = beside.length,
        near = beside.map((_, i) => ({ matte: values[2 + i] as Plane, half: values[2 + n + i] as Picture })),
        read = { half: values[1] as Picture, near, ...(plate ? { plate: values[2 + 2 * n] as Picture } : {}) };
      return refined(copied(values[0] as Plane, arena), rest, arena, read);
    },
  };
}

/** The matte as its sources and outlines make it, after refinements that look at this frame alone. */
function madeStep(of: MatteAt, refine: Refining): Step<Plane> {
  const { world, matte, clip, at, factor } = of,
    { shot, sources: pictures, mounts } = world,
    size = sizeOf(clip ?? shot, factor),
    scale = 1 / factor,
    { sources, outlines } = counting(matte),
    // A source that misses what it is made from does not count.
    given = sources.flatMap((entry) => {
      const step = sourceStep(of, entry);
      return step ? [{ mode: entry.mode, step }] : [];
    }),
    made = given.map(({ step }) => step),
    drawn = outlines.map((o) => outlineAt(o, at, mounts)),
    guide = clip && refine.some(({ kind }) => refinements[kind].inputs.length) ? ownStep(shot, clip, at, factor, pictures) : null,
    modes = given.map(({ mode }) => mode),
    inputs: Step[] = [...made, ...(guide ? [guide] : [])];
  return {
    key: keyOf(
      'matte',
      modes,
      drawn,
      refine,
      inputs.map((i) => i.key),
      size,
    ),
    inputs,
    // A matte that does not change from frame to frame serves them all.
    keep: inputs.every((i) => i.keep === 'for frames') ? 'for frames' : 'for edits',
    run(values: (Plane | Picture | null)[], arena) {
      const sum = new MatteSum(arena);
      modes.forEach((mode, i) => {
        const plane = values[i] as Plane | null;
        if (plane) sum.put(copied(plane, arena), mode);
      });
      for (const outline of drawn)
        sum.put(outlineCoverage(outline.vertices, outline, scale, size.width, size.height, arena), outline.mode, outline.opacity);
      return refined(sum.result(size.width, size.height), refine, arena, guide ? { plate: values[made.length] as Picture } : null);
    },
  };
}
