import type { Pictures } from './arena';
import { meanHalf } from './blur';
import { decodeHeld, type HeldCodes } from './codes';
import type { Cube } from './cube';
import { gradeMatrix } from './grade';
import { withAddresses } from './kernelCall';
import type { Picture } from './picture';
import { workingMatrix, type Primaries } from './primaries';
import { curveOf, decodeTable, type Transfer } from './transfer';

/** How the codes of a medium become light. Its own table, where it has one (a camera's log), comes before the transfer curve. */
export interface Coding {
  transfer: Transfer;
  primaries: Primaries;
  /** Colours were multiplied with their alpha. */
  premultiplied: boolean;
}
/** A table with the name that it is kept under. */
export interface NamedCube {
  name: string;
  cube: Cube;
}
/** sRGB as most material has it. */
export const plainCoding: Coding = { transfer: 'srgb', primaries: 'rec709', premultiplied: false };

/** Entries of the curves that floats and values of tables go through, and where they lie. */
const ENTRIES = 32768,
  FROM = -0.5,
  SPAN = 2.5;
const LINEAR = 'linear';
/** True where a table with an entry for each code is all that it takes. */
const isPlain = (coding: Coding, codes: Pick<HeldCodes, 'bits' | 'channels'>, cube: NamedCube | null): boolean =>
  codes.bits !== 32 && coding.primaries === 'rec709' && !cube && !(coding.premultiplied && codes.channels === 4);

/** The straight colours of a picture through a transfer curve, in place. */
function throughCurve(picture: Picture, transfer: Transfer, pictures: Pictures): void {
  if (transfer === LINEAR) return;
  const { decode } = curveOf(transfer),
    // What lies beyond the brightest code of PQ has no light of its own.
    most = transfer === 'pq' ? 1 : FROM + SPAN,
    table = pictures.constant(`curve ${transfer}`, () =>
      Float32Array.from({ length: ENTRIES }, (_, i) => decode(Math.min(most, FROM + (SPAN * i) / (ENTRIES - 1)))),
    );
  pictures.run('throughTable', picture.height, picture.address!, table, ENTRIES, FROM, SPAN, picture.width);
}
function throughLut(picture: Picture, { name, cube }: NamedCube, pictures: Pictures): void {
  const table = pictures.constant(`cube ${name}`, () => cube.values),
    domain = pictures.constant(`domain ${name}`, () => [...cube.low, ...cube.low.map((low, i) => 1 / (cube.high[i]! - low))]);
  pictures.run(
    cube.kind === 'cube' ? 'throughCube' : 'throughLines',
    picture.height,
    picture.address!,
    table,
    cube.size,
    domain,
    picture.width,
  );
}

/**
 * Held codes of any coding to linear premultiplied light of the program's own primaries, at 1/`factor` of the size: codes, table, curve, primaries,
 * then the mean of blocks. `factor` is a power of two.
 */
export function decodeAs(codes: HeldCodes, coding: Coding, cube: NamedCube | null, factor: number, pictures: Pictures): Picture {
  if (isPlain(coding, codes, cube)) return decodeHeld(codes, coding.transfer, factor, pictures);
  const { width, height, channels, bits } = codes,
    out = pictures.takePicture(width, height),
    wide = bits === 16,
    // Where a table comes first, the codes themselves are what it is asked for.
    first = cube ? LINEAR : coding.transfer;
  withAddresses(pictures, [codes.bytes], (at) => {
    if (bits === 32) pictures.run('decodeFloats', height, at!, channels, channels === 4 && !coding.premultiplied, out.address!, width);
    else {
      const table = pictures.constant(`decode ${first} ${bits}`, () => decodeTable(first, bits as 8 | 16));
      if (coding.premultiplied && channels === 4) pictures.run('decodeMultiplied', height, at!, table, wide, out.address!, width);
      else pictures.run('decodeCodes', height, at!, table, channels, wide, out.address!, width);
    }
  });
  if (cube) throughLut(out, cube, pictures);
  if (cube || bits === 32) throughCurve(out, coding.transfer, pictures);
  let light = out;
  if (coding.primaries !== 'rec709') {
    light = gradeMatrix(out, workingMatrix(coding.primaries), pictures);
    pictures.give(out);
  }
  for (let f = factor; f > 1; f /= 2) {
    const half = meanHalf(light, pictures);
    pictures.give(light);
    light = half;
  }
  return light;
}
