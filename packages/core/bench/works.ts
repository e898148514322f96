import { createCanvas } from '@napi-rs/canvas';
import {
  Arena,
  blendOver,
  blur,
  decodeCodes,
  encodeCodes,
  gradeMatrix,
  layLight,
  lumaOfCodes,
  newPlane,
  warp,
  type Helpers,
  type Picture,
} from '../src/image';
import { outlineCoverage, type Vertex } from '../src/matte';
import { followPoints, givePyramid, samplePatch, searchPattern, pyramidOf } from '../src/motion';
import { drawFlakes, moveFlakes, moveOn, packFlakes, unpackFlakes } from '../src/particles';
import { FrameRenderer, scopeOf } from '../src/render';
import { bandThreads, computingThreads } from '../../runtime/src/bandThreads';
import { effectRows, recipeRows } from './effectRows';
import { importOf240 } from './importRow';
import { carryOn, chroma, difference } from './matteRows';
import { plateOf120 } from './plateRow';
import { trackPlane } from './planeRow';
import { comparePoints } from './pointErrors';
import type { Work } from './measure';
import { ffmpegFilter, openCv } from './peers';
import { HEIGHT, likeALayer, likeAPicture, manyFlakes, layeredShot, retimedShot, usualShot, WIDTH } from './scene';

const MEBIBYTE = 2 ** 20,
  whole = { width: WIDTH, height: HEIGHT };

/** A copy of one frame by the kernel: what other rows are counted in. */
function copies(): { peer: 'copy'; runPeer(): void; calls: number } {
  const arena = new Arena(64 * MEBIBYTE),
    from = likeALayer(arena.takePicture(WIDTH, HEIGHT), 1),
    to = arena.takePicture(WIDTH, HEIGHT);
  return { peer: 'copy', runPeer: () => arena.kernels.copy(from.address!, to.address!, WIDTH * HEIGHT * 16), calls: 1 };
}
const decoded = (arena: Arena, seed = 3): Picture => decodeCodes(likeAPicture(seed), 'srgb', arena);
/** A work that makes one picture from another. */
const made = (work: string, arena: Arena, run: () => Picture): Pick<Work, 'work' | 'width' | 'height' | 'run'> => ({
  work,
  ...whole,
  run: () => arena.give(run()),
});

function copy(): Work {
  const { runPeer } = copies(),
    a = new Float32Array(WIDTH * HEIGHT * 4).fill(0.5),
    b = new Float32Array(a.length);
  return { work: 'copy', ...whole, peer: 'Float32Array.set', run: runPeer, runPeer: () => b.set(a), calls: 4 };
}

function blurred(work: string, sigma: number): Work {
  const arena = new Arena(160 * MEBIBYTE),
    source = decoded(arena),
    peer = ffmpegFilter(source.data as Float32Array, `gblur=sigma=${sigma}:steps=3`);
  return {
    ...made(work, arena, () => blur(source, sigma, arena)),
    peer: 'ffmpeg gblur steps=3 f32',
    timePeer: peer.time,
    close: peer.close,
    samples: 3,
  };
}

function over(): Work {
  const arena = new Arena(96 * MEBIBYTE),
    front = likeALayer(arena.takePicture(WIDTH, HEIGHT), 1),
    back = likeALayer(arena.takePicture(WIDTH, HEIGHT), 2);
  return { ...made('over', arena, () => blendOver(front, back, 'normal', 1, arena)), ...copies(), calls: 4 };
}

function screen(): Work {
  const arena = new Arena(96 * MEBIBYTE),
    light = decoded(arena),
    below = decoded(arena, 4),
    peer = ffmpegFilter(below.data as Float32Array, 'blend=all_mode=screen', true);
  return {
    ...made('screen', arena, () => layLight(light, below, 'screen', 1, arena)),
    peer: 'ffmpeg blend screen f32',
    timePeer: peer.time,
    close: peer.close,
    samples: 3,
  };
}

/** A wavy field of up to 20 px, as haze makes it. */
async function warped(): Promise<Work> {
  const { cv } = await openCv(),
    arena = new Arena(160 * MEBIBYTE),
    source = decoded(arena),
    dx = arena.takePlane(WIDTH, HEIGHT),
    dy = arena.takePlane(WIDTH, HEIGHT),
    src = new cv.Mat(HEIGHT, WIDTH, cv.CV_32FC4),
    out = new cv.Mat(),
    mapX = new cv.Mat(HEIGHT, WIDTH, cv.CV_32FC1),
    mapY = new cv.Mat(HEIGHT, WIDTH, cv.CV_32FC1);
  src.data32F.set(source.data);
  for (let y = 0, p = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, p++) {
      dx.data[p] = 20 * Math.sin(x / 37 + y / 53);
      dy.data[p] = 20 * Math.cos(x / 61 - y / 29);
      mapX.data32F[p] = x + dx.data[p]!;
      mapY.data32F[p] = y + dy.data[p]!;
    }
  return {
    ...made('warp', arena, () => warp(source, dx, dy, 'mirror', arena)),
    peer: 'opencv.js remap f32',
    runPeer: () => cv.remap(src, out, mapX, mapY, cv.INTER_LINEAR, cv.BORDER_REFLECT),
    close: () => [src, out, mapX, mapY].forEach((m) => m.delete()),
  };
}

function graded(): Work {
  const arena = new Arena(96 * MEBIBYTE),
    source = decoded(arena),
    bytes = encodeCodes(source, { bits: 8, channels: 4 }, arena) as Uint8Array,
    peer = ffmpegFilter(bytes, 'colorchannelmixer=rr=1.2:rg=-0.1:gg=1.1:gb=-0.05:bb=1.15:br=0.02');
  return {
    ...made('grade', arena, () => gradeMatrix(source, [1.2, 0, 0.02, -0.1, 1.1, 0, 0, -0.05, 1.15, 0.01, 0, 0], arena)),
    peer: 'ffmpeg colour matrix 8-bit',
    timePeer: peer.time,
    close: peer.close,
    samples: 3,
  };
}

/** Histogram, waveform and colours of a full-size picture; the page measures drafts. */
function scope(): Work {
  const source = decoded(new Arena(96 * MEBIBYTE));
  return { work: 'scope', ...whole, run: () => scopeOf(source), ...copies() };
}

function decode(): Work {
  const arena = new Arena(64 * MEBIBYTE),
    codes = likeAPicture(3);
  return { ...made('decode', arena, () => decodeCodes(codes, 'srgb', arena)), ...copies() };
}
function encode(): Work {
  const arena = new Arena(64 * MEBIBYTE),
    source = decoded(arena),
    codes = new Uint8Array(WIDTH * HEIGHT * 3);
  return { work: 'encode', ...whole, run: () => encodeCodes(source, { bits: 8, channels: 3, frame: 7 }, arena, codes), ...copies() };
}

/** One search of a 41 px pattern in an 81 px box, as a track does for every frame. */
async function trackNcc(): Promise<Work> {
  const plane = lumaOfCodes(likeAPicture(3), newPlane(WIDTH, HEIGHT)),
    pattern = samplePatch(plane, 640.5, 360.5, 41),
    { cv } = await openCv();
  comparePoints(cv);
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
    calls: 40,
    run: () => searchPattern(plane, pattern, 640.5, 360.5, 20),
    runPeer: () => cv.matchTemplate(image, template, result, cv.TM_CCOEFF_NORMED),
    close: () => [image, template, result].forEach((m) => m.delete()),
  };
}

/** Fifty points followed through a pyramid from one frame to the next, which is the same moved by a little. */
async function trackLk50(): Promise<Work> {
  const { cv } = await openCv(),
    codes = likeAPicture(3),
    arena = new Arena(32 * MEBIBYTE),
    a = lumaOfCodes(codes, arena.takePlane(WIDTH, HEIGHT)),
    b = arena.takePlane(WIDTH, HEIGHT),
    points = Array.from({ length: 50 }, (_, i): [number, number] => [100 + 21 * i, 80 + ((i * 97) % 540)]);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) b.data[y * WIDTH + x] = a.data[Math.max(0, y - 2) * WIDTH + Math.max(0, x - 3)]!;
  const mat = (plane: typeof a) =>
      cv.matFromArray(
        HEIGHT,
        WIDTH,
        cv.CV_8UC1,
        Array.from(plane.data, (v) => Math.round(v * 255)),
      ),
    from = cv.matFromArray(50, 1, cv.CV_32FC2, points.flat()),
    [one, two, to, status, error] = [mat(a), mat(b), new cv.Mat(), new cv.Mat(), new cv.Mat()] as const,
    window = new cv.Size(21, 21);
  return {
    work: 'track-lk50',
    ...whole,
    peer: 'opencv.js calcOpticalFlowPyrLK',
    run() {
      const [before, after] = [pyramidOf(a, 3, arena), pyramidOf(b, 3, arena)];
      followPoints(before, after, points, 21);
      givePyramid(before, arena);
      givePyramid(after, arena);
    },
    runPeer: () => cv.calcOpticalFlowPyrLK(one, two, from, to, status, error, window, 3),
    close: () => [from, one, two, to, status, error].forEach((m) => m.delete()),
  };
}

/** An outline of 200 vertices with a soft edge of 24 px, of its own at every vertex where `own` is above 0, and the same path filled and blurred on a canvas and read back. */
function outlineFeather(own = 0): Work {
  const arena = new Arena(64 * MEBIBYTE),
    vertices = Array.from({ length: 200 }, (_, i): Vertex => {
      const a = (i / 200) * 2 * Math.PI,
        r = 240 + 40 * Math.sin(5 * a),
        k = (r * Math.PI) / 320;
      return {
        x: 640 + r * Math.cos(a),
        y: 360 + r * Math.sin(a),
        in: [k * Math.sin(a), -k * Math.cos(a)],
        out: [-k * Math.sin(a), k * Math.cos(a)],
        inner: own * (i % 3),
        outer: own * ((i + 1) % 3),
      };
    });
  const canvas = createCanvas(WIDTH, HEIGHT),
    context = canvas.getContext('2d');
  return {
    work: own ? 'outline-vertex' : 'outline-feather',
    ...whole,
    peer: 'canvas fill, blur, read back',
    run: () => arena.give(outlineCoverage(vertices, { feather: 24, grow: 0 }, 1, WIDTH, HEIGHT, arena)),
    runPeer() {
      context.clearRect(0, 0, WIDTH, HEIGHT);
      context.filter = 'blur(6px)';
      context.beginPath();
      vertices.forEach((v, i) => {
        const n = vertices[(i + 1) % 200]!;
        if (i === 0) context.moveTo(v.x, v.y);
        context.bezierCurveTo(v.x + v.out[0], v.y + v.out[1], n.x + n.in[0], n.y + n.in[1], n.x, n.y);
      });
      context.fill();
      return context.getImageData(0, 0, WIDTH, HEIGHT).data;
    },
  };
}

const air = { seed: 5, frame: 1040, pixelsPerMetre: 300, framesPerSecond: 24, wind: 3, windDirection: -18, turbulence: 0.85 },
  heavy = { settle: 0.35, eddy: 0.42, churn: 0.6, cling: 6 },
  look = { seed: 5, scale: 1, size: 1.9, sizeVariation: 0.85, paleness: 0.7, beat: 0.8 },
  light = { pale: [0.5, 0.4, 0.3], ember: 0.5, emberColour: [1, 0.6, 0.2] } as const;

/** One frame (two half steps, two octaves of curl noise) of particles. */
export function simulate(count: number): Work {
  const arena = new Arena(96 * MEBIBYTE),
    flakes = manyFlakes(count);
  return {
    work: `simulate-${count / 1000}k`,
    ...whole,
    run: () => moveFlakes(flakes, { ...air, ...heavy }, arena),
    ...copies(),
  };
}
/** A frame of particles that are moved and then drawn. */
export function alive(count: number): Work {
  const arena = new Arena(384 * MEBIBYTE),
    state = packFlakes(manyFlakes(count), arena);
  return {
    work: `alive-${count / 1000}k`,
    ...whole,
    run() {
      const moved = moveOn(state, { ...air, ...heavy }, arena),
        drawn = drawFlakes(unpackFlakes(moved), { ...look, ...light }, WIDTH, HEIGHT, arena);
      for (const one of [moved, drawn.front, drawn.behind]) arena.give(one);
    },
    ...copies(),
  };
}
export function draw(count: number): Work {
  const arena = new Arena(256 * MEBIBYTE),
    flakes = manyFlakes(count);
  return {
    work: `draw-${count / 1000}k`,
    ...whole,
    run() {
      const drawn = drawFlakes(flakes, { ...look, ...light }, WIDTH, HEIGHT, arena);
      arena.give(drawn.front);
      arena.give(drawn.behind);
    },
    ...copies(),
  };
}

/** Frames of a shot one after another, each drawn and turned into 8-bit codes; none comes twice, so that particles move on in each. */
export function framesOf(
  { shot, sources }: ReturnType<typeof usualShot>,
  factor: 1 | 2,
  helpers?: Helpers,
): { next(): Promise<void>; ready(): Promise<void> } {
  const renderer = new FrameRenderer(sources, shot, 512 * MEBIBYTE, undefined, false, helpers);
  const codes = new Uint8Array(Math.ceil(WIDTH / factor) * Math.ceil(HEIGHT / factor) * 3);
  let frame = 1044;
  const next = async () => {
    frame++;
    await renderer.renderFrame({ shot, frame, factor }, (picture, _, arena) =>
      encodeCodes(picture, { bits: 8, channels: 3, frame }, arena, codes),
    );
  };
  return {
    next,
    async ready() {
      await renderer.renderFrame({ shot, frame, factor }, () => undefined);
    },
  };
}
export const usualFrames = (factor: 1 | 2, helpers?: Helpers) => framesOf(usualShot(), factor, helpers);
/** Drawn as the application draws it, on all threads of the machine, or on one. */
async function usual(work: string, factor: 1 | 2, threads = computingThreads(), made = usualShot()): Promise<Work> {
  const helpers = bandThreads(threads - 1),
    frames = framesOf(made, factor, helpers);
  await frames.ready();
  return { work, ...whole, run: frames.next, ...copies(), samples: 5, close: () => helpers.close() };
}

/** The same frames on two threads and on one. */
async function threadsTwo(): Promise<Work> {
  const helpers = bandThreads(1),
    two = usualFrames(1, helpers),
    one = usualFrames(1);
  await two.ready();
  await one.ready();
  return { work: 'threads-2', ...whole, peer: 'one thread', run: two.next, runPeer: one.next, samples: 5, close: () => helpers.close() };
}

/** Every row by its name; made only when it is wanted. */
export const works: Record<string, () => Work | Promise<Work>> = {
  copy,
  'blur-s4': () => blurred('blur-s4', 4),
  'blur-s40': () => blurred('blur-s40', 40),
  over,
  screen,
  warp: warped,
  grade: graded,
  decode,
  encode,
  'track-ncc': trackNcc,
  'track-lk50': trackLk50,
  'track-plane': trackPlane,
  'outline-feather': () => outlineFeather(),
  'outline-vertex': () => outlineFeather(6),
  'matte-difference': () => difference(copies()),
  'matte-chroma': () => chroma(copies()),
  'carry-on-40': () => carryOn(copies()),
  'simulate-100k': () => simulate(100_000),
  'draw-100k': () => draw(100_000),
  'alive-200k': () => alive(200_000),
  'usual-shot': () => usual('usual-shot', 1),
  'usual-shot-half': () => usual('usual-shot-half', 2),
  'usual-shot-one': () => usual('usual-shot-one', 1, 1),
  'layered-shot': () => usual('layered-shot', 1, 2, layeredShot()),
  'retime-blend': () => usual('retime-blend', 1, 2, retimedShot()),
  'retime-flow': () => usual('retime-flow', 1, 2, retimedShot('by motion')),
  'plate-120': plateOf120,
  'import-240': importOf240,
  scope,
  'threads-2': threadsTwo,
  ...effectRows(copies),
};
/** The rows that are timed only where they are asked for: one for every recipe that comes with Wraithos. */
export const recipeWorks = recipeRows(copies);
