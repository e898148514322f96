/** A frame rate as a fraction, so that 24000/1001 stays exact. */
export interface FrameRate {
  num: number;
  den: number;
}

export const framesPerSecond = (rate: FrameRate): number => rate.num / rate.den;
/** Seconds that a count of frames lasts. */
export const secondsOf = (frames: number, rate: FrameRate): number => (frames * rate.den) / rate.num;

/** Frames per second for people: 24, 23.976. */
export const rateWords = (rate: FrameRate): string => String(Number(framesPerSecond(rate).toFixed(3)));
