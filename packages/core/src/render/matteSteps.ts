import type { Picture, Plane } from '../image/picture';
import { clampedLine, emptyPlane, largerOf, leave, product, unite } from '../image/planeMath';
import { hexParts } from '../effects';
import { carried, carriedGrowth, colourArea, differenceMatte, outlineCoverage, refineMatte } from '../matte';
import { clipWithRole } from '../shot/query';
import type { Clip, Matte, Outline, Shot } from '../shot/schema';
import type { Step } from './evaluate';
import { clipMatteStep, keyOf, plateStep, sizeOf, type Factor } from './plateSteps';
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
    clip: Clip | undefined = matte.clip ? shot.clips[matte.clip] : clipWithRole(shot, 'performance'),
    clean = clipWithRole(shot, 'clean');
  const outlines = matte.outlines.map((outline) => outlineAt(outline, frame, frameOf));
  const inputs: Step[] =
    matte.source === 'difference' && clip && clean
      ? [plateStep(shot, clip, frame, factor, sources), plateStep(shot, clean, frame, factor, sources)]
      : matte.source === 'colour area' && clip
        ? [plateStep(shot, clip, frame, factor, sources)]
        : matte.source === 'clip' && clip
          ? [clipMatteStep(clip, plateStep(shot, clip, frame, factor, sources))]
          : [];
  const { id: _, name: __, outlines: ___, ...settings } = matte;
  return {
    key: keyOf(
      'matte',
      settings,
      outlines,
      inputs.map((i) => i.key),
      size,
    ),
    inputs,
    // A matte that does not change from frame to frame serves them all.
    keep: inputs.length ? 'for edits' : 'for frames',
    run(values: (Picture | Plane)[], arena) {
      // Null as long as there is nothing in it.
      let out: Plane | null = null,
        kept: Plane | null = null;
      if (matte.source === 'difference' && values.length)
        out = differenceMatte(
          values[0] as Picture,
          values[1] as Picture,
          { threshold: matte.threshold, softness: matte.softness, smooth: matte.smooth * scale, shadow: matte.shadow },
          arena,
        );
      else if (matte.source === 'colour area' && values[0])
        out = colourArea(
          values[0] as Picture,
          {
            colour: hexParts(matte.colour),
            similarity: matte.similarity,
            connected: matte.connected && [matte.connected[0] * scale, matte.connected[1] * scale],
          },
          arena,
        );
      else if (matte.source === 'clip' && values[0]) {
        out = arena.takePlane(size.width, size.height);
        out.data.set(values[0].data);
      }
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
          grow: matte.grow * scale,
          blur: matte.blur * scale,
          despeckle: matte.despeckle * scale * scale,
          fillHoles: matte.fillHoles * scale * scale,
        },
        arena,
      );
      return matte.invert ? clampedLine(out, -1, 1, arena, out) : clampedLine(out, 1, 0, arena, out);
    },
  };
}
