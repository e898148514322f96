import { exactMath, noise2, type Arena, type Picture } from '@wraithos/core/image';
import { expose } from './camera';
import { chartRoom } from './chartRoom';
import { Performance } from './figure/act';
import { glassOf, ilse } from './figure/ilse';
import { drawIlse, FOUR_MOMENTS } from './figure/shutter';
import { nothing } from './figure/solid';
import type { Stance } from './figure/stance';
import { groundAt, passes, type Camera, type Lights } from './figure/view';
import { unit, type V3 } from './figure/vector';
import { HEIGHT, layFigure, SIZE, WIDTH, type StillSet } from './film';
import { groundTruth, seen, seenOver, TALL, type Filmed } from './filmed';
import { SLOWER, warden050 } from './walk050';

const { exp, smoothstep } = exactMath;

const FRAMES = 120;
const CAMERA: Camera = { focal: 900, height: 1.3, centre: [640, 318] };
/** Where the floor of the backing bends up into its wall, metres away. */
const BEND = 8.2;
const GREEN: V3 = [0.035, 0.29, 0.06];
const SUN: V3 = unit([-0.5, 0.92, -0.62]);

let play: Performance | undefined;
const thePlay = (): Performance => (play ??= new Performance(warden050));

/** Daylight from a large window at the camera's left, and what the backing throws back: green from below and from behind. */
const lightsOf = (s: Stance): Lights => {
  const lamp = glassOf(s);
  return {
    sky: [0.5, 0.53, 0.56],
    ground: [0.1, 0.2, 0.1],
    behind: [0.1, 0.34, 0.13],
    before: [0.36, 0.37, 0.38],
    quick: true,
    far: { towards: SUN, colour: [1.5, 1.42, 1.28] },
    lamps: lamp ? [{ at: lamp, colour: [1, 0.62, 0.3], power: 0.16 }] : [],
  };
};

/** The empty backing: its paint is even, its light is not. */
function backing([from, to]: readonly [number, number]): StillSet {
  const n = (to - from) * WIDTH,
    light = new Float32Array(n * 3);
  for (let y = from, p = 0; y < to; y++)
    for (let x = 0; x < WIDTH; x++, p++) {
      const nx = (x + 0.5 - WIDTH / 2) / WIDTH,
        ny = (y + 0.5 - HEIGHT / 2) / HEIGHT,
        // Brightest at the upper left, where the window is; a second, weaker pool at the right.
        pool = 0.62 + 0.75 * exp(-((nx + 0.24) * (nx + 0.24)) / 0.11 - ((ny + 0.18) * (ny + 0.18)) / 0.2),
        second = 0.22 * exp(-((nx - 0.34) * (nx - 0.34)) / 0.03 - ((ny - 0.05) * (ny - 0.05)) / 0.16),
        // The floor takes a little more of the light; it bends up into the wall over half a metre.
        away = y > CAMERA.centre[1] ? groundAt(CAMERA, x + 0.5, y + 0.5)[2] : 99,
        bend = 1 + 0.12 * smoothstep(BEND + 2.2, BEND - 1.2, away),
        cloth = 1 + 0.05 * (noise2(x / 90, y / 140, 551) - 0.5) + 0.02 * (noise2(x / 7, y / 9, 553) - 0.5),
        k = (pool + second) * bend * cloth;
      for (let c = 0; c < 3; c++) light[p * 3 + c] = GREEN[c]! * k * 1.35;
    }
  return { light, water: new Float32Array(n), deck: new Float32Array(0), front: new Float32Array(n * 4) };
}

function openBacking(set: StillSet, arena: Arena): Picture {
  const picture = arena.takePicture(WIDTH, HEIGHT);
  for (let p = 0; p < WIDTH * HEIGHT; p++) {
    for (let c = 0; c < 3; c++) picture.data[p * 4 + c] = set.light[p * 3 + c]!;
    picture.data[p * 4 + 3] = 1;
  }
  return picture;
}

/** The shadow on the floor, and the darkening below the feet. */
function shade(picture: Picture, stance: Stance): void {
  const { body } = ilse(stance),
    answer = nothing(false),
    feet = stance.pelvis.at,
    coarse = 3,
    columns = Math.ceil(WIDTH / coarse) + 1,
    top = Math.ceil(CAMERA.centre[1] + (CAMERA.focal * CAMERA.height) / BEND),
    rows = Math.ceil((HEIGHT - top) / coarse) + 1,
    share = new Float32Array(columns * rows).fill(1);
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      const p = groundAt(CAMERA, c * coarse, top + r * coarse),
        dx = p[0] - feet[0],
        dz = p[2] - feet[2];
      if (dx * dx + dz * dz > 6) continue;
      let closed = 0;
      for (let i = 1, h = 0.05; i <= 4; i++, h *= 2) {
        body.look(p[0], h, p[2], answer);
        if (!answer.rough) closed += Math.max(0, h - answer.distance) / h / (i + 0.7);
      }
      const sun = passes(body, [p[0], 0.012, p[2]], [p[0] + SUN[0] * 3, 0.012 + SUN[1] * 3, p[2] + SUN[2] * 3], 0.16, true);
      share[r * columns + c] = (0.5 + 0.5 * sun) * Math.max(0, 1 - 0.55 * closed);
    }
  for (let y = top; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const fx = (x + 0.5) / coarse,
        fy = (y + 0.5 - top) / coarse,
        xi = Math.floor(fx),
        yi = Math.min(rows - 2, Math.floor(fy)),
        at = yi * columns + xi,
        u = fx - xi,
        v = fy - yi,
        k = (share[at]! * (1 - u) + share[at + 1]! * u) * (1 - v) + (share[at + columns]! * (1 - u) + share[at + columns + 1]! * u) * v,
        // It fades where the floor bends up.
        into = smoothstep(0, 12, y - top);
      for (let c = 0; c < 3; c++) picture.data[(y * WIDTH + x) * 4 + c]! *= 1 - into * (1 - k);
    }
}

export const tw050: Filmed = {
  code: 'TW_050',
  frames: FRAMES,
  rate: 60,
  rows: [0, HEIGHT],
  set: backing,
  frame(set, frame, arena) {
    const t = frame * SLOWER,
      moments = FOUR_MOMENTS.map(({ time }) => thePlay().at(t + time * SLOWER)),
      picture = openBacking(set, arena),
      matte = new Float32Array(WIDTH * HEIGHT),
      parts = new Float32Array(WIDTH * HEIGHT * 3);
    shade(picture, thePlay().at(t));
    layFigure(picture.data, drawIlse(moments, lightsOf, CAMERA, SIZE, [], [], FOUR_MOMENTS), matte, parts);
    expose(picture, arena);
    return { picture, matte, parts };
  },
  stills(_, arena) {
    const picture = chartRoom(arena);
    expose(picture, arena);
    return [{ name: 'chart-room', picture, allColours: true }];
  },
  truth: () => ({
    about:
      'TW_050: where things truly are, in pixels of the picture, for frames 0 to 119 at 60 frames a second, in the middle of the shutter.',
    subject: { heightMetres: TALL },
    ...seenOver(FRAMES, (f) => seen(CAMERA, thePlay().at(f * SLOWER))),
    ground: groundTruth(CAMERA),
  }),
};
