import { cos, sin } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import type { Picture } from '../image/picture';
import type { Sheet } from './stamps';
import { sortIntoTiles } from './tiles';

const FLOATS = 16;

/** Particles as they are to be drawn, in the picture's pixels, filled by `add` in the order of drawing. */
export class Drawn {
  readonly numbers: Float32Array;
  private readonly whole: Int32Array;
  private readonly spreads: readonly (readonly [number, number])[];
  count = 0;
  anyBehind = false;
  constructor(
    private readonly sheet: Sheet,
    most: number,
  ) {
    this.numbers = new Float32Array(Math.max(1, most) * FLOATS);
    this.whole = new Int32Array(this.numbers.buffer);
    this.spreads = spreadsOf(sheet);
  }
  /**
   * @param half half length and half breadth, pixels. What is thinner than a pixel covers less.
   * @param turn radians.
   * @param solid 1 covers what is behind it, 0 is light only.
   * @param moved how far it goes while the shutter is open, pixels.
   */
  add(
    x: number,
    y: number,
    [long, broad]: readonly [number, number],
    turn: number,
    stamp: number,
    colour: readonly [number, number, number],
    cover: number,
    solid: number,
    behind: boolean,
    mirrored = false,
    moved: readonly [number, number] = STILL,
  ): void {
    if (!(cover > 0) || !(long > 0) || !(broad > 0)) return;
    const a = Math.max(0.6, long),
      b = Math.max(0.6, broad),
      levels = this.sheet.stamps[stamp % this.sheet.stamps.length]!,
      // The smallest size that is not coarser than the picture.
      level = levels.findLast((l) => l.side - 2 >= 2 * Math.max(a, b)) ?? levels[0]!,
      inner = level.side - 2,
      c = cos(turn),
      s = sin(turn),
      u = ((mirrored ? -1 : 1) * inner) / (2 * a),
      v = inner / (2 * b),
      at = this.count++ * FLOATS,
      n = this.numbers,
      way = moved[0] * moved[0] + moved[1] * moved[1];
    n[at] = x;
    n[at + 1] = y;
    let [uByX, uByY, vByX, vByY] = [c * u, s * u, -s * v, c * v],
      [reachX, reachY] = [Math.abs(c) * a + Math.abs(s) * b, Math.abs(s) * a + Math.abs(c) * b],
      thins = (long / a) * (broad / b);
    if (way > LEAST_WAY) {
      // Drawn out along its way: as wide a spread as the mean of its places has, and no more cover in all.
      const d = 1 / Math.sqrt(way),
        px = moved[0] * d,
        py = moved[1] * d,
        along = px * c + py * s,
        across = py * c - px * s,
        [onLong, onBroad] = this.spreads[stamp % this.spreads.length]!,
        // A way of a length has a twelfth of its square as variance.
        longer = Math.sqrt(1 + way / (12 * (onLong * a * a * along * along + onBroad * b * b * across * across))),
        less = 1 - 1 / longer,
        onU = uByX * px + uByY * py,
        onV = vByX * px + vByY * py,
        further = (longer - 1) * (Math.abs(along) * a + Math.abs(across) * b);
      [uByX, uByY, vByX, vByY] = [uByX - less * onU * px, uByY - less * onU * py, vByX - less * onV * px, vByY - less * onV * py];
      reachX += further * Math.abs(px);
      reachY += further * Math.abs(py);
      thins /= longer;
    }
    n[at + 2] = uByX;
    n[at + 3] = uByY;
    n[at + 4] = vByX;
    n[at + 5] = vByY;
    this.whole[at + 6] = level.at * 4;
    this.whole[at + 7] = level.side;
    n[at + 8] = cover * thins;
    if (behind) this.anyBehind = true;
    n[at + 9] = behind ? -(reachX + 1) : reachX + 1;
    n[at + 10] = reachY + 1;
    n[at + 11] = 0;
    n.set(colour, at + 12);
    n[at + 15] = solid;
  }
}
const known = new WeakMap<Sheet, readonly (readonly [number, number])[]>();
/** How far each stamp of a sheet is spread along and across itself: the variances of its cover, for half sides of 1. Worked out once a sheet. */
function spreadsOf(sheet: Sheet): readonly (readonly [number, number])[] {
  let out = known.get(sheet);
  if (out) return out;
  out = sheet.stamps.map((levels) => {
    const { at, side } = levels[levels.length - 1]!,
      half = (side - 2) / 2;
    let [sum, u, v] = [1e-9, 0, 0];
    for (let y = 0, p = at + 3; y < side; y++)
      for (let x = 0; x < side; x++, p += 4) {
        const a = sheet.data[p]!,
          [dx, dy] = [(x + 0.5 - side / 2) / half, (y + 0.5 - side / 2) / half];
        sum += a;
        u += a * dx * dx;
        v += a * dy * dy;
      }
    return [Math.max(0.01, u / sum), Math.max(0.01, v / sum)] as const;
  });
  known.set(sheet, out);
  return out;
}
const STILL = [0, 0] as const;
/** A way that is shorter than half a pixel blurs nothing, squared. */
const LEAST_WAY = 0.25;

/** Draws them: a picture of those before the subject and, where there are any, one of those behind it, premultiplied. */
export function drawSprites(
  drawn: Drawn,
  sheet: Sheet,
  width: number,
  height: number,
  pictures: Pictures,
): { front: Picture; behind: Picture | undefined } {
  const shapes = pictures.takePlane(Math.max(1, drawn.count) * FLOATS, 1),
    stamps = pictures.takePlane(sheet.data.length, 1);
  // As whole numbers: a place in the sheet would be no number as a float and could change on the way.
  new Int32Array(shapes.data.buffer, shapes.data.byteOffset, drawn.count * FLOATS).set(
    new Int32Array(drawn.numbers.buffer, 0, drawn.count * FLOATS),
  );
  stamps.data.set(sheet.data);
  const sorted = sortIntoTiles(shapes, drawn.count, width, height, pictures),
    side = (behind: boolean): Picture => {
      const out = pictures.takePicture(width, height);
      pictures.run(
        'drawStamps',
        sorted.rows,
        shapes.address!,
        stamps.address!,
        sorted.ends,
        sorted.entries,
        behind,
        false,
        out.address!,
        width,
        height,
      );
      return out;
    };
  const out = { front: side(false), behind: drawn.anyBehind ? side(true) : undefined };
  sorted.giveBack();
  pictures.give(stamps);
  pictures.give(shapes);
  return out;
}
