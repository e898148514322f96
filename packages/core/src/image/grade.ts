import type { Pictures } from './arena';
import { withAddresses } from './kernelCall';
import type { Picture } from './picture';
import { curveTable } from './transfer';

/** Three columns (what red, green and blue give to r, g, b), then an offset; on linear light. */
export type ColourMatrix = readonly [number, number, number, number, number, number, number, number, number, number, number, number];

/** Colours through a matrix with an offset (times alpha: light is not made where nothing is); alpha stays. */
export function gradeMatrix(source: Picture, matrix: ColourMatrix, pictures: Pictures): Picture {
  const out = pictures.takePicture(source.width, source.height),
    numbers = pictures.takePlane(16, 1);
  numbers.data.fill(0);
  for (let column = 0; column < 4; column++) for (let c = 0; c < 3; c++) numbers.data[column * 4 + c] = matrix[column * 3 + c]!;
  withAddresses(pictures, [source, numbers, out], (from, m, to) =>
    pictures.run('gradeMatrix', source.height, from!, m!, to!, source.width),
  );
  pictures.give(numbers);
  return out;
}

const SHIFT = 16;

/**
 * Each channel through a curve of its own over 0..1 of straight linear light. Above 1 a curve goes on in a straight line of the slope that it
 * ends with; what is below 0 stays.
 */
export function gradeCurves(source: Picture, curves: readonly [Curve, Curve, Curve], pictures: Pictures): Picture {
  const out = pictures.takePicture(source.width, source.height),
    made = new Map([...new Set(curves)].map((curve) => [curve, curveTable(curve, SHIFT)])),
    tables = curves.map((curve) => made.get(curve)!),
    length = tables[0]!.length,
    plane = pictures.takePlane(3 * length + 6, 1),
    tiny = 0.00006103515625; // 2^-14, where the table begins
  tables.forEach((table, c) => plane.data.set(table, c * length));
  curves.forEach((curve, c) => {
    plane.data[3 * length + c] = curve(tiny) / tiny;
    plane.data[3 * length + 3 + c] = (curve(1) - curve(0.984375)) * 64;
  });
  withAddresses(pictures, [source, plane, out], (from, t, to) => {
    const lows = t! + 12 * length;
    pictures.run('gradeCurves', source.height, from!, t!, length * 4, SHIFT, lows, lows + 12, to!, source.width);
  });
  pictures.give(plane);
  return out;
}
type Curve = (x: number) => number;
