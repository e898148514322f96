import { createRequire } from 'node:module';
import { Arena, blendOver, encodeCodes, lumaOfCodes, newPlane } from '../src/image';
import { samplePatch, searchPattern } from '../src/motion';
import { FrameRenderer } from '../src/render';
import type { Work } from './measure';
import { HEIGHT, likeALayer, likeAPicture, usualShot, WIDTH } from './scene';

/** A copy of one frame by the kernel: what other rows are counted in. */
function copies(): { run(): void; close(): void } {
  const arena = new Arena(64 * 2 ** 20),
    from = likeALayer(arena.takePicture(WIDTH, HEIGHT), 1),
    to = arena.takePicture(WIDTH, HEIGHT);
  return { run: () => arena.kernels.copy(from.address!, to.address!, WIDTH * HEIGHT * 16), close: () => arena.reset() };
}

function copy(): Work {
  const { run } = copies(),
    a = new Float32Array(WIDTH * HEIGHT * 4).fill(0.5),
    b = new Float32Array(a.length);
  return { work: 'copy', width: WIDTH, height: HEIGHT, peer: 'Float32Array.set', run, runPeer: () => b.set(a), calls: 4 };
}

function over(): Work {
  const arena = new Arena(96 * 2 ** 20),
    front = likeALayer(arena.takePicture(WIDTH, HEIGHT), 1),
    back = likeALayer(arena.takePicture(WIDTH, HEIGHT), 2);
  return {
    work: 'over',
    width: WIDTH,
    height: HEIGHT,
    peer: 'copy',
    run: () => arena.give(blendOver(front, back, 'normal', 1, arena)),
    runPeer: copies().run,
    calls: 4,
  };
}

interface OpenCv {
  onRuntimeInitialized?: () => void;
  Mat: new (...given: unknown[]) => { data: Uint8Array; delete(): void };
  CV_8UC1: number;
  TM_CCOEFF_NORMED: number;
  matFromArray(rows: number, columns: number, type: number, data: ArrayLike<number>): InstanceType<OpenCv['Mat']>;
  matchTemplate(image: object, pattern: object, result: object, method: number): void;
}
/** The library is a thenable that is no promise: it is waited for by its own call and never returned from an async function. */
function whenReady(cv: OpenCv, then: () => void): void {
  if (typeof cv.Mat === 'function') then();
  else cv.onRuntimeInitialized = then;
}

/** One search of a 41 px pattern in an 81 px box, as a track does for every frame. */
async function trackNcc(): Promise<Work> {
  const codes = likeAPicture(3),
    plane = lumaOfCodes(codes, newPlane(WIDTH, HEIGHT)),
    pattern = samplePatch(plane, 640.5, 360.5, 41);
  const cv = createRequire(import.meta.url)('@techstark/opencv-js') as OpenCv;
  await new Promise<void>((resolve) => whenReady(cv, resolve));
  const square = (size: number) =>
    Array.from({ length: size * size }, (_, p) =>
      Math.round(plane.data[(360 - (size >> 1) + Math.floor(p / size)) * WIDTH + 640 - (size >> 1) + (p % size)]! * 255),
    );
  const image = cv.matFromArray(81, 81, cv.CV_8UC1, square(81)),
    template = cv.matFromArray(41, 41, cv.CV_8UC1, square(41)),
    result = new cv.Mat();
  return {
    work: 'track-ncc',
    width: 81,
    height: 81,
    peer: 'opencv.js matchTemplate',
    calls: 20,
    run: () => searchPattern(plane, pattern, 640.5, 360.5, 20),
    runPeer: () => cv.matchTemplate(image, template, result, cv.TM_CCOEFF_NORMED),
    close: () => [image, template, result].forEach((m) => m.delete()),
  };
}

/** Frames of the usual shot one after another, each drawn and turned into 8-bit codes. */
async function usual(): Promise<Work> {
  const { shot, sources } = usualShot(),
    renderer = new FrameRenderer(sources, shot, 512 * 2 ** 20, undefined, false);
  let frame = 1030;
  const draw = async () => {
    await renderer.renderFrame({ shot, frame }, (picture) => encodeCodes(picture, { bits: 8, channels: 3, frame }));
    // To and fro over a few frames, whose particles are remembered after the first time.
    frame = frame >= 1040 ? 1030 : frame + 1;
  };
  for (let i = 0; i < 11; i++) await draw();
  return { work: 'usual-shot', width: WIDTH, height: HEIGHT, peer: 'copy', run: draw, runPeer: copies().run };
}

/** Every row by its name; made only when it is wanted. */
export const works: Record<string, () => Work | Promise<Work>> = { copy, over, 'track-ncc': trackNcc, 'usual-shot': usual };
