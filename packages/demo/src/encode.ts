import { spawn } from 'node:child_process';

const BT709 = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'iec61966-2-1', '-color_range', 'tv'];
const CODECS = {
  /** As a camera's clip comes: good, not lossless. */
  film: [
    '-vf',
    'scale=out_color_matrix=bt709:out_range=tv:flags=bitexact+accurate_rnd+full_chroma_int',
    ...BT709,
    '-c:v',
    'libx264',
    '-crf',
    '16',
    '-preset',
    'veryslow',
    '-pix_fmt',
    'yuv420p',
  ],
  /** Truth: nothing may be lost, and a film of grey or of limited range would lose some. */
  truth: ['-c:v', 'libx264rgb', '-qp', '0', '-preset', 'veryslow'],
} as const;

/** Pipes raw frames through ffmpeg, bit-exact, with the matrix and range written into the file. */
export async function encode(
  kind: keyof typeof CODECS,
  frames: readonly Uint8Array[],
  width: number,
  height: number,
  path: string,
  rate = 24,
): Promise<void> {
  const input = ['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${width}x${height}`, '-r', String(rate), '-i', '-'];
  const args = ['-v', 'error', '-y', ...input, ...CODECS[kind], '-fflags', '+bitexact', '-flags:v', '+bitexact', '-threads', '1', path];
  const child = spawn('ffmpeg', args, { stdio: ['pipe', 'inherit', 'inherit'] });
  const ended = new Promise<void>((resolve, reject) =>
    child.on('close', (code) => (code ? reject(new Error(`ffmpeg ended with ${code}`)) : resolve())),
  );
  for (const frame of frames) if (!child.stdin.write(frame)) await new Promise((resolve) => child.stdin.once('drain', resolve));
  child.stdin.end();
  await ended;
}
