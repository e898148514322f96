import { EVEN, MEANS, piped } from './piped';

/** WebM (VP9), with a second picture for alpha where it is wanted. */
export const webm = piped(({ alpha }) => [
  ...['-vf', EVEN, '-c:v', 'libvpx-vp9', '-crf', '20', '-b:v', '0', '-deadline', 'good', '-cpu-used', '5', '-row-mt', '1'],
  ...['-pix_fmt', alpha ? 'yuva420p' : 'yuv420p', ...(alpha ? ['-auto-alt-ref', '0'] : []), ...MEANS, '-f', 'webm'],
]);
