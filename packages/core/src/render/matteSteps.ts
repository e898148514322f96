import type { Picture, Plane } from '../image/picture';
import { differenceMatte, outlineCoverage, refineMatte } from '../matte';
import type { Pose } from '../mounts/mount';
import { clipWithRole } from '../shot/query';
import type { Clip, Matte, Shot } from '../shot/schema';
import type { Step } from './evaluate';
import { clipMatteStep, keyOf, plateStep, sizeOf, type Factor } from './plateSteps';
import type { Sources } from './sources';

/** Where outlines stand at this frame: a mount's way since the frame that it was drawn at, in whole-shot pixels. */
export type PoseOf = (mount: string, frame: number) => Pose | null;

/** What a matte is worth at a frame, refined, 0..1. Lengths and areas follow the draft size. */
export function matteStep(shot: Shot, matte: Matte, frame: number, factor: Factor, sources: Sources, poseOf: PoseOf): Step<Plane> {
  const size = sizeOf(shot, factor),
    scale = 1 / factor,
    clip: Clip | undefined = matte.clip ? shot.clips[matte.clip] : clipWithRole(shot, 'performance'),
    clean = clipWithRole(shot, 'clean');
  const shifts = matte.outlines.map((outline): [number, number] => {
    if (!outline.mount) return [0, 0];
    const now = poseOf(outline.mount, frame),
      then = poseOf(outline.mount, outline.mountFrame);
    return now && then ? [now.x - then.x, now.y - then.y] : [0, 0];
  });
  const inputs: Step[] =
    matte.source === 'difference' && clip && clean
      ? [plateStep(shot, clip, frame, factor, sources), plateStep(shot, clean, frame, factor, sources)]
      : matte.source === 'clip' && clip
        ? [clipMatteStep(clip, plateStep(shot, clip, frame, factor, sources))]
        : [];
  const { id: _, name: __, ...settings } = matte;
  return {
    key: keyOf(
      'matte',
      settings,
      shifts,
      inputs.map((i) => i.key),
      size,
    ),
    inputs,
    // A matte that does not change from frame to frame serves them all.
    keep: inputs.length ? 'for edits' : 'for frames',
    run(values: (Picture | Plane)[], arena) {
      let out: Plane;
      if (matte.source === 'difference' && values.length)
        out = differenceMatte(
          values[0] as Picture,
          values[1] as Picture,
          { threshold: matte.threshold, softness: matte.softness, smooth: matte.smooth * scale, shadow: matte.shadow },
          arena,
        );
      else {
        out = arena.takePlane(size.width, size.height);
        if (matte.source === 'clip' && values[0]) out.data.set(values[0].data);
        else out.data.fill(0);
      }
      const inside = matte.outlines.filter((o) => o.mode === 'keep inside');
      const kept = inside.length ? arena.takePlane(size.width, size.height) : null;
      kept?.data.fill(0);
      matte.outlines.forEach((outline, i) => {
        const cover = outlineCoverage(outline.vertices, outline.feather, scale, size.width, size.height, arena, shifts[i]),
          c = cover.data,
          o = out.data;
        if (outline.mode === 'add') for (let p = 0; p < c.length; p++) o[p] = o[p]! + c[p]! - o[p]! * c[p]!;
        else if (outline.mode === 'take away') for (let p = 0; p < c.length; p++) o[p]! *= 1 - c[p]!;
        else for (let p = 0; p < c.length; p++) kept!.data[p] = Math.max(kept!.data[p]!, c[p]!);
        arena.give(cover);
      });
      if (kept) {
        for (let p = 0; p < kept.data.length; p++) out.data[p]! *= kept.data[p]!;
        arena.give(kept);
      }
      refineMatte(
        out,
        {
          grow: matte.grow * scale,
          blur: matte.blur * scale,
          despeckle: matte.despeckle * scale * scale,
          fillHoles: matte.fillHoles * scale * scale,
        },
        arena,
      );
      for (let p = 0; p < out.data.length; p++) {
        const v = out.data[p]!,
          w = v > 0 ? (v > 1 ? 1 : v) : 0;
        out.data[p] = matte.invert ? 1 - w : w;
      }
      return out;
    },
  };
}
