import { exactMath, fractal2, type Arena, type Picture } from '@wraithos/core/image';
import { expose } from './camera';
import { Performance } from './figure/act';
import { glassOf } from './figure/ilse';
import { lightDeck } from './deckLight';
import { drawIlse, MOMENTS } from './figure/shutter';
import { groundAt, project, type Camera } from './figure/view';
import { unit } from './figure/vector';
import { DECK, duskLights, halo, HEIGHT, layFigure, SIZE, WIDTH, type StillSet } from './film';
import { groundTruth, rounded, seen, seenOver, TALL, tallAt, type Filmed } from './filmed';
import { Harbour, type Outlook, type Rgb } from './harbour';
import { plankAt } from './planks';
import { RUN_IN, STANDS, warden020 } from './walk020';

const { clamp, exp, hypot, mix, sin, smoothstep } = exactMath;

const HORIZON = 318;
export const CAMERA: Camera = { focal: 1180, height: 1.42, centre: [640, HORIZON] };
/** Out at sea, past the harbour mouth: the last of the sun to the right, two lights on a far shore. */
const OUTLOOK: Outlook = {
  horizon: HORIZON,
  shift: 330,
  swell: 0.16,
  moon: false,
  lights: [
    { x: 118, y: 306, power: 0.7, colour: [1, 0.66, 0.34] },
    { x: 160, y: 308, power: 0.4, colour: [1, 0.8, 0.5] },
    { x: 402, y: 309, power: 0.35, colour: [1, 0.7, 0.4] },
  ],
};
/** The mole ends before the sea; its edge runs slightly across. */
const moleEnd = (x: number): number => 6.3 + 0.12 * x;
const MOLE_RIGHT = 0.3;
/** Room around the picture for the camera's drift. */
const MARGIN = 16;

let sea: Harbour | undefined;
let play: Performance | undefined;
const theSea = (): Harbour => (sea ??= new Harbour(OUTLOOK));
const thePlay = (): Performance => (play ??= new Performance(warden020));

/** Where a hand-held camera has drifted to, in pixels: breath, and the weight going from foot to foot. */
export const driftAt = (t: number): { x: number; y: number } => ({
  x: 4.2 * sin(t * 0.083) + 2.1 * sin(t * 0.211 + 1.3) + 0.7 * sin(t * 0.57 + 0.4),
  y: 2.8 * sin(t * 0.095 + 2.1) + 1.5 * sin(t * 0.238 + 0.2) + 0.5 * sin(t * 0.63 + 1.1),
});

/** The bell buoy, far out: the middle of its bell at rest, and how the swell moves it. */
const BUOY = { x: 1004, y: 316 },
  LARGE = 1.8;
const buoyAt = (t: number): { x: number; y: number; lean: number } => ({
  x: BUOY.x + 1.6 * sin(t * 0.071 + 0.5),
  y: BUOY.y + 2.4 * sin(t * 0.092),
  lean: 0.09 * sin(t * 0.092 + 1.2) + 0.03 * sin(t * 0.19),
});

/** The buoy at a point of the undrifted picture: hull, four legs, the bell between them, and a dim light on top. */
function buoy(x: number, y: number, t: number): { cover: number; colour: Rgb; light: number } {
  const b = buoyAt(t),
    dx = (x - b.x) / LARGE,
    dy = (y - b.y) / LARGE,
    u = dx + dy * b.lean,
    v = dy - dx * b.lean;
  if (Math.abs(u) > 30 || v < -34 || v > 30) return { cover: 0, colour: [0, 0, 0], light: 0 };
  const edge = (d: number) => smoothstep(0.7, -0.7, d);
  const hull = edge(Math.max(hypot(u / 1.55, v - 13) - 10.5, 9 - v, v - 20)),
    deck = edge(Math.max(Math.abs(u) - 17, Math.abs(v - 9) - 1.2)),
    width = 3.5 + (v + 18) * 0.36,
    legs = edge(Math.max(Math.min(Math.abs(Math.abs(u) - width), Math.abs(Math.abs(u) - width * 0.35)) - 0.8, -19 - v, v - 9)),
    rings = edge(Math.max(Math.min(Math.abs(v + 18), Math.abs(v - 1)) - 0.9, Math.abs(u) - width - 0.8)),
    bell = edge(Math.max(Math.abs(u) - 2.2 - 0.05 * (v + 7) * (v + 7) * (v > -7 ? 1 : 0.4), Math.abs(v) - 6)),
    lampHouse = edge(Math.max(Math.abs(u) - 1.8, Math.abs(v + 22) - 2.6));
  const cover = Math.max(hull, deck, legs, rings, bell, lampHouse),
    warm = clamp(0.5 + u / 26, 0, 1),
    tint: Rgb = hull > 0.5 ? [0.17, 0.045, 0.035] : bell > 0.5 ? [0.13, 0.1, 0.06] : [0.05, 0.05, 0.056];
  const glint = bell > 0.5 ? 0.12 * exp(-(u - 1.6) * (u - 1.6)) : 0;
  return {
    cover,
    colour: [
      tint[0] * (0.35 + warm) + 0.05 * warm + glint,
      tint[1] * (0.35 + warm) + 0.03 * warm + glint * 0.7,
      tint[2] * (0.4 + 0.8 * warm) + 0.025 * warm + glint * 0.5,
    ],
    light: 0.5 * exp(-(u * u + (v + 22) * (v + 22)) / 2.4),
  };
}

/** The mole: planks, and their dark front above the water. */
function mole(x: number, y: number): { cover: number; colour: Rgb; deck: [number, number, number, number, number] | null } {
  if (y < HORIZON + 40) return { cover: 0, colour: [0, 0, 0], deck: null };
  const p = groundAt(CAMERA, x, y),
    right = MOLE_RIGHT - p[0],
    far = moleEnd(p[0]) - p[2];
  if (right > 0 && far > 0) {
    const plank = plankAt(p[2] + 0.05 * p[0], p[0], 0.22, clamp((p[2] - 3) / 6, 0, 0.6), 211),
      mirrored = theSea().shore(
        clamp(x + plank.rough * 26, 0, WIDTH - 1),
        clamp(2 * (HORIZON - 30) - y + 150 + plank.rough * 40, 4, HORIZON - 2),
      ),
      gloss = (0.04 + 0.6 * plank.wet) * 0.3,
      shade = 0.17;
    return {
      cover: smoothstep(0, 0.008, right) * smoothstep(0, 0.012, far),
      colour: [
        plank.colour[0] * shade + mirrored[0] * gloss,
        plank.colour[1] * shade * 1.02 + mirrored[1] * gloss,
        plank.colour[2] * shade * 1.15 + mirrored[2] * gloss,
      ],
      deck: [plank.wet, plank.tone, plank.gap, plank.rough, 1],
    };
  }
  return { cover: 0, colour: [0, 0, 0], deck: null };
}

/** A bollard at the mole's corner, iron, with a turn of rope. */
function bollard(x: number, y: number): { cover: number; colour: Rgb } {
  const foot = project(CAMERA, [0.02, 0, 5.6]),
    s = CAMERA.focal / 5.6,
    u = (x - foot.x) / s,
    v = (foot.y - y) / s;
  if (Math.abs(u) > 0.22 || v < -0.06 || v > 0.46) return { cover: 0, colour: [0, 0, 0] };
  const waist = 0.075 + 0.03 * smoothstep(0.12, 0, v) + 0.055 * smoothstep(0.27, 0.34, v) * smoothstep(0.43, 0.39, v),
    rope = v > 0.11 && v < 0.22 ? 0.022 : 0,
    n = clamp(u / (waist + rope), -1, 1),
    top = 0.41 - 0.03 * n * n * (v > 0.3 ? 1 : 0),
    cover =
      smoothstep(0.004, -0.004, Math.abs(u) - waist - rope) *
      smoothstep(top + 0.004, top - 0.004, v) *
      smoothstep(-0.004, 0.004, v + 0.026 * Math.sqrt(1 - n * n));
  const rust = 0.7 + 0.6 * fractal2(u * 22, v * 22, 4, 301),
    lit = 0.3 + 0.7 * clamp(0.35 + n * 0.7, 0, 1);
  if (rope) {
    const coil = 0.4 + 0.6 * Math.abs(sin((v * 130 + n * 2) * 1.05));
    return { cover, colour: [0.085 * coil * lit, 0.068 * coil * lit, 0.05 * coil * lit] };
  }
  return {
    cover,
    colour: [
      0.036 * rust * lit + 0.03 * clamp(n, 0, 1),
      0.03 * rust * lit + 0.02 * clamp(n, 0, 1),
      0.03 * rust * lit + 0.016 * clamp(n, 0, 1),
    ],
  };
}

function buildRows([from, to]: readonly [number, number]): StillSet {
  const wide = WIDTH + 2 * MARGIN,
    n = (to - from) * wide,
    light = new Float32Array(n * 3),
    water = new Float32Array(n),
    deck = new Float32Array(n * DECK),
    front = new Float32Array(n * 4),
    harbour = theSea();
  for (let row = from, p = 0; row < to; row++)
    for (let column = 0; column < wide; column++, p++) {
      const x = column - MARGIN,
        y = row - MARGIN;
      for (let k = 0; k < 6; k++) {
        const sx = x + ((k & 1) + 0.5) / 2,
          sy = y + ((k >> 1) + 0.5) / 3;
        let c: Rgb = sy >= HORIZON ? [0, 0, 0] : harbour.shore(sx, sy),
          open = sy >= HORIZON ? 1 : 0;
        const lay = (over: Rgb, cover: number) => {
          c = [mix(c[0], over[0], cover), mix(c[1], over[1], cover), mix(c[2], over[2], cover)];
          open *= 1 - cover;
        };
        const haze = exp(-((sy - HORIZON - 4) / 20) * ((sy - HORIZON - 4) / 20));
        if (haze > 0.01) lay([0.2, 0.15, 0.15], haze * 0.32);
        // The front of the mole, its stones dark below the planks.
        const above = mole(sx, sy);
        if (above.cover > 0) lay(above.colour, above.cover);
        const post = bollard(sx, sy);
        if (post.cover > 0) lay(post.colour, post.cover);
        for (let i = 0; i < 3; i++) light[p * 3 + i]! += c[i]! / 6;
        water[p]! += open / 6;
      }
      const wood = mole(x + 0.5, y + 0.5);
      if (wood.deck && bollard(x + 0.5, y + 0.5).cover < 0.5) deck.set(wood.deck, p * DECK);
    }
  return { light, water, deck, front };
}

/** Part of a wider raster, moved by parts of a pixel: cubic, so that a drifting camera keeps its sharpness (Catmull-Rom). */
function moved(from: Float32Array, channels: number, dx: number, dy: number): Float32Array {
  const wide = WIDTH + 2 * MARGIN,
    out = new Float32Array(WIDTH * HEIGHT * channels),
    weights = (f: number) => [
      ((-0.5 * f + 1) * f - 0.5) * f,
      (1.5 * f - 2.5) * f * f + 1,
      ((-1.5 * f + 2) * f + 0.5) * f,
      (0.5 * f - 0.5) * f * f,
    ];
  const sx = MARGIN - dx,
    sy = MARGIN - dy,
    xi = Math.floor(sx),
    yi = Math.floor(sy),
    wx = weights(sx - xi),
    wy = weights(sy - yi);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++)
      for (let c = 0; c < channels; c++) {
        let sum = 0;
        for (let j = 0; j < 4; j++) {
          const at = ((y + yi + j - 1) * wide + x + xi - 1) * channels + c;
          sum +=
            wy[j]! *
            (wx[0]! * from[at]! + wx[1]! * from[at + channels]! + wx[2]! * from[at + 2 * channels]! + wx[3]! * from[at + 3 * channels]!);
        }
        out[(y * WIDTH + x) * channels + c] = sum;
      }
  return out;
}

/** The open set at a frame, as the drifting camera sees it. */
function openPlate(set: StillSet, frame: number, drift: { x: number; y: number }, arena: Arena): Picture {
  const picture = arena.takePicture(WIDTH, HEIGHT),
    o = picture.data,
    light = moved(set.light, 3, drift.x, drift.y),
    water = moved(set.water, 1, drift.x, drift.y),
    harbour = theSea();
  for (let y = 0, p = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, p++) {
      for (let c = 0; c < 3; c++) o[p * 4 + c] = Math.max(0, light[p * 3 + c]!);
      o[p * 4 + 3] = 1;
      const open = clamp(water[p]!, 0, 1),
        ux = x + 0.5 - drift.x,
        uy = y + 0.5 - drift.y;
      if (open > 0.002) {
        const d = uy - HORIZON,
          rows = d < 16 ? 4 : d < 60 ? 2 : 1;
        for (let k = 0; k < rows; k++) {
          const s = harbour.sea(ux, Math.max(HORIZON + 0.3, uy - 0.5 + (k + 0.5) / rows), frame);
          for (let c = 0; c < 3; c++) o[p * 4 + c]! += (s[c]! * open) / rows;
        }
      }
      // The buoy stands in the far water, its dark image below it.
      if (Math.abs(ux - BUOY.x) < 64 && Math.abs(uy - BUOY.y) < 70) {
        for (let k = 0; k < 4; k++) {
          const b = buoy(ux - 0.25 + 0.5 * (k & 1), uy - 0.25 + 0.5 * (k >> 1), frame);
          const hidden = smoothstep(HORIZON + 24, HORIZON + 21, uy);
          for (let c = 0; c < 3; c++) o[p * 4 + c] = o[p * 4 + c]! * (1 - (b.cover * hidden) / 4) + (b.colour[c]! * hidden * b.cover) / 4;
          o[p * 4]! += b.light / 4;
          o[p * 4 + 1]! += (b.light * 0.75) / 4;
          o[p * 4 + 2]! += (b.light * 0.5) / 4;
        }
      }
      const below = uy - HORIZON - 22;
      if (below > 0 && below < 70 && Math.abs(ux - BUOY.x) < 64) {
        const b = buoyAt(frame),
          k =
            0.5 *
            exp(-below / 24) *
            exp(-((ux - b.x + 2.5 * sin(below * 0.7 - frame * 0.2)) / 20) * ((ux - b.x + 2.5 * sin(below * 0.7 - frame * 0.2)) / 20));
        for (let c = 0; c < 3; c++) o[p * 4 + c]! *= 1 - k;
      }
    }
  return picture;
}

const lights = (lamp: ReturnType<typeof glassOf>) => ({
  ...duskLights(lamp, 0.42),
  behind: [0.5, 0.36, 0.3] as const,
  far: { towards: unit([0.85, 0.14, 0.5]), colour: [0.62, 0.38, 0.25] as const },
});

export const tw020: Filmed = {
  code: 'TW_020',
  frames: RUN_IN + warden020.frames,
  rows: [0, HEIGHT + 2 * MARGIN],
  set: buildRows,
  frame(set, number, arena) {
    const frame = number - RUN_IN,
      drift = driftAt(frame),
      camera: Camera = { ...CAMERA, centre: [CAMERA.centre[0] + drift.x, CAMERA.centre[1] + drift.y] },
      moments = MOMENTS.map(({ time }) => thePlay().at(frame + time)),
      shift = MOMENTS.map(({ time }) => {
        const d = driftAt(frame + time);
        return { x: d.x - drift.x, y: d.y - drift.y };
      }),
      middle = thePlay().at(frame),
      lamp = glassOf(middle)!,
      picture = openPlate(set, frame, drift, arena),
      matte = new Float32Array(WIDTH * HEIGHT),
      parts = new Float32Array(WIDTH * HEIGHT * 3);
    lightDeck(picture.data, moved(set.deck, DECK, drift.x, drift.y), middle, camera, lights(lamp), HORIZON + 40);
    layFigure(
      picture.data,
      drawIlse(moments, (s) => lights(glassOf(s)), camera, SIZE, shift),
      matte,
      parts,
    );
    halo(picture.data, project(camera, lamp));
    expose(picture, arena);
    return { picture, matte, parts };
  },
  /** No clean plate was shot. */
  stills: () => [],
  truth: () => ({
    about:
      'TW_020: where things truly are, in pixels of the picture, for frames 0 to 119, in the middle of the shutter; the shot begins at 48.',
    subject: { heightMetres: TALL, heightPixels: tallAt(CAMERA, STANDS[2]) },
    ...seenOver(RUN_IN + warden020.frames, (number) => {
      const f = number - RUN_IN,
        drift = driftAt(f),
        b = buoyAt(f);
      return {
        ...seen(CAMERA, thePlay().at(f), drift),
        buoy: rounded({ x: b.x + drift.x, y: b.y + drift.y }),
        camera: rounded(drift),
      };
    }),
    ground: groundTruth(CAMERA),
    cues: { lanternIsUp: RUN_IN + 36 },
  }),
};
