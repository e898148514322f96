/** A frame rate as a fraction, so that 24000/1001 stays exact. */
export interface FrameRate {
  num: number;
  den: number;
}

export const framesPerSecond = (rate: FrameRate): number => rate.num / rate.den;
/** Seconds that a count of frames lasts. */
export const secondsOf = (frames: number, rate: FrameRate): number => (frames * rate.den) / rate.num;

/** Seconds and frames as `03:07`: whole seconds, then frames within the second. */
export function clock(frames: number, rate: FrameRate): string {
  const fps = Math.round(framesPerSecond(rate)),
    seconds = Math.floor(frames / fps);
  return `${String(seconds).padStart(2, '0')}:${String(frames - seconds * fps).padStart(2, '0')}`;
}
