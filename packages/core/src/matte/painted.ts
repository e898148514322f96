import { brushAt, brushShare, nearBrush, type BrushStroke } from '../image/brush';
import type { Plane } from '../image/picture';

/** What a painted stroke does with the matte under it. */
export const paintModes = ['add', 'take away'] as const;
/** A stroke that corrects a matte on some frames of its clip, in pixels of that clip. */
export interface PaintedStroke extends BrushStroke {
  id: string;
  mode: (typeof paintModes)[number];
  first: number;
  last: number;
}

/** The strokes that count on a frame of the clip, in their order. */
export const paintedAt = (strokes: readonly PaintedStroke[], frame: number): PaintedStroke[] =>
  strokes.filter((s) => frame >= s.first && frame <= s.last);

/**
 * Lays strokes over a matte, one after another, in place: one that adds makes it at least as much as the brush is there, one that takes away leaves at most
 * what the brush does not cover.
 * @param scale pixels of the matte to one of the clip.
 */
export function paintOver(matte: Plane, strokes: readonly Omit<PaintedStroke, 'id' | 'first' | 'last'>[], scale: number): void {
  const { width, height, data } = matte;
  for (const stroke of strokes) {
    const brush = brushAt(stroke, scale),
      near = nearBrush(brush, width, height);
    if (!near) continue;
    const [x0, y0, x1, y1] = near.box;
    for (let y = y0, i = 0; y <= y1; y++)
      for (let x = x0, p = y * width + x0; x <= x1; x++, p++, i++) {
        const share = brushShare(near.distance[i]!, brush);
        data[p] = stroke.mode === 'add' ? Math.max(data[p]!, share) : Math.min(data[p]!, 1 - share);
      }
  }
}
