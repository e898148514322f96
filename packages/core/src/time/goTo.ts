import { framesPerSecond, type FrameRate } from './rate';

/** Where a typed moment of a shot is: its frame, or in words why it is none. */
export type TypedMoment = { frame: number } | { problem: string };

/**
 * Reads a moment as people type it: a frame (1042), so many frames on or back (+10, -5), seconds from the first frame (2.5s), or a timecode from the
 * first frame on (1:12 is a second and 12 frames, 00:00:01:12 the same). Timecodes count whole frames of the nearest whole rate and drop none
 * (SMPTE ST 12-1, non-drop).
 */
export function typedMoment(text: string, at: { first: number; last: number; now: number; rate: FrameRate }): TypedMoment {
  const typed = text.trim(),
    within = (frame: number): TypedMoment =>
      frame >= at.first && frame <= at.last
        ? { frame }
        : { problem: `Frame ${frame} is not in the shot, which has frames ${at.first} to ${at.last}.` };
  if (/^[+][ ]*\d+$/.test(typed)) return within(at.now + Number(typed.slice(1)));
  // A shot may have frames below 0; then a minus sign names one of them.
  if (/^[-−][ ]*\d+$/.test(typed)) {
    const by = Number(typed.slice(1));
    return within(at.first < 0 ? -by : at.now - by);
  }
  if (/^\d+$/.test(typed)) return within(Number(typed));
  const seconds = /^(\d+(?:[.,]\d+)?)\s*s$/i.exec(typed);
  if (seconds) return within(at.first + Math.round(Number(seconds[1]!.replace(',', '.')) * framesPerSecond(at.rate)));
  const parts = /^(?:(?:(\d+):)?(\d+):)?(\d+)[:;](\d+)$/.exec(typed);
  if (parts) {
    const [hours, minutes, secs, frames] = parts.slice(1).map((p) => Number(p ?? 0)) as [number, number, number, number],
      whole = Math.round(framesPerSecond(at.rate));
    if (frames >= whole) return { problem: `A second has ${whole} frames here, 0 to ${whole - 1}.` };
    return within(at.first + ((hours * 60 + minutes) * 60 + secs) * whole + frames);
  }
  return { problem: `"${typed}" is no moment. Type a frame such as ${at.first}, +10, 2.5s, or a timecode such as 1:12.` };
}
