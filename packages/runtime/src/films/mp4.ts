import { EVEN, MEANS, piped } from './piped';

/** MP4 (H.264), as browsers and players take it. */
export const mp4 = piped(() => [
  ...['-vf', EVEN, '-c:v', 'libx264', '-preset', 'medium', '-crf', '16', '-pix_fmt', 'yuv420p', ...MEANS],
  ...['-movflags', '+faststart', '-f', 'mp4'],
]);
