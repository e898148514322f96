import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { HEIGHT, WIDTH } from './scene';

/** What is used of the computer vision library. */
export interface OpenCv {
  onRuntimeInitialized?: () => void;
  Mat: new (...given: unknown[]) => CvMat;
  Size: new (width: number, height: number) => object;
  CV_8UC1: number;
  CV_32FC1: number;
  CV_32FC2: number;
  CV_32FC4: number;
  INTER_LINEAR: number;
  BORDER_REFLECT: number;
  TM_CCOEFF_NORMED: number;
  matFromArray(rows: number, columns: number, type: number, data: ArrayLike<number>): CvMat;
  matchTemplate(image: CvMat, pattern: CvMat, result: CvMat, method: number): void;
  remap(src: CvMat, dst: CvMat, x: CvMat, y: CvMat, interpolation: number, border: number): void;
  RANSAC: number;
  goodFeaturesToTrack(image: CvMat, corners: CvMat, most: number, quality: number, apart: number, mask: CvMat): void;
  findHomography(from: CvMat, to: CvMat, method: number, within: number): CvMat;
  calcOpticalFlowPyrLK(a: CvMat, b: CvMat, from: CvMat, to: CvMat, status: CvMat, error: CvMat, window: object, levels: number): void;
}
export interface CvMat {
  data: Uint8Array;
  data32F: Float32Array;
  data64F: Float64Array;
  rows: number;
  delete(): void;
}

/** The library is a thenable that is no promise: it is waited for by its own call and never returned from an async function. */
export async function openCv(): Promise<{ cv: OpenCv }> {
  const cv = createRequire(import.meta.url)('@techstark/opencv-js') as OpenCv;
  await new Promise<void>((resolve) => {
    if (typeof cv.Mat === 'function') resolve();
    else cv.onRuntimeInitialized = resolve;
  });
  return { cv };
}

const FRAMES = 10;
/** Milliseconds of a whole run of ffmpeg, whose filters have so many threads. */
export function runFfmpeg(args: string[], threads = 1): Promise<number> {
  const begun = performance.now();
  return new Promise((resolve, reject) => {
    const child = spawn('ffmpeg', [
      ...['-v', 'error', '-nostdin', '-filter_threads', String(threads), '-filter_complex_threads', String(threads)],
      ...args,
    ]);
    let problem = '';
    child.stderr.on('data', (text: Buffer) => (problem += text.toString()));
    child.on('error', reject);
    child.on('close', (code) => (code === 0 ? resolve(performance.now() - begun) : reject(new Error(`ffmpeg: ${problem}`))));
  });
}

/**
 * Milliseconds that an ffmpeg filter takes for a frame of this picture, on one thread: frames with the filter less the same frames without it,
 * so that the program's start, reading and repeating the frame do not count.
 * @param picture interleaved RGBA, float32 for planar float formats or bytes for `rgba`.
 */
export function ffmpegFilter(picture: Float32Array | Uint8Array, filter: string, twoInputs = false) {
  const folder = mkdtempSync(join(tmpdir(), 'bench-')),
    file = join(folder, 'frame.raw'),
    float = picture instanceof Float32Array,
    n = WIDTH * HEIGHT;
  if (float) {
    // Planes in the order green, blue, red, alpha.
    const planes = new Float32Array(4 * n);
    [1, 2, 0, 3].forEach((c, k) => {
      for (let i = 0; i < n; i++) planes[k * n + i] = picture[4 * i + c]!;
    });
    writeFileSync(file, planes);
  } else writeFileSync(file, picture);
  const input = ['-f', 'rawvideo', '-pix_fmt', float ? 'gbrapf32le' : 'rgba', '-s', `${WIDTH}x${HEIGHT}`, '-i', file],
    loop = `loop=loop=${FRAMES - 1}:size=1:start=0`,
    graph = (own: string) => (twoInputs ? `[0]${loop},split[a][b];[a][b]${own}` : `[0]${loop},${own}`),
    // Blending with itself needs a split, which costs the same as the empty overlay of two copies: nothing.
    plain = twoInputs ? `[0]${loop},split[a][b];[b]nullsink;[a]null` : `[0]${loop},null`;
  return {
    async time(): Promise<number> {
      const less = await runFfmpeg([...input, '-filter_complex', plain, '-f', 'null', '-']),
        all = await runFfmpeg([...input, '-filter_complex', graph(filter), '-f', 'null', '-']);
      return Math.max(0, all - less) / FRAMES;
    },
    close: () => rmSync(folder, { recursive: true, force: true }),
  };
}
