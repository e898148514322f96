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
  count = 0;
  anyBehind = false;
  constructor(
    private readonly sheet: Sheet,
    most: number,
  ) {
    this.numbers = new Float32Array(Math.max(1, most) * FLOATS);
    this.whole = new Int32Array(this.numbers.buffer);
  }
  /**
   * @param half half length and half breadth, pixels. What is thinner than a pixel covers less.
   * @param turn radians.
   * @param solid 1 covers what is behind it, 0 is light only.
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
      reachX = Math.abs(c) * a + Math.abs(s) * b + 1,
      reachY = Math.abs(s) * a + Math.abs(c) * b + 1,
      at = this.count++ * FLOATS,
      n = this.numbers;
    n[at] = x;
    n[at + 1] = y;
    n[at + 2] = c;
    n[at + 3] = s;
    n[at + 4] = ((mirrored ? -1 : 1) * inner) / (2 * a);
    n[at + 5] = inner / (2 * b);
    this.whole[at + 6] = level.at * 4;
    this.whole[at + 7] = level.side;
    n[at + 8] = cover * (long / a) * (broad / b);
    if (behind) this.anyBehind = true;
    n[at + 9] = behind ? -reachX : reachX;
    n[at + 10] = reachY;
    n[at + 11] = 0;
    n.set(colour, at + 12);
    n[at + 15] = solid;
  }
}

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
