import { Arena, exactMath, type Picture } from '@wraithos/core/image';
import { foreground, Harbour, HEIGHT, HORIZON, WIDTH } from './harbour';
import { expose } from './camera';
import { FEET, poseAt } from './pose';
import { drawWarden } from './warden';

const { exp, smoothstep, hypot, clamp } = exactMath;
const gauss = (d: number, w: number) => exp(-(d / w) * (d / w));

/** What does not change over TW_010: the empty set with its foreground, and what the planks do with light. */
export interface StillSet {
  light: Float32Array;
  deck: Float32Array;
  front: Float32Array;
}

const DECK = 5; // wet, tone, gap, rough, near

/** Samples the empty set, 2 x 3 samples a pixel. */
export function buildSet(harbour: Harbour, rows: [number, number]): StillSet {
  const [from, to] = rows,
    n = WIDTH * (to - from),
    light = new Float32Array(n * 3),
    deck = new Float32Array(n * DECK),
    front = new Float32Array(n * 4);
  for (let y = from, p = 0; y < to; y++)
    for (let x = 0; x < WIDTH; x++, p++) {
      let covered = 0;
      for (let sy = 0; sy < 3; sy++)
        for (let sx = 0; sx < 2; sx++) {
          const c = harbour.sample(x + (sx + 0.5) / 2, y + (sy + 0.5) / 3),
            f = foreground(x + (sx + 0.5) / 2, y + (sy + 0.5) / 3);
          for (let k = 0; k < 3; k++) {
            light[p * 3 + k]! += c[k]! / 6;
            front[p * 4 + k]! += (f.colour[k]! * f.cover) / 6;
          }
          covered += f.cover / 6;
        }
      front[p * 4 + 3] = covered;
      const wood = y > HORIZON + 26 ? harbour.deck(x + 0.5, y + 0.5) : null;
      if (wood) deck.set([wood.wet, wood.tone, wood.gap, wood.rough, wood.near], p * DECK);
    }
  return { light, deck, front };
}

export interface Take {
  picture: Picture;
  matte: Float32Array;
}

function openPlate(set: StillSet, arena: Arena): Picture {
  const picture = arena.takePicture(WIDTH, HEIGHT);
  for (let p = 0; p < WIDTH * HEIGHT; p++) {
    for (let c = 0; c < 3; c++) picture.data[p * 4 + c] = set.light[p * 3 + c]!;
    picture.data[p * 4 + 3] = 1;
  }
  return picture;
}

function layFront(picture: Picture, set: StillSet, matte: Float32Array): void {
  for (let p = 0; p < WIDTH * HEIGHT; p++) {
    const a = set.front[p * 4 + 3]!;
    if (a <= 0) continue;
    for (let c = 0; c < 3; c++) picture.data[p * 4 + c] = picture.data[p * 4 + c]! * (1 - a) + set.front[p * 4 + c]!;
    matte[p]! *= 1 - a;
  }
}

/** The clean plate: nobody, no lamplight, no shadow. */
export function cleanPlate(set: StillSet, arena: Arena): Take {
  const picture = openPlate(set, arena),
    matte = new Float32Array(WIDTH * HEIGHT);
  layFront(picture, set, matte);
  expose(picture, arena);
  return { picture, matte };
}

/** One frame (0 to 95) of the performance, and the true coverage of the figure with the lantern, foreground taken away. */
export function performance(set: StillSet, frame: number, arena: Arena): Take {
  const pose = poseAt(frame),
    figure = drawWarden(pose),
    picture = openPlate(set, arena),
    light = picture.data,
    matte = new Float32Array(WIDTH * HEIGHT);
  const { x0, y0, width, height } = figure.region,
    l = pose.lantern,
    fy = FEET.y,
    low = clamp((l.y - 200) / 300, 0, 1);
  // On the planks: the lantern's pool of light, her shadow away from it, her reflection in the wet.
  for (let y = 520; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const p = y * WIDTH + x,
        near = set.deck[p * DECK + 4]!;
      if (near <= 0) continue;
      const wet = set.deck[p * DECK]!,
        tone = set.deck[p * DECK + 1]!,
        gap = set.deck[p * DECK + 2]!,
        rough = set.deck[p * DECK + 3]!,
        i = p * 4;
      const away = FEET.x + (FEET.x - l.x) * 0.1 + 6,
        shadow = 0.78 * clamp(exp(-(((x - away) / 92) ** 2) - ((y - fy + 3) / 15) ** 2), 0, 1);
      const pool = gauss(x - l.x + 10, 190 - 60 * low) * gauss(y - fy - 10, 44) * (0.85 + 0.8 * low) * (0.3 + tone) * gap;
      const streak =
        gauss(x - l.x + rough * 34 * near, 13 + 40 * near) *
        smoothstep(fy - 12, fy + 30, y) *
        exp(-Math.max(0, y - fy) / 120) *
        (0.15 + 0.85 * wet) *
        0.55;
      for (let c = 0; c < 3; c++)
        light[i + c] = light[i + c]! * (1 - shadow) + pool * [0.3, 0.165, 0.07][c]! + streak * [1, 0.58, 0.24][c]!;
      const up = Math.round(2 * (fy + 6) - y + rough * 14),
        ox = Math.round(x + rough * 12 * near) - x0,
        oy = up - y0;
      if (y > fy + 4 && ox >= 0 && ox < width && oy >= 0 && oy < height) {
        const q = oy * width + ox,
          k = figure.matte[q]! * (0.1 + 0.5 * wet) * exp(-(y - fy) / 90);
        for (let c = 0; c < 3; c++) light[i + c] = light[i + c]! * (1 - 0.75 * k) + figure.colour[q * 3 + c]! * k * 0.7;
      }
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const q = y * width + x,
        p = (y + y0) * WIDTH + x + x0,
        a = figure.matte[q]!;
      if (a <= 0) continue;
      for (let c = 0; c < 3; c++) light[p * 4 + c] = light[p * 4 + c]! * (1 - a) + figure.colour[q * 3 + c]! * a;
      matte[p] = a;
    }
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const d = hypot(x + 0.5 - l.x, y + 0.5 - l.y);
      if (d > 700) continue;
      const k = 1.05 * exp(-d / 11) + 0.05 * exp(-d / 26) + 0.008 * exp(-d / 80),
        i = (y * WIDTH + x) * 4;
      light[i]! += k;
      light[i + 1]! += k * 0.6;
      light[i + 2]! += k * 0.26;
    }
  layFront(picture, set, matte);
  expose(picture, arena);
  return { picture, matte };
}
