import { mappedVertex, type Vertex } from '@wraithos/core/matte';
import { addOutline, clipFrame, matteClip, type OutlineMode } from '@wraithos/core/shot';
import { useShot, type ShotState } from '../state/shotStore';
import { onMatte } from './onMatte';

/** Adds an outline, drawn on the picture at the playhead, to a matte, and selects it. */
export function putOutline(now: ShotState, matte: string, mode: OutlineMode, vertices: readonly Vertex[]): void {
  const { shot, frame, edit, set } = now,
    clip = shot?.mattes[matte] && matteClip(shot, shot.mattes[matte]);
  edit(
    addOutline(
      matte,
      mode,
      vertices.map((v) => mappedVertex(v, (p) => onMatte(now, matte, p))),
      undefined,
      clip ? clipFrame(shot!, clip, frame) : frame,
    ),
  );
  set({ outline: useShot.getState().shot!.mattes[matte]!.outlines.at(-1)?.id ?? null });
}
