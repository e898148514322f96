import type { Pictures } from './arena';
import { withAddresses } from './kernelCall';
import type { Bits, Codes, Picture, Plane } from './picture';
import { reducedSize } from './resize';
import { curveOf, curveTable, decodeTable, rootCurve, slopeAtBlack, type OutCurve, type Transfer } from './transfer';

/** Codes of a frame in the kernels' memory, as raw bytes of a plane. */
export interface HeldCodes extends Omit<Codes, 'data'> {
  readonly bytes: Plane;
}
/** Brings codes into the kernels' memory, for as many decodings as are wanted of them. Its plane is to be given back. */
export function holdCodes({ width, height, channels, bits, data }: Codes, pictures: Pictures): HeldCodes {
  const bytes = pictures.takePlane(Math.ceil(data.byteLength / 4), 1);
  new Uint8Array(bytes.data.buffer, bytes.data.byteOffset, data.byteLength).set(
    new Uint8Array(data.buffer, data.byteOffset, data.byteLength),
  );
  return { width, height, channels, bits, bytes };
}
const tableOf = (bits: Bits, transfer: Transfer, pictures: Pictures): number =>
  pictures.constant(`decode ${transfer} ${bits}`, () => decodeTable(transfer, bits as 8 | 16));

/**
 * Held codes of 8 or 16 bit to linear premultiplied light at 1/`factor` of the size (see `decodeAs` for every other kind): the mean of blocks, taken in linear light, in one pass over the codes.
 * Edge blocks take the mean of what there is.
 */
export function decodeHeld(codes: HeldCodes, transfer: Transfer, factor: number, pictures: Pictures): Picture {
  const { width, height, channels, bits } = codes,
    out = pictures.takePicture(reducedSize(width, factor), reducedSize(height, factor)),
    table = tableOf(bits, transfer, pictures),
    wide = bits === 16;
  withAddresses(pictures, [codes.bytes], (at) => {
    if (factor === 1) pictures.run('decodeCodes', height, at!, table, channels, wide, out.address!, width);
    else pictures.run('decodeReduced', out.height, at!, table, channels, wide, width, height, factor, out.address!, out.width);
  });
  return out;
}
/** Two held frames of one clip, mixed in linear light: `part` of the second one. Two thirds of the time of decoding both and mixing them. */
export function decodeMixed(first: HeldCodes, second: HeldCodes, transfer: Transfer, part: number, pictures: Pictures): Picture {
  const { width, height, channels, bits } = first,
    out = pictures.takePicture(width, height),
    table = tableOf(bits, transfer, pictures);
  withAddresses(pictures, [first.bytes, second.bytes], (a, b) =>
    pictures.run('decodeMixed', height, a!, b!, table, channels, bits === 16, part, out.address!, width),
  );
  return out;
}
/** Codes to linear premultiplied light at 1/`factor` of the size. */
export function decodeCodes(codes: Codes, transfer: Transfer, pictures: Pictures, factor = 1): Picture {
  const held = holdCodes(codes, pictures),
    out = decodeHeld(held, transfer, factor, pictures);
  pictures.give(held.bytes);
  return out;
}

export interface EncodeOptions {
  bits: 8 | 16;
  channels: 3 | 4;
  transfer?: OutCurve;
  frame?: number;
}

/** Steps of the stored curve that 16-bit codes are read from. */
const SHIFT = 11;

/**
 * Linear premultiplied light to codes (straight alpha where there are four channels). Going to 8 bits it is dithered by uniform noise of at
 * most 0.46 of a step keyed by pixel and frame, which never moves a value that is a code already. `into` may be an array of this length that is
 * written again, so that a run of frames asks for no new one.
 */
export function encodeCodes(
  picture: Picture,
  options: EncodeOptions,
  pictures: Pictures,
  into?: Uint8Array | Uint16Array,
): Uint8Array | Uint16Array {
  const { bits, channels, transfer = 'srgb', frame = 0 } = options,
    { width, height } = picture,
    count = width * height * channels,
    plane: Plane = pictures.takePlane(Math.ceil((count * bits) / 32), 1),
    { encode } = curveOf(transfer),
    low = slopeAtBlack(transfer);
  withAddresses(pictures, [picture, plane], (from, to) => {
    if (bits === 8) {
      const curve = pictures.constant(`encode ${transfer}`, () => rootCurve(transfer));
      pictures.run('encodeBytes', height, from!, curve, channels, frame, to!, width);
    } else {
      const table = pictures.constant(`encode ${transfer} 16`, () => curveTable(encode, SHIFT));
      pictures.run('encodeShorts', height, from!, table, SHIFT, low, channels, to!, width);
    }
  });
  const { buffer, byteOffset } = plane.data,
    made = bits === 8 ? new Uint8Array(buffer, byteOffset, count) : new Uint16Array(buffer, byteOffset, count),
    again = into?.length === count && into.BYTES_PER_ELEMENT === made.BYTES_PER_ELEMENT;
  if (again) into.set(made);
  const out = again ? into : made.slice();
  pictures.give(plane);
  return out;
}
