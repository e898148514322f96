import { blur, exactMath, uniform, type Arena, type Picture } from '@wraithos/core/image';
import { expose } from './camera';
import { Performance } from './figure/act';
import { ilseClose } from './figure/ilse';
import { drawIlse, THREE_MOMENTS } from './figure/shutter';
import { project, type Camera, type Lights } from './figure/view';
import { EYE, LOWER_LID, upperLid } from './figure/closeHead';
import { HEAD_SIZE } from './figure/head';
import type { Stance } from './figure/stance';
import { place, unit } from './figure/vector';
import { HEIGHT, layFigure, SIZE, WIDTH, type StillSet } from './film';
import { rounded, seen, seenOver, TALL, type Filmed } from './filmed';
import { sky } from './harbour';
import { warden025 } from './walk025';

const { exp, smoothstep } = exactMath;

/** A long lens at the height of the eyes. */
const CAMERA: Camera = { focal: 2750, height: 1.6, centre: [640, 350] };
let play: Performance | undefined;
const thePlay = (): Performance => (play ??= new Performance(warden025));

/** Dusk from above and behind; the lantern, held low before the warden, lights the face from the left of the screen. */
const lights: Lights = {
  sky: [0.2, 0.22, 0.31],
  ground: [0.12, 0.095, 0.075],
  behind: [0.62, 0.42, 0.32],
  before: [0.2, 0.185, 0.19],
  quick: true,
  far: { towards: unit([0.5, 0.55, 0.65]), colour: [0.36, 0.42, 0.55] },
  lamps: [{ at: [-0.42, 1.22, 0.74], colour: [1, 0.66, 0.36], power: 0.52 }],
};

/** Lamps of the far shore, out of focus: discs of a seven-bladed iris, and how bright. */
const LAMPS = Array.from({ length: 15 }, (_, i) => ({
  x: 1280 * uniform(i, 1, 2501),
  y: 300 + 120 * uniform(i, 2, 2503),
  r: 20 + 20 * uniform(i, 3, 2505),
  power: 0.05 + 0.25 * uniform(i, 4, 2507) * uniform(i, 5, 2507),
  warm: uniform(i, 6, 2509),
}));
/** The harbour behind the warden, far out of focus: nothing in it moves enough to be seen. */
function backdrop([from, to]: readonly [number, number]): StillSet {
  const n = (to - from) * WIDTH,
    light = new Float32Array(n * 3);
  for (let y = from, p = 0; y < to; y++)
    for (let x = 0; x < WIDTH; x++, p++) {
      const air = sky(x, y * 1.05, false),
        sea = smoothstep(388, 452, y),
        shore = exp(-((y - 392) * (y - 392)) / 900) * 0.7;
      for (let c = 0; c < 3; c++) light[p * 3 + c] = air[c]! * (1 - sea) * (1 - shore * 0.8) + sea * [0.075, 0.08, 0.11][c]!;
      for (const lamp of LAMPS) {
        const d = Math.sqrt((x + 0.5 - lamp.x) * (x + 0.5 - lamp.x) + (y + 0.5 - lamp.y) * (y + 0.5 - lamp.y)),
          disc = smoothstep(lamp.r + 2.5, lamp.r - 2.5, d) * (0.8 + 0.35 * smoothstep(lamp.r * 0.5, lamp.r, d)) * lamp.power,
          // Its light on the water below it.
          below = y > 430 ? exp(-((x - lamp.x) * (x - lamp.x)) / (lamp.r * lamp.r * 0.8)) * exp(-(y - 430) / 130) * lamp.power * 0.22 : 0;
        light[p * 3]! += disc + below;
        light[p * 3 + 1]! += (disc + below) * (0.55 + 0.3 * lamp.warm);
        light[p * 3 + 2]! += (disc + below) * (0.25 + 0.55 * lamp.warm);
      }
    }
  return { light, water: new Float32Array(0), deck: new Float32Array(0), front: new Float32Array(n * 4) };
}
function open(set: StillSet, arena: Arena): Picture {
  const sharp = arena.takePicture(WIDTH, HEIGHT);
  for (let p = 0; p < WIDTH * HEIGHT; p++) {
    for (let c = 0; c < 3; c++) sharp.data[p * 4 + c] = set.light[p * 3 + c]!;
    sharp.data[p * 4 + 3] = 1;
  }
  // Clouds and shore are as far out of focus as the lamps; their discs keep most of their edge.
  const soft = blur(sharp, 5, arena);
  arena.give(sharp);
  return soft;
}

/** Where the features of the face are seen: left and right are the warden's own. */
function features(s: Stance): Record<string, readonly [number, number]> {
  const at = (side: number, up: number, ahead: number) =>
      rounded(project(CAMERA, place(s.head, side * HEAD_SIZE, up * HEAD_SIZE, ahead * HEAD_SIZE))),
    eye = (side: -1 | 1, ahead: number) => at(side * EYE.x, EYE.y, EYE.z + ahead);
  return {
    pin: seen(CAMERA, s).pin!,
    ...{ rightEye: eye(-1, EYE.lids), leftEye: eye(1, EYE.lids), rightPupil: eye(-1, EYE.ball), leftPupil: eye(1, EYE.ball) },
    ...{
      rightBrow: at(-0.034, 0.0265, 0.083),
      leftBrow: at(0.034, 0.0265, 0.083),
      mouth: at(0, -0.0685, 0.09),
      nose: at(0, -0.0325, 0.117),
    },
  };
}
const openAt = (s: Stance): number => Math.round((1000 * (upperLid(s.blink) - LOWER_LID)) / (upperLid(0) - LOWER_LID)) / 1000;

export const tw025: Filmed = {
  code: 'TW_025',
  frames: warden025.frames,
  rows: [0, HEIGHT],
  set: backdrop,
  frame(set, frame, arena) {
    const moments = THREE_MOMENTS.map(({ time }) => thePlay().at(frame + time)),
      picture = open(set, arena),
      matte = new Float32Array(WIDTH * HEIGHT),
      parts = new Float32Array(WIDTH * HEIGHT * 3);
    layFigure(
      picture.data,
      drawIlse(moments, () => lights, CAMERA, SIZE, [], [], THREE_MOMENTS, ilseClose),
      matte,
      parts,
    );
    expose(picture, arena);
    return { picture, matte, parts };
  },
  stills(set, arena) {
    const picture = open(set, arena);
    expose(picture, arena);
    return [{ name: 'clean', picture }];
  },
  truth: () => ({
    about: 'TW_025: where things truly are, in pixels of the picture, for frames 0 to 47, in the middle of the shutter.',
    subject: { heightMetres: TALL },
    ...seenOver(warden025.frames, (f) => features(thePlay().at(f))),
    /** How far the lids are open, of their widest. */
    open: Array.from({ length: warden025.frames }, (_, f) => openAt(thePlay().at(f))),
  }),
};
