import type { Codes } from '../image/picture';

/**
 * Middle value of each pixel and channel over frames: a clean plate from a locked camera past which the character moves. Frames
 * must be alike in size and depth. A pixel that is covered in half of the frames or more keeps the character.
 */
export function temporalMedian(frames: readonly Codes[]): Codes {
  const first = frames[0];
  if (!first) throw new RangeError('temporalMedian: no frames');
  if (frames.some((f) => f.width !== first.width || f.height !== first.height || f.channels !== first.channels || f.bits !== first.bits))
    throw new RangeError('temporalMedian: frames differ in size or depth');
  const data = first.bits === 8 ? new Uint8Array(first.data.length) : new Uint16Array(first.data.length),
    values = new Uint16Array(frames.length),
    middle = frames.length >> 1;
  for (let i = 0; i < data.length; i++) {
    for (let f = 0; f < frames.length; f++) values[f] = frames[f]!.data[i]!;
    values.sort();
    data[i] = values[middle]!;
  }
  return { ...first, data };
}
