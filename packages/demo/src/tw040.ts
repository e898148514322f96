import { exactMath, fractal2, normal, type Arena, type Picture } from '@wraithos/core/image';
import { belfry, CROWN, mouthOf } from './bell';
import { expose } from './camera';
import { lightDeck } from './deckLight';
import { Performance, type Act } from './figure/act';
import { glassOf } from './figure/ilse';
import { lantern, LANTERN_DROP } from './figure/lantern';
import { drawIlse, FOUR_MOMENTS } from './figure/shutter';
import type { Part } from './figure/solid';
import type { Stance } from './figure/stance';
import { groundAt, project, type Camera, type Lights } from './figure/view';
import { unit, type Frame, type V3 } from './figure/vector';
import { DECK, halo, HEIGHT, layFigure, SIZE, WIDTH, type StillSet } from './film';
import { groundTruth, rounded, seen, seenOver, TALL, tallAt, type Filmed } from './filmed';
import { Harbour, type Outlook, type Rgb } from './harbour';
import { plankAt } from './planks';
import { STANDS, STRIKE, WAITS, waits040, warden040 } from './walk040';

const { clamp, exp, mix, sin, smoothstep } = exactMath;

const HORIZON = 306;
export const CAMERA: Camera = { focal: 860, height: 1.34, centre: [640, HORIZON] };
const OUTLOOK: Outlook = {
  horizon: HORIZON,
  shift: 420,
  swell: 0,
  moon: false,
  lights: [
    { x: 820, y: 298, power: 0.6, colour: [1, 0.66, 0.34] },
    { x: 866, y: 297, power: 0.9, colour: [1, 0.72, 0.42] },
    { x: 1130, y: 299, power: 0.5, colour: [0.8, 0.85, 1] },
  ],
};
/** The shed's wall stands along the quay's left side, the water begins at its right; metres. */
const WALL = -2.5,
  EDGE = 2.9,
  END = 17,
  EAVES = 3.05;
const WINDOWS: readonly (readonly [number, number])[] = [
  [5.6, 6.7],
  [8.6, 9.9],
  [12.2, 13.8],
];

let sea: Harbour | undefined;
const theSea = (): Harbour => (sea ??= new Harbour(OUTLOOK));

/** The lantern that hangs from the end of the beam. */
const LAMP: Frame = { at: [CROWN[0] - 0.86, CROWN[1] + 0.13, CROWN[2] - 0.12], side: [1, 0, 0], up: [0, 1, 0], ahead: [0, 0, -1] };
const FLAME: V3 = [LAMP.at[0], LAMP.at[1] - LANTERN_DROP, LAMP.at[2]];

/** What the strike does to the light: the bell answers with a cold glow, and the lantern gutters and comes back. */
export function lightAt(t: number): { lamp: number; bell: number } {
  const after = t - STRIKE,
    unrest = 0.03 * sin(t * 1.7) + 0.02 * sin(t * 2.9 + 1);
  if (after < 0) return { lamp: 1 + unrest, bell: 0 };
  return {
    lamp: 1 - 0.72 * smoothstep(0, 4, after) * smoothstep(40, 10, after) + unrest * (1 + 2 * exp(-after / 14)),
    bell: smoothstep(-0.5, 2, after) * (0.85 * exp(-after / 13) + 0.15 * exp(-after / 40)) * (1 + 0.12 * sin(after * 1.1)),
  };
}
/** How the bell swings after the blow, radians. */
const swingAt = (t: number): number => (t < STRIKE ? 0 : 0.055 * exp(-(t - STRIKE) / 26) * sin((t - STRIKE) * 0.24));

const lightsOf = (t: number): Lights => {
  const { lamp, bell } = lightAt(t);
  return {
    sky: [0.15, 0.175, 0.27],
    ground: [0.06, 0.055, 0.05],
    behind: [0.46, 0.33, 0.27],
    before: [0.12, 0.115, 0.13],
    quick: true,
    far: { towards: unit([0.5, 0.25, 0.8]), colour: [0.42, 0.3, 0.26] },
    lamps: [
      { at: FLAME, colour: [1, 0.6, 0.28], power: 1.15 * lamp },
      { at: mouthOf(swingAt(t)).map((v, i) => v + [0, 0.12, -0.1][i]!) as unknown as V3, colour: [0.42, 0.86, 1], power: 1.3 * bell },
    ],
  };
};
const besideAt = (t: number): Part[] => [...belfry(swingAt(t)), lantern(LAMP)];

/** The shed at a point of the picture: boards, lit windows, eaves. Null where it is not seen. */
function shed(x: number, y: number): Rgb | null {
  if (x >= CAMERA.centre[0] - 10) return null;
  const z = (CAMERA.focal * WALL) / (x - CAMERA.centre[0]);
  if (z < 2 || z > END - 1.5) return null;
  const up = CAMERA.height - ((y - CAMERA.centre[1]) * z) / CAMERA.focal;
  if (up < 0 || up > EAVES + 0.14) return null;
  const haze = clamp((z - 4) / 26, 0, 0.5);
  let c: Rgb;
  if (up > EAVES) c = [0.018, 0.018, 0.024];
  else {
    const board = up / 0.21,
      part = board - Math.floor(board),
      fade = clamp((z - 5) / 10, 0, 0.8),
      grain = 1 + (1 - fade) * 0.8 * (fractal2(z * 2.1 + Math.floor(board) * 9.7, part * 3 + Math.floor(board) * 4.1, 5, 331) - 0.5);
    const k = grain * (0.35 + 0.65 * smoothstep(0, 0.1, part)) * (0.75 + 0.35 * smoothstep(0, 1.2, up));
    c = [0.026 * k, 0.029 * k, 0.036 * k];
    for (const [from, to] of WINDOWS) {
      const low = 1.05,
        high = 2.15,
        inZ = Math.min(z - from, to - z),
        inY = Math.min(up - low, high - up),
        frame = Math.min(inZ, inY);
      if (frame > 0.06) {
        const bars = Math.min(Math.abs(z - (from + to) / 2), Math.abs(up - 1.62)),
          warm = 0.65 + 0.5 * fractal2(z * 2.1, up * 2.1, 3, 341) - 0.25 * (up - low),
          lit = smoothstep(0.018, 0.032, bars);
        c = [0.86 * warm * lit + 0.02, 0.46 * warm * lit + 0.02, 0.17 * warm * lit + 0.02];
      } else if (frame > -0.07) c = [0.06, 0.055, 0.055];
      else {
        const d2 = Math.max(0, Math.max(from - z, z - to)) + Math.max(0, Math.max(low - up, up - high));
        const spill = 0.035 * exp(-d2 / 0.35);
        c = [c[0] + spill, c[1] + spill * 0.55, c[2] + spill * 0.22];
      }
    }
  }
  return [mix(c[0], 0.13, haze), mix(c[1], 0.115, haze), mix(c[2], 0.13, haze)];
}

/** The quay's planks at a point of the picture. */
function quay(x: number, y: number): { cover: number; colour: Rgb; deck: [number, number, number, number, number] } | null {
  if (y < HORIZON + 60) return null;
  const p = groundAt(CAMERA, x, y);
  if (p[0] < WALL - 0.02 || p[0] > EDGE || p[2] > END) return null;
  const fade = clamp((p[2] - 3) / 9, 0, 0.85),
    plank = plankAt(p[0], p[2], 0.26, fade, 421),
    mirrored = theSea().shore(clamp(x + plank.rough * 40, 0, WIDTH - 1), clamp(2 * HORIZON - y + 26 + plank.rough * 60, 4, HORIZON - 2)),
    gloss = (0.05 + 0.7 * plank.wet) * (0.08 + 0.5 * exp(-2.2 * ((y - HORIZON) / (HEIGHT - HORIZON)))),
    haze = clamp((p[2] - 6) / 24, 0, 0.45);
  let warm = 0;
  for (const [from, to] of WINDOWS) {
    // Window light lies on the planks before the wall, and a long streak of it in the wet.
    const dz = Math.max(0, Math.max(from - p[2], p[2] - to)),
      dx = p[0] - WALL;
    warm += 0.5 * exp(-(dz * dz) / 0.3 - ((dx - 1.1) * (dx - 1.1)) / 1.1) * (0.25 + plank.tone) * plank.gap;
  }
  const shade = 0.15,
    tint = (k: number, c: number, w: number) => mix(k * shade + mirrored[c]! * gloss + warm * w, [0.13, 0.115, 0.13][c]!, haze);
  return {
    cover: smoothstep(EDGE, EDGE - 0.02, p[0]) * smoothstep(END, END - 0.1, p[2]),
    colour: [tint(plank.colour[0], 0, 0.13), tint(plank.colour[1], 1, 0.07), tint(plank.colour[2] * 1.1, 2, 0.026)],
    deck: [plank.wet, plank.tone, plank.gap, plank.rough, 1],
  };
}

function buildRows([from, to]: readonly [number, number]): StillSet {
  const n = (to - from) * WIDTH,
    light = new Float32Array(n * 3),
    water = new Float32Array(n),
    deck = new Float32Array(n * DECK),
    front = new Float32Array(n * 4),
    harbour = theSea();
  for (let y = from, p = 0; y < to; y++)
    for (let x = 0; x < WIDTH; x++, p++) {
      for (let k = 0; k < 9; k++) {
        const sx = x + ((k % 3) + 0.5) / 3,
          sy = y + (Math.floor(k / 3) + 0.5) / 3;
        let c: Rgb = sy >= HORIZON ? [0, 0, 0] : harbour.shore(sx, sy),
          open = sy >= HORIZON ? 1 : 0;
        const lay = (over: Rgb, cover: number) => {
          c = [mix(c[0], over[0], cover), mix(c[1], over[1], cover), mix(c[2], over[2], cover)];
          open *= 1 - cover;
        };
        const haze = exp(-((sy - HORIZON - 4) / 22) * ((sy - HORIZON - 4) / 22));
        if (haze > 0.01) lay([0.19, 0.15, 0.155], haze * 0.4);
        const planks = quay(sx, sy);
        if (planks) lay(planks.colour, planks.cover);
        const wall = shed(sx, sy);
        if (wall) lay(wall, 1);
        for (let i = 0; i < 3; i++) light[p * 3 + i]! += c[i]! / 9;
        water[p]! += open / 9;
      }
      const wood = shed(x + 0.5, y + 0.5) ? null : quay(x + 0.5, y + 0.5);
      if (wood && wood.cover > 0.5) deck.set(wood.deck, p * DECK);
    }
  return { light, water, deck, front };
}

function openPlate(set: StillSet, frame: number, arena: Arena): Picture {
  const picture = arena.takePicture(WIDTH, HEIGHT),
    o = picture.data,
    harbour = theSea();
  for (let y = 0, p = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, p++) {
      const open = set.water[p]!,
        d = y - HORIZON,
        rows = d < 16 ? 4 : d < 60 ? 2 : 1;
      for (let c = 0; c < 3; c++) o[p * 4 + c] = set.light[p * 3 + c]!;
      o[p * 4 + 3] = 1;
      if (open <= 0.002) continue;
      for (let k = 0; k < rows; k++) {
        const s = harbour.sea(x + 0.5, Math.max(HORIZON + 0.3, y + (k + 0.5) / rows), frame);
        for (let c = 0; c < 3; c++) o[p * 4 + c]! += (s[c]! * open) / rows;
      }
    }
  return picture;
}

/** Numbers of each pixel as a camera sees them that stands a few whole pixels beside; edges hold. */
function shifted(from: Float32Array<ArrayBufferLike>, to: Float32Array<ArrayBufferLike>, { x: dx, y: dy }: { x: number; y: number }): void {
  const each = from.length / (WIDTH * HEIGHT);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const q = (clamp(y - dy, 0, HEIGHT - 1) * WIDTH + clamp(x - dx, 0, WIDTH - 1)) * each;
      to.set(from.subarray(q, q + each), (y * WIDTH + x) * each);
    }
}

/** Light in the air around the bell's mouth while it sounds, and the lantern's. */
function glows(picture: Picture, t: number, camera: Camera): void {
  const { lamp, bell } = lightAt(t);
  halo(picture.data, project(camera, FLAME), lamp);
  if (bell <= 0.001) return;
  const at = project(camera, mouthOf(swingAt(t))),
    data = picture.data;
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const dx = (x + 0.5 - at.x) / 150,
        dy = (y + 0.5 - at.y) / 90,
        k = bell * 0.1 * exp(-dx * dx - dy * dy),
        i = (y * WIDTH + x) * 4;
      data[i]! += k * 0.4;
      data[i + 1]! += k * 0.85;
      data[i + 2]! += k;
    }
}

/** How one take of the shot was filmed. */
interface Taking {
  code: string;
  take?: Filmed['take'];
  about: string;
  act: Act;
  /** Where the camera stands against the first take, in pixels of the picture, and how much more light reaches the film, red, green and blue. */
  shift: { x: number; y: number };
  light: Rgb;
  /** The warden carries the lantern that hangs at the beam otherwise, and no mallet. */
  carries: boolean;
  stands: number;
}
function filmed({ code, take, about, act, shift, light, carries, stands }: Taking): Filmed {
  let played: Performance | undefined;
  const thePlay = () => (played ??= new Performance(act)),
    camera: Camera = { ...CAMERA, centre: [CAMERA.centre[0] + shift.x, CAMERA.centre[1] + shift.y] },
    moved = shift.x !== 0 || shift.y !== 0;
  // A take of the same set has no blow: its lamps burn steadily.
  const quiet = carries,
    at = (t: number) => (quiet ? 0.4 * t - 200 : t);
  return {
    code,
    ...(take ? { take } : {}),
    frames: act.frames,
    rows: [0, HEIGHT],
    set: buildRows,
    frame(set, frame, arena) {
      const moments = FOUR_MOMENTS.map(({ time }) => thePlay().at(frame + time)),
        beside = FOUR_MOMENTS.map(({ time }) => besideAt(at(frame + time))),
        lights = (s: Stance): Lights => {
          const usual = lightsOf(at(frame)),
            own = carries ? glassOf(s) : null;
          return own ? { ...usual, lamps: [...usual.lamps, { at: own, colour: [1, 0.62, 0.3], power: 0.5 }] } : usual;
        },
        open = openPlate(set, frame + (quiet ? 300 : 0), arena),
        picture = moved ? arena.takePicture(WIDTH, HEIGHT) : open,
        matte = new Float32Array(WIDTH * HEIGHT),
        parts = new Float32Array(WIDTH * HEIGHT * 3),
        deck = moved ? new Float32Array(set.deck.length) : set.deck;
      if (moved) {
        shifted(open.data, picture.data, shift);
        shifted(set.deck, deck, shift);
        arena.give(open);
      }
      lightDeck(
        picture.data,
        deck,
        thePlay().at(frame),
        camera,
        lights(thePlay().at(frame)),
        HORIZON + 60,
        belfry(swingAt(at(frame))),
        2.6,
      );
      layFigure(picture.data, drawIlse(moments, lights, camera, SIZE, [], beside, FOUR_MOMENTS), matte, parts);
      glows(picture, at(frame), camera);
      // The lamps of the quay are never quite steady.
      const flicker = 1 + 0.014 * normal(frame, quiet ? 4042 : 4040, 1);
      for (let i = 0; i < picture.data.length; i++) if ((i & 3) < 3) picture.data[i]! *= flicker * light[i & 3]!;
      expose(picture, arena);
      return { picture, matte, parts };
    },
    stills: () => [],
    truth: () => ({
      about,
      subject: { heightMetres: TALL, heightPixels: tallAt(camera, stands) },
      ...seenOver(act.frames, (f) => {
        const { mallet } = thePlay().at(f);
        return {
          ...seen(camera, thePlay().at(f)),
          ...(mallet ? { mallet: rounded(project(camera, mallet.head)) } : {}),
          bellMouth: rounded(project(camera, mouthOf(swingAt(at(f))))),
        };
      }),
      ground: groundTruth(camera),
      ...(take ? { againstTheFirst: { shift, light } } : { cues: { strike: STRIKE } }),
    }),
  };
}

export const tw040: Filmed = filmed({
  code: 'TW_040',
  about: 'TW_040: where things truly are, in pixels of the picture, for frames 0 to 83, in the middle of the shutter.',
  act: warden040,
  shift: { x: 0, y: 0 },
  light: [1, 1, 1],
  carries: false,
  stands: STANDS[2],
});
/** A second take of the same place: framed a little differently, exposed a little more, and the warden waits at the other side with a lantern. */
export const takeTwo040: Filmed = filmed({
  code: 'TW_040_two',
  take: { folder: 'TW_040', name: 'take-two' },
  about: 'TW_040, take two: where things truly are, in pixels of the picture, for frames 0 to 47, in the middle of the shutter.',
  act: waits040,
  shift: { x: 6, y: -4 },
  light: [1.3, 1.22, 1.12],
  carries: true,
  stands: WAITS[2],
});
