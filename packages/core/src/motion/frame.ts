import { atan2, cos, PI, radians, sin } from '../image/exactMath';

export type Point = readonly [number, number];

/**
 * A moving frame of reference: what an effect, an outline or a handle hangs on. Its own coordinates (the body's) are whole-shot pixels from its
 * origin, as they were where it was measured first. Whatever carries things (a point, a pair; a plane, a ground or a camera in time) gives one of
 * these; nobody reads numbers of a track beside it. All of its plain fields together say everything of it: they are part of picture keys.
 */
export interface Frame {
  /** Where a point of the body stands on the picture. */
  toPicture(p: Point): Point;
  /** Which point of the body stands at a place of the picture. */
  toBody(p: Point): Point;
  /** How the picture changes with the body's x and y about a point of the body: [x by x, y by x, x by y, y by y]. */
  slopesAt(p: Point): readonly [number, number, number, number];
  /** Pixels of the picture for each pixel of the body about a point of the body. */
  scaleAt(p: Point): number;
  /** Degrees clockwise by which the body's x axis is turned about a point of the body. */
  turnAt(p: Point): number;
  /** The same frame for a picture of another size: both of its sides in pixels of that picture. */
  resized(scale: number): Frame;
  /** It was measured here, and well. */
  readonly certain: boolean;
  /** Nothing was found here: it stands where it was seen last. */
  readonly lost: boolean;
  /** False where the picture itself stands in, because nothing carries it. */
  readonly hung: boolean;
  /** How much of what hangs on it shows: less than 1 where it fades because its track is lost. */
  readonly shown: number;
}

/** What is known of a frame beside where it stands. */
export interface Standing {
  certain: boolean;
  lost: boolean;
  hung: boolean;
  /** All of it where nothing is said. */
  shown?: number;
}
const STANDS: Standing = { certain: true, lost: false, hung: true };

/** A frame whose body is moved, turned, scaled and slanted as a whole. */
export class AffineFrame implements Frame {
  readonly certain: boolean;
  readonly lost: boolean;
  readonly hung: boolean;
  readonly shown: number;
  /**
   * @param x where the body's origin stands on the picture; so `y`.
   * @param slopes as `slopesAt` gives them.
   */
  constructor(
    readonly x: number,
    readonly y: number,
    readonly slopes: readonly [number, number, number, number] = [1, 0, 0, 1],
    standing: Standing = STANDS,
  ) {
    ({ certain: this.certain, lost: this.lost, hung: this.hung } = standing);
    this.shown = standing.shown ?? 1;
  }
  /**
   * A frame that is turned (degrees clockwise) and scaled.
   * @example AffineFrame.turned(100, 50, 90, 2).toPicture([10, 0]) // [100, 70]
   */
  static turned(x: number, y: number, degrees: number, scale: number, standing?: Standing): AffineFrame {
    const c = scale * cos(radians(degrees)),
      s = scale * sin(radians(degrees));
    return new AffineFrame(x, y, degrees === 0 ? [scale, 0, 0, scale] : [c, s, -s, c], standing);
  }
  toPicture([u, v]: Point): Point {
    const [xu, yu, xv, yv] = this.slopes;
    return [this.x + xu * u + xv * v, this.y + yu * u + yv * v];
  }
  toBody([px, py]: Point): Point {
    const [xu, yu, xv, yv] = this.slopes,
      dx = px - this.x,
      dy = py - this.y,
      by = 1 / (xu * yv - xv * yu);
    return [by * (yv * dx - xv * dy), by * (xu * dy - yu * dx)];
  }
  slopesAt(): readonly [number, number, number, number] {
    return this.slopes;
  }
  scaleAt(): number {
    const [xu, yu, xv, yv] = this.slopes;
    return Math.sqrt(Math.abs(xu * yv - xv * yu));
  }
  turnAt(): number {
    return this.slopes[1] === 0 && this.slopes[0] > 0 ? 0 : (atan2(this.slopes[1], this.slopes[0]) * 180) / PI;
  }
  /** The frame whose origin is another point of this body. */
  at(p: Point): AffineFrame {
    const [x, y] = this.toPicture(p);
    return new AffineFrame(x, y, this.slopes, this);
  }
  /** The frame whose body is turned about its origin, degrees clockwise. */
  turnedBy(degrees: number): AffineFrame {
    const [xu, yu, xv, yv] = this.slopes,
      c = cos(radians(degrees)),
      s = sin(radians(degrees));
    return new AffineFrame(this.x, this.y, [xu * c + xv * s, yu * c + yv * s, xv * c - xu * s, yv * c - yu * s], this);
  }
  /** The frame with something else known of it. */
  standing(more: Partial<Standing>): AffineFrame {
    return new AffineFrame(this.x, this.y, this.slopes, {
      certain: this.certain,
      lost: this.lost,
      hung: this.hung,
      shown: this.shown,
      ...more,
    });
  }
  resized(scale: number): AffineFrame {
    return new AffineFrame(this.x * scale, this.y * scale, this.slopes, this);
  }
}

/** The picture's own frame, for what hangs on nothing: its middle, or its corner. */
export const pictureFrame = (origin: 'middle' | 'corner', width: number, height: number): AffineFrame =>
  new AffineFrame(origin === 'middle' ? width / 2 : 0, origin === 'middle' ? height / 2 : 0, undefined, {
    certain: true,
    lost: false,
    hung: false,
  });

/** How a small step on the picture about a point of the body looks to the body: the inverse of `slopesAt`, as [u by x, v by x, u by y, v by y]. */
export function inverseSlopes(frame: Frame, p: Point): readonly [number, number, number, number] {
  const [xu, yu, xv, yv] = frame.slopesAt(p),
    by = 1 / (xu * yv - xv * yu);
  return [by * yv, -by * yu, -by * xv, by * xu];
}

/** Half the width and height of the box, on the picture, around an ellipse about a point of the body with radii along the body's axes. */
export function spanAt(frame: Frame, p: Point, along: number, across = along): readonly [number, number] {
  const [xu, yu, xv, yv] = frame.slopesAt(p),
    long = (a: number, b: number) => (b === 0 ? Math.abs(a) : Math.sqrt(a * a + b * b));
  return [long(xu * along, xv * across), long(yv * across, yu * along)];
}
