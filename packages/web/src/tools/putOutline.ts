import { mappedVertex, type Vertex } from '@wraithos/core/matte';
import { addOutline, clipFrame, matteClip, type Edit, type OutlineMode } from '@wraithos/core/shot';
import { useShot, type ShotState } from '../state/shotStore';
import { onMatte } from './onMatte';

/** The edit that adds an outline, drawn on the picture at the playhead, to a matte. */
export function outlineEdit(now: Pick<ShotState, 'shot' | 'frame'>, matte: string, mode: OutlineMode, vertices: readonly Vertex[]): Edit {
  const { shot, frame } = now,
    clip = shot?.mattes[matte] && matteClip(shot, shot.mattes[matte]);
  return addOutline(
    matte,
    mode,
    vertices.map((v) => mappedVertex(v, (p) => onMatte(now, matte, p))),
    undefined,
    clip ? clipFrame(shot!, clip, frame) : frame,
  );
}
/** Adds an outline, drawn on the picture at the playhead, to a matte, and selects it. */
export function putOutline(now: ShotState, matte: string, mode: OutlineMode, vertices: readonly Vertex[]): void {
  const { edit, set } = now;
  edit(outlineEdit(now, matte, mode, vertices));
  set({ outline: useShot.getState().shot!.mattes[matte]!.outlines.at(-1)?.id ?? null });
}
