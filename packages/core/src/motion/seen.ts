import type { Homography } from '../image/warp';
import { after, back, seenAt, toCorners } from '../image/homography';
import { AffineFrame, type Frame, type Point, type Standing } from './frame';

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
  readonly shown: number;
  /** @param matrix pixels of the clip to pixels of the shot. */
  constructor(
    readonly inner: AffineFrame,
    readonly matrix: Homography,
  ) {
    ({ certain: this.certain, lost: this.lost, hung: this.hung, shown: this.shown } = inner);
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
  /** The frame whose origin is another point of this body. */
  at(p: Point): SeenFrame {
    return new SeenFrame(this.inner.at(p), this.matrix);
  }
  turnedBy(degrees: number): SeenFrame {
    return new SeenFrame(this.inner.turnedBy(degrees), this.matrix);
  }
  standing(more: Partial<Standing>): SeenFrame {
    return new SeenFrame(this.inner.standing(more), this.matrix);
  }
  private flat(p: Point): AffineFrame {
    const [x, y] = this.toPicture(p);
    return new AffineFrame(x, y, this.slopesAt(p), this);
  }
}

/** A frame as tracks give them: that of a flat body, moved as a whole or seen in perspective. */
export type FlatFrame = AffineFrame | SeenFrame;

/** A frame seen through a map: of the same kind where the map only moves, turns, scales and slants. */
export function seenFrame(frame: FlatFrame, m: Homography): FlatFrame {
  if (frame instanceof SeenFrame) return new SeenFrame(frame.inner, after(m, frame.matrix));
  if (m[6] !== 0 || m[7] !== 0) return new SeenFrame(frame, m);
  const k = 1 / m[8],
    [xu, yu, xv, yv] = frame.slopes,
    [x, y] = seenAt(m, [frame.x, frame.y]).at,
    slope = (u: number, v: number): [number, number] => [k * (m[0] * u + m[1] * v), k * (m[3] * u + m[4] * v)];
  return new AffineFrame(x, y, [...slope(xu, yu), ...slope(xv, yv)], frame);
}

/** Half the side of the square of the body whose corners say where a mean of frames in perspective stands, pixels. */
const ABOUT = 50;
/** The mean of frames by their shares, which sum to 1; certain where all are, lost where one is. */
export function meanFrame(frames: readonly { frame: FlatFrame; share: number }[]): FlatFrame | null {
  if (frames.length < 2) return frames[0]?.frame ?? null;
  const standing = {
      certain: frames.every(({ frame }) => frame.certain),
      lost: frames.some(({ frame }) => frame.lost),
      hung: true,
    },
    mean = (of: (f: FlatFrame) => number) => frames.reduce((sum, { frame, share }) => sum + share * of(frame), 0);
  if (frames.some(({ frame }) => frame instanceof SeenFrame)) {
    const at = (u: number, v: number): Point => [mean((f) => f.toPicture([u, v])[0]), mean((f) => f.toPicture([u, v])[1])],
      m = toCorners(2 * ABOUT, 2 * ABOUT, [at(-ABOUT, -ABOUT), at(ABOUT, -ABOUT), at(ABOUT, ABOUT), at(-ABOUT, ABOUT)]);
    return m ? new SeenFrame(new AffineFrame(ABOUT, ABOUT, undefined, standing), m) : frames[0]!.frame;
  }
  const origin = (f: FlatFrame) => f.toPicture([0, 0]);
  return new AffineFrame(
    mean((f) => origin(f)[0]),
    mean((f) => origin(f)[1]),
    [0, 1, 2, 3].map((i) => mean((f) => f.slopesAt([0, 0])[i]!)) as never,
    standing,
  );
}
