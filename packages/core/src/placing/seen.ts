import type { Homography } from '../image/warp';
import { AffineFrame, type Frame, type Point } from '../motion/frame';
import { after, back, seenAt } from './homography';

/** How a map changes its result with x and y about a point: [x by x, y by x, x by y, y by y]. */
export function slopesOf(m: Homography, at: Point): readonly [number, number, number, number] {
  const { at: here, depth } = seenAt(m, at),
    by = (column: number, row: 0 | 1) => (m[3 * row + column]! - here[row] * m[6 + column]!) / depth;
  return [by(0, 0), by(0, 1), by(1, 0), by(1, 1)];
}

/** A frame that was measured in a clip's own picture, seen where that picture stands in the shot. */
export class SeenFrame implements Frame {
  readonly certain: boolean;
  readonly lost: boolean;
  readonly hung: boolean;
  /** @param matrix pixels of the clip to pixels of the shot. */
  constructor(
    readonly inner: AffineFrame,
    readonly matrix: Homography,
  ) {
    ({ certain: this.certain, lost: this.lost, hung: this.hung } = inner);
  }
  toPicture(p: Point): Point {
    return seenAt(this.matrix, this.inner.toPicture(p)).at;
  }
  toBody(p: Point): Point {
    const way = back(this.matrix);
    return this.inner.toBody(way ? seenAt(way, p).at : p);
  }
  slopesAt(p: Point): readonly [number, number, number, number] {
    const [a, b, c, d] = slopesOf(this.matrix, this.inner.toPicture(p)),
      [e, f, g, h] = this.inner.slopesAt();
    return [a * e + c * f, b * e + d * f, a * g + c * h, b * g + d * h];
  }
  scaleAt(p: Point): number {
    return this.flat(p).scaleAt();
  }
  turnAt(p: Point): number {
    return this.flat(p).turnAt();
  }
  resized(scale: number): SeenFrame {
    return new SeenFrame(
      this.inner.resized(scale),
      after([scale, 0, 0, 0, scale, 0, 0, 0, 1], after(this.matrix, [1 / scale, 0, 0, 0, 1 / scale, 0, 0, 0, 1])),
    );
  }
  private flat(p: Point): AffineFrame {
    const [x, y] = this.toPicture(p);
    return new AffineFrame(x, y, this.slopesAt(p), this);
  }
}

/** A frame seen through a map: of the same kind where the map only moves, turns, scales and slants. */
export function seenFrame(frame: AffineFrame, m: Homography): Frame {
  if (m[6] !== 0 || m[7] !== 0) return new SeenFrame(frame, m);
  const k = 1 / m[8],
    [xu, yu, xv, yv] = frame.slopes,
    [x, y] = seenAt(m, [frame.x, frame.y]).at,
    slope = (u: number, v: number): [number, number] => [k * (m[0] * u + m[1] * v), k * (m[3] * u + m[4] * v)];
  return new AffineFrame(x, y, [...slope(xu, yu), ...slope(xv, yv)], frame);
}

/** The mean of frames by their shares, which sum to 1; certain where all are, lost where one is. */
export function meanFrame(frames: readonly { frame: AffineFrame; share: number }[]): AffineFrame | null {
  if (frames.length < 2) return frames[0]?.frame ?? null;
  const mean = (of: (f: AffineFrame) => number) => frames.reduce((sum, { frame, share }) => sum + share * of(frame), 0);
  return new AffineFrame(
    mean((f) => f.x),
    mean((f) => f.y),
    [0, 1, 2, 3].map((i) => mean((f) => f.slopes[i]!)) as never,
    {
      certain: frames.every(({ frame }) => frame.certain),
      lost: frames.some(({ frame }) => frame.lost),
      hung: true,
    },
  );
}
