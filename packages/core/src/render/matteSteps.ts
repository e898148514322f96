import type { Picture, Plane } from '../image/picture';
import { clampedLine, emptyPlane, largerOf, leave, product, unite } from '../image/planeMath';
import type { Arena } from '../image/arena';
import { drawPlacedPlane } from '../placing';
import { matteSources, outlineCoverage, refineMatte, type SourceInput } from '../matte';
import { planeBetween } from '../motion/between';
import { valuesAt } from '../params';
import { appearanceOf, carrierOfMatte } from '../shot/appearance';
import { clipFrame, clipStart } from '../shot/when';
import { clipWithRole, matteClip, matteSource } from '../shot/clips';
import type { Clip, Matte, Shot, Subject } from '../shot/schema';
import type { Step } from './evaluate';
import { outlineAt } from './outlineAt';
import { keyOf } from './key';
import { matchedStep } from './matchedLight';
import { sizeOf, type Factor } from './factor';
import { draftMap, fittedStep, ownStep, weighedSteps } from './plateSteps';
import { combine } from './combine';
import type { Mounts } from './frames';
import type { Sources } from './sources';

/** What is needed to make mattes. */
export interface MatteWorld {
  shot: Shot;
  sources: Sources;
  mounts: Mounts;
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
/** What is in one of two mattes and not in both, in place. */
function eitherOf(a: Plane, b: Plane): void {
  for (let i = 0; i < a.data.length; i++) a.data[i]! += b.data[i]! * (1 - 2 * a.data[i]!);
}
function addPlane(sum: Plane, plane: Plane, share: number): void {
  for (let i = 0; i < sum.data.length; i++) sum.data[i]! += share * plane.data[i]!;
}

/**
 * What a matte is worth at a frame of its clip, in the clip's own picture, refined. Lengths and areas follow the draft size.
 * @param frame the shot frame, for the clean plate.
 */
export function clipMatteStep(
  { shot, sources, mounts }: MatteWorld,
  matte: Matte,
  clip: Clip | null,
  at: number,
  frame: number,
  factor: Factor,
): Step<Plane> {
  const size = sizeOf(clip ?? shot, factor),
    scale = 1 / factor,
    clean = clipWithRole(shot, 'clean');
  const outlines = matte.outlines.filter((o) => !o.muted).map((o) => outlineAt(o, at, mounts));
  const source = matteSources[matte.source.kind],
    of = {
      plate: () => {
        const from = matteSource(shot, matte);
        if (!from || !clip) return from && ownStep(shot, from, clipFrame(shot, from, frame), factor, sources);
        if (from.id === clip.id) return ownStep(shot, clip, at, factor, sources);
        // A ready matte belongs to the frames of the clip that it goes with, whatever becomes of them.
        const matching = Math.min(from.frames - 1, Math.max(0, at + clipStart(shot, clip) - clipStart(shot, from))),
          own = ownStep(shot, from, matching, factor, sources);
        return from.width === clip.width && from.height === clip.height ? own : fittedStep(own, size);
      },
      clean: () => {
        const own = clean && matchedStep(shot, clean, frame, ownStep(shot, clean, clipFrame(shot, clean, frame), factor, sources), sources);
        return own && clean.width === (clip ?? shot).width && clean.height === (clip ?? shot).height ? own : own && fittedStep(own, size);
      },
    },
    read = source.inputs.map((name) => of[name]()),
    made = read.every(Boolean),
    inputs: Step[] = made ? (read as Step[]) : [],
    v = valuesAt(source.params, matte.source as never, {}, 0, scale),
    { grow, blur, despeckle, fillHoles, invert } = matte,
    alpha = !!matteSource(shot, matte)?.alpha;
  return {
    key: keyOf(
      'matte',
      matte.source.kind,
      v,
      alpha,
      { grow, blur, despeckle, fillHoles, invert },
      outlines,
      inputs.map((i) => i.key),
      size,
    ),
    inputs,
    // A matte that does not change from frame to frame serves them all.
    keep: inputs.every((i) => i.keep === 'for frames') ? 'for frames' : 'for edits',
    run(values: Picture[], arena) {
      const read = Object.fromEntries(source.inputs.map((name, i) => [name, values[i]!])) as Record<SourceInput, Picture>,
        canvas = { pictures: arena, width: size.width, height: size.height, alpha };
      // Null as long as there is nothing in it.
      let out: Plane | null = made ? source.make(canvas, v, read) : null,
        kept: Plane | null = null;
      outlines.forEach((outline) => {
        const { mode, opacity } = outline,
          cover = outlineCoverage(outline.vertices, outline, scale, size.width, size.height, arena);
        if (mode === 'keep inside') {
          // What lies outside is left by the share that does not count.
          if (opacity < 1) clampedLine(cover, opacity, 1 - opacity, arena, cover);
          if (kept) largerOf(kept, cover, arena, 1, kept);
          else {
            kept = cover;
            return;
          }
        } else {
          if (opacity < 1) clampedLine(cover, opacity, 0, arena, cover);
          if (mode !== 'take away' && !out) {
            out = cover;
            return;
          }
          if (mode === 'add') unite(out!, cover, arena, out!);
          else if (mode === 'exclude') eitherOf(out!, cover);
          else if (out) leave(out, cover, arena, 1, out);
        }
        arena.give(cover);
      });
      if (!out) {
        out = emptyPlane(size.width, size.height, arena);
      }
      if (kept) {
        product(out, kept, arena, 1, out);
        arena.give(kept);
      }
      out = refineMatte(
        out,
        {
          grow: grow * scale,
          blur: blur * scale,
          despeckle: despeckle * scale * scale,
          fillHoles: fillHoles * scale * scale,
        },
        arena,
      );
      return invert ? clampedLine(out, -1, 1, arena, out) : clampedLine(out, 1, 0, arena, out);
    },
  };
}
