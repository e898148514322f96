import { spawn, type ChildProcess } from 'node:child_process';

/** Files and pipes only, and only formats that hold pictures: a medium can never make ffmpeg read something else. */
export const SAFE_INPUT = [
  '-protocol_whitelist',
  'file,pipe',
  '-format_whitelist',
  'mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts,mpeg,mpegvideo,m4v,h264,hevc,ogg,flv,mxf,gif,apng,ivf,yuv4mpegpipe,dv,nut,asf',
];

export class MediaError extends Error {}

/** A picture of more pixels than this is refused before anything is decoded. */
export const MOST_PIXELS = 8192 * 8192;
export const MOST_FRAMES = 20_000;

/** Runs a program without a shell and gives what it printed. @throws MediaError with its last line, or when it takes too long. */
export function run(
  program: string,
  args: string[],
  options: { timeoutMs?: number; mostBytes?: number; signal?: AbortSignal } = {},
): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { stdio: ['ignore', 'pipe', 'pipe'] }),
      out: Buffer[] = [];
    let size = 0,
      errors = '';
    const timer = setTimeout(() => {
      child.kill('SIGKILL');
      reject(new MediaError('it took too long to read'));
    }, options.timeoutMs ?? 30_000);
    options.signal?.addEventListener('abort', () => child.kill('SIGKILL'), { once: true });
    child.stdout.on('data', (chunk: Buffer) => {
      size += chunk.length;
      if (size > (options.mostBytes ?? 16 * 2 ** 20)) child.kill('SIGKILL');
      else out.push(chunk);
    });
    child.stderr.on('data', (chunk: Buffer) => {
      errors = (errors + chunk.toString()).slice(-4000);
    });
    child.on('error', () => {
      clearTimeout(timer);
      reject(new MediaError(`${program} could not be started; is the Debian package ffmpeg installed?`));
    });
    child.on('close', (code) => {
      clearTimeout(timer);
      if (code === 0) resolve(Buffer.concat(out));
      else reject(new MediaError(lastLine(errors)));
    });
  });
}
const lastLine = (text: string): string =>
  (text.trim().split('\n').pop() ?? '')
    .replace(/^.*?: (?=[A-Z])/, '')
    .replace(/^\[[^\]]*\]\s*/, '')
    .slice(0, 200) || 'it could not be read';

/** Waits for a child to end. @throws MediaError with its last line. */
export function ended(child: ChildProcess): Promise<void> {
  let errors = '';
  child.stderr?.on('data', (chunk: Buffer) => {
    errors = (errors + chunk.toString()).slice(-4000);
  });
  return new Promise((resolve, reject) => {
    child.on('error', () => reject(new MediaError('ffmpeg could not be started; is the Debian package ffmpeg installed?')));
    child.on('close', (code) => (code === 0 ? resolve() : reject(new MediaError(lastLine(errors)))));
  });
}
