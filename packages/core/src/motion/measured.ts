import { exp } from '../image/exactMath';
import { newPlane, type Codes, type Plane } from '../image/picture';
import { lumaOfCodes } from '../image/transfer';
import { param, type StoredOf } from '../params/describe';

/** What a track is measured on. */
export const measureParams = {
  channel: param.choice({
    default: 'brightness',
    of: ['brightness', 'red', 'green', 'blue'],
    title: 'Measured on',
    rare: true,
    help: 'The part of the picture that is looked at: the one in which the thing stands out most.',
  }),
  preBlur: param.number({
    default: 0,
    title: 'Blurred by',
    unit: 'px',
    range: [0, 10],
    step: 0.5,
    curve: false,
    rare: true,
    help: 'Sigma of a blur before it is measured, px: against strong grain and compression.',
  }),
  raised: param.share({
    default: 0,
    title: 'Contrast raised',
    curve: false,
    rare: true,
    help: 'Evens out light and shade and lifts faint texture, for measuring alone.',
  }),
};
type Measures = StoredOf<typeof measureParams>;

/** One channel of a frame, display-encoded, 0..1. Light has no end at 1. */
function channelOf({ data, channels, bits, width, height }: Codes, channel: number): Plane {
  const out = newPlane(width, height),
    at = channels === 1 ? 0 : channel,
    k = bits === 8 ? 1 / 255 : 1 / 65535;
  for (let i = 0, j = at; i < out.data.length; i++, j += channels)
    out.data[i] = bits === 32 ? (data[j]! > 0 ? Math.sqrt(data[j]!) : 0) : data[j]! * k;
  return out;
}

/** A plane blurred by a Gaussian, in place; its edges go on. */
function blurPlane({ width, height, data }: Plane, sigma: number): void {
  const reach = Math.ceil(3 * sigma),
    weights = Float32Array.from({ length: 2 * reach + 1 }, (_, i) => exp(-((i - reach) * (i - reach)) / (2 * sigma * sigma))),
    sum = weights.reduce((a, b) => a + b, 0),
    pass = (count: number, step: number, lines: number, next: number) => {
      const line = new Float32Array(count + 2 * reach);
      for (let l = 0; l < lines; l++) {
        for (let i = 0; i < line.length; i++) line[i] = data[l * next + Math.min(count - 1, Math.max(0, i - reach)) * step]!;
        for (let i = 0; i < count; i++) {
          let v = 0;
          for (let k = 0; k <= 2 * reach; k++) v += weights[k]! * line[i + k]!;
          data[l * next + i * step] = v / sum;
        }
      }
    };
  pass(width, 1, height, width);
  pass(height, width, width, 1);
}

/** Half of the side of the square that light and contrast are evened out over, pixels; the contrast that is aimed at, and the least that counts as any. */
const AROUND = 24,
  AIM = 0.15,
  LEAST = 0.012;
/** Raises faint contrast to what is usual, in place: every pixel against the mean and deviation of what is around it. */
function raise({ width, height, data }: Plane, share: number): void {
  const line = width + 1,
    sums = new Float64Array(line * (height + 1)),
    squares = new Float64Array(line * (height + 1));
  for (let y = 0; y < height; y++)
    for (let x = 0, row = 0, row2 = 0; x < width; x++) {
      const v = data[y * width + x]!,
        at = (y + 1) * line + x + 1;
      row += v;
      row2 += v * v;
      sums[at] = sums[at - line]! + row;
      squares[at] = squares[at - line]! + row2;
    }
  for (let y = 0; y < height; y++) {
    const top = Math.max(0, y - AROUND) * line,
      bottom = Math.min(height, y + AROUND + 1) * line;
    for (let x = 0; x < width; x++) {
      const left = Math.max(0, x - AROUND),
        right = Math.min(width, x + AROUND + 1),
        n = ((bottom - top) / line) * (right - left),
        mean = (sums[bottom + right]! - sums[top + right]! - sums[bottom + left]! + sums[top + left]!) / n,
        square = (squares[bottom + right]! - squares[top + right]! - squares[bottom + left]! + squares[top + left]!) / n,
        deviation = Math.sqrt(Math.max(0, square - mean * mean)),
        v = data[y * width + x]!;
      data[y * width + x] = v + share * (0.5 + ((v - mean) * AIM) / Math.max(LEAST, deviation) - v);
    }
  }
}

/** What a track is measured on, of one frame: the channel that is wanted, blurred and with its contrast raised. */
export function measuredPlane(codes: Codes, values: Partial<Measures>): Plane {
  const { channel = 'brightness', preBlur = 0, raised = 0 } = values,
    plane =
      channel === 'brightness'
        ? lumaOfCodes(codes, newPlane(codes.width, codes.height))
        : channelOf(codes, ['red', 'green', 'blue'].indexOf(channel));
  if (preBlur > 0) blurPlane(plane, preBlur);
  if (raised > 0) raise(plane, raised / 100);
  return plane;
}
