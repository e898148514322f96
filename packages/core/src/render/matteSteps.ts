import type { Picture, Plane } from '../image/picture';
import { clampedLine, emptyPlane, largerOf, leave, product, unite } from '../image/planeMath';
import { carried, carriedGrowth, matteSources, outlineCoverage, refineMatte, type SourceInput } from '../matte';
import { valuesAt } from '../params';
import { clipWithRole } from '../shot/query';
import type { Clip, Matte, Outline, Shot } from '../shot/schema';
import type { Step } from './evaluate';
import { keyOf } from './key';
import { plateStep, sizeOf, type Factor } from './plateSteps';
import type { FrameOf } from './frames';
import type { Sources } from './sources';

/** An outline where it stands at a shot frame: carried by what it rides on since the frame at which it was drawn. */
export function outlineAt(outline: Outline, frame: number, frameOf: FrameOf): Pick<Outline, 'vertices' | 'feather' | 'mode'> {
  const { vertices, feather, mode, mount, mountFrame } = outline,
    now = mount ? frameOf(mount, frame) : null,
    then = mount ? frameOf(mount, mountFrame) : null;
  return now && then
    ? { mode, vertices: carried(vertices, then, now), feather: feather * carriedGrowth(vertices, then, now) }
    : { mode, vertices, feather };
}

/** What a matte is worth at a frame, refined, 0..1. Lengths and areas follow the draft size. */
export function matteStep(shot: Shot, matte: Matte, frame: number, factor: Factor, sources: Sources, frameOf: FrameOf): Step<Plane> {
  const size = sizeOf(shot, factor),
    scale = 1 / factor,
    clip: Clip | undefined = matte.source.clip ? shot.clips[matte.source.clip] : clipWithRole(shot, 'performance'),
    clean = clipWithRole(shot, 'clean');
  const outlines = matte.outlines.map((outline) => outlineAt(outline, frame, frameOf));
  const source = matteSources[matte.source.kind],
    of = { plate: clip, clean },
    made = source.inputs.every((name) => of[name]),
    inputs: Step[] = made ? source.inputs.map((name) => plateStep(shot, of[name]!, frame, factor, sources)) : [],
    v = valuesAt(source.params, matte.source as never, {}, 0, scale),
    { grow, blur, despeckle, fillHoles, invert } = matte,
    alpha = !!clip?.alpha;
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
        const cover = outlineCoverage(outline.vertices, outline.feather, scale, size.width, size.height, arena);
        if (outline.mode === 'add' && out) unite(out, cover, arena, out);
        else if (outline.mode === 'add') {
          out = cover;
          return;
        } else if (outline.mode === 'take away') {
          if (out) leave(out, cover, arena, 1, out);
        } else if (kept) largerOf(kept, cover, arena, 1, kept);
        else {
          kept = cover;
          return;
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
