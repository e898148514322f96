import { MEANS, piped } from './piped';

/** Its encoder writes down only what the pictures themselves say of their matrix. */
const MATRIX = 'scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int';

/** MOV of the ProRes 4444 class: every frame for itself, 10 bits, alpha of 16 bits where it is wanted. */
export const mov = piped(({ alpha }) => [
  ...['-vf', `${MATRIX},setparams=colorspace=bt709:color_primaries=bt709`, '-c:v', 'prores_ks', '-profile:v', '4444'],
  ...['-qscale:v', '5', '-vendor', 'apl0', '-pix_fmt', alpha ? 'yuva444p10le' : 'yuv444p10le', ...(alpha ? ['-alpha_bits', '16'] : [])],
  ...[...MEANS, '-f', 'mov'],
]);
