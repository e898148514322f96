import { exactMath, hash, newPlane, normal, type Plane } from '../src/image';

/**
 * A house front with hard bright edges: rows of windows before a bright wall, each alike but for the tone of its panes. It moves before the camera, under
 * flicker and grain, and a dark post may cross it.
 */
export interface FacadeOptions {
  /** Pixels by which it has moved at a frame. */
  at(frame: number): { x: number; y: number };
  grain: number;
  flicker: number;
  /** Left side of a post at a frame. */
  post?: (frame: number) => number;
  alike?: boolean;
}
export const FACADE = { width: 420, height: 300, cellWide: 46, cellHigh: 61, post: 46 };

const FINE = 4;
/** Light of the wall at a place of it, taken over a pixel. */
function wall(x: number, y: number, alike: boolean): number {
  const { cellWide, cellHigh } = FACADE;
  let sum = 0;
  for (let k = 0; k < FINE * FINE; k++) {
    const X = x + ((k % FINE) + 0.5) / FINE - 0.5,
      Y = y + (Math.floor(k / FINE) + 0.5) / FINE - 0.5,
      i = Math.floor(X / cellWide),
      j = Math.floor(Y / cellHigh),
      u = X - i * cellWide,
      v = Y - j * cellHigh,
      pane = alike ? 0.12 : 0.05 + (0.4 * (hash(i, j, 7, 1) & 255)) / 255;
    sum += v < 2 ? 0.3 : u > 9 && u < 37 && v > 10 && v < 50 ? (Math.abs(u - 23) < 1 || Math.abs(v - 27) < 1 ? 0.85 : pane) : 0.93;
  }
  return sum / (FINE * FINE);
}

/** One luma frame of it, display-encoded, 0..1. */
export function drawFacade(frame: number, { at, grain, flicker, post, alike = false }: FacadeOptions): Plane {
  const plane = newPlane(FACADE.width, FACADE.height),
    moved = at(frame),
    gain = 1 + flicker * exactMath.sin(frame * 2.4 + 0.3),
    left = post?.(frame);
  for (let y = 0, p = 0; y < plane.height; y++)
    for (let x = 0; x < plane.width; x++, p++) {
      let v = gain * wall(x + 0.5 - moved.x + 460, y + 0.5 - moved.y + 610, alike);
      if (left !== undefined) {
        const cover = Math.min(1, Math.max(0, Math.min(x + 0.5 - left, left + FACADE.post - x - 0.5) + 0.5));
        v = v * (1 - cover) + 0.08 * cover;
      }
      plane.data[p] = Math.min(1, Math.max(0, v + grain * normal(p, frame, 3)));
    }
  return plane;
}
