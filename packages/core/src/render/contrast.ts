import type { Picture } from '../image/picture';
import type { Shot } from '../shot/schema';
import type { FrameRenderer } from './renderFrame';

/** Below this change nobody sees a row: two steps of a display of 256. */
export const UNSEEN = 2 / 255;
/** Light that changes its ground by less than this can hardly be read. */
export const HARDLY = 10 / 255;
/** Side of the blocks over which a change is taken together, pixels of the quarter-size picture. */
const BLOCK = 3;

export interface Contrast {
  /** The largest mean change of a block, as display values 0..1; square roots stand for them. */
  change: number;
  /** Where that is, whole-shot pixels; null where nothing changes. */
  at: [number, number] | null;
  /** Mean display value there without the row; of the whole picture where nothing changes. */
  ground: number;
}

/** What a row changes on the picture of a frame, measured at a quarter of the size: the frame with it against the frame without it. */
export async function contrastOf(renderer: FrameRenderer, shot: Shot, row: string, frame: number): Promise<Contrast> {
  const own = shot.rows[row]!,
    without: Shot = { ...shot, rows: { ...shot.rows, [row]: { ...own, muted: true, solo: false } } };
  // Where the row alone is to be seen, nothing else is.
  if (own.solo && !Object.values(shot.rows).some((r) => r.solo && r.id !== row)) without.rows = { [row]: without.rows[row]! };
  const values = (p: Picture) => Float32Array.from(p.data, (v) => Math.sqrt(Math.max(0, v))),
    ask = (of: Shot) =>
      renderer.renderFrame({ shot: of, frame, factor: 4, playhead: false }, (p) => ({ width: p.width, height: p.height, v: values(p) })),
    before = await ask(without),
    after = await ask(shot),
    { width, height } = before,
    out: Contrast = { change: 0, at: null, ground: 0 };
  let all = 0;
  for (let by = 0; by < height; by += BLOCK)
    for (let bx = 0; bx < width; bx += BLOCK) {
      let sum = 0,
        ground = 0,
        n = 0;
      for (let y = by; y < Math.min(height, by + BLOCK); y++)
        for (let x = bx; x < Math.min(width, bx + BLOCK); x++, n++) {
          const i = (y * width + x) * 4;
          let most = 0;
          for (let c = 0; c < 3; c++) {
            // What is brighter than the display can show changes nothing.
            most = Math.max(most, Math.abs(Math.min(1, after.v[i + c]!) - Math.min(1, before.v[i + c]!)));
            ground += Math.min(1, before.v[i + c]!) / 3;
          }
          sum += most;
        }
      all += ground / (width * height);
      if (sum / n > out.change) {
        out.change = sum / n;
        out.ground = ground / n;
        out.at = [(bx + BLOCK / 2) * 4, (by + BLOCK / 2) * 4];
      }
    }
  return out.at ? out : { ...out, ground: all };
}

/** What a measured contrast means for a row, in words and with a way out; null where it reads. */
export function contrastProblem(name: string, light: boolean, { change, ground }: Contrast): { text: string; fix: string } | null {
  if (change < UNSEEN)
    return {
      text: `${name} changes nothing that can be seen at this frame.`,
      fix:
        light && ground > 0.75
          ? 'Its ground is bright: raise its dark surround, darken the ground, or draw it as paint.'
          : 'Raise its strength or its size, or look whether it lies behind something.',
    };
  if (light && change < HARDLY)
    return {
      text: `${name} can hardly be read on its ground: it changes it by ${Math.round(change * 100)} % (ground at ${Math.round(ground * 100)} %).`,
      fix:
        ground > 0.6 ? 'Light hardly reads on a bright ground: raise its dark surround, or take a deeper colour.' : 'Raise its strength.',
    };
  return null;
}
