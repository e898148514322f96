import type { ChildProcess } from 'node:child_process';
import { spawnConfined, type Confinement } from './confine';
import { Explained } from './explained';

/** Files and pipes only, and only formats that hold pictures: a medium can never make ffmpeg read something else. */
export const SAFE_INPUT = [
  '-protocol_whitelist',
  'file,pipe',
  '-format_whitelist',
  'mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts,mpeg,mpegvideo,m4v,h264,hevc,ogg,flv,mxf,gif,apng,ivf,yuv4mpegpipe,dv,nut,asf,exr_pipe',
];

/** Why a medium cannot be read, in words that follow its name and a colon. */
export class MediaError extends Explained {}

/** A picture of more pixels than this is refused before anything is decoded. */
export const MOST_PIXELS = 8192 * 8192;
/** Longest side of a picture. */
export const MOST_SIDE = 8192;
export const MOST_FRAMES = 20_000;

/** What a decoder may use, behind the drawing of what somebody looks at: memory for the largest picture in its deepest form, an hour of one core, and no file at all. */
const DECODER: Confinement = { memory: 4 * 2 ** 30, cpuSeconds: 3600, fileBytes: 0, nice: 5 };

/** Starts ffmpeg or ffprobe in a process of its own that only reads. */
export const startDecoder = (program: string, args: string[]): ChildProcess =>
  spawnConfined(program, args, DECODER, { stdio: ['ignore', 'pipe', 'pipe'] });

/** Runs a reading program without a shell and gives what it printed. @throws MediaError in our own words, or when it takes too long. */
export function run(
  program: string,
  args: string[],
  options: { timeoutMs?: number; mostBytes?: number; signal?: AbortSignal } = {},
): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const child = startDecoder(program, args),
      out: Buffer[] = [];
    let size = 0,
      errors = '';
    const timer = setTimeout(() => {
      child.kill('SIGKILL');
      reject(new MediaError('it took too long to read'));
    }, options.timeoutMs ?? 30_000);
    options.signal?.addEventListener('abort', () => child.kill('SIGKILL'), { once: true });
    child.stdout!.on('data', (chunk: Buffer) => {
      size += chunk.length;
      if (size > (options.mostBytes ?? 16 * 2 ** 20)) {
        child.kill('SIGKILL');
        reject(new MediaError('it says more about itself than can be read'));
      } else out.push(chunk);
    });
    child.stderr!.on('data', (chunk: Buffer) => {
      errors = (errors + chunk.toString()).slice(-4000);
    });
    child.on('error', () => {
      clearTimeout(timer);
      reject(new MediaError(missing(program)));
    });
    child.on('close', (code, signal) => {
      clearTimeout(timer);
      if (code === 0) resolve(Buffer.concat(out));
      else reject(whyEnded(program, code, signal, errors));
    });
  });
}

const missing = (program: string): string => `${program} could not be started; is the Debian package ffmpeg installed?`;

/** What ffmpeg prints, and what that means for the person who brought the file. */
const MEANINGS: readonly [RegExp, string][] = [
  [/moov atom not found/i, 'it breaks off: its index at the end is missing'],
  [/cannot allocate memory|out of memory/i, 'it needs more memory than a decoder is given'],
  [/no space left/i, 'the disk is full'],
  [/decoder .*not found|unknown codec|no decoder/i, 'its codec is not known here'],
  [/format not on whitelist|protocol .*not on whitelist|not on whitelist/i, 'its format is not one that is read here'],
];
/** Why ffmpeg gave up, in our own words: its own lines name paths and parts that help nobody. */
export const whyNot = (errors: string): string =>
  MEANINGS.find(([pattern]) => pattern.test(errors))?.[1] ?? 'it is damaged, or no film or picture that can be read';

/** What the end of a program means: a fault of the medium, or (where somebody ended the program) one that says nothing of the medium. */
function whyEnded(program: string, code: number | null, signal: NodeJS.Signals | null, errors: string): Error {
  if (signal === 'SIGXCPU') return new MediaError('it took too long to read');
  if (signal === 'SIGKILL' || signal === 'SIGTERM' || signal === 'SIGINT') return new Error(`${program} was ended by ${signal}`);
  if (signal) return new MediaError('the decoder broke on it');
  return new MediaError(code === 127 ? missing(program) : whyNot(errors));
}

/** Waits for a child to end. @throws MediaError in our own words. */
export function ended(child: ChildProcess): Promise<void> {
  let errors = '';
  child.stderr?.on('data', (chunk: Buffer) => {
    errors = (errors + chunk.toString()).slice(-4000);
  });
  return new Promise((resolve, reject) => {
    child.on('error', () => reject(new MediaError(missing('ffmpeg'))));
    child.on('close', (code, signal) => (code === 0 ? resolve() : reject(whyEnded('ffmpeg', code, signal, errors))));
  });
}
