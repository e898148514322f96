import { type Arena, type Picture } from '@wraithos/core/image';
import { ANIMATIC, animatic } from './animatic';
import { expose } from './camera';
import { Performance } from './figure/act';
import { glassOf } from './figure/ilse';
import { groundTruth, seen, seenOver, TALL, tallAt, type Filmed } from './filmed';
import { lightDeck } from './deckLight';
import { drawIlse, MOMENTS } from './figure/shutter';
import { project, type Camera } from './figure/view';
import { DECK, duskLights, halo, HEIGHT, layFigure, layFront, SIZE, WIDTH, type StillSet } from './film';
import { foreground, Harbour, HORIZON, VANISH_X } from './harbour';
import { warden010 } from './walk010';

/** The jetty's camera: a person's hip above the planks. */
export const CAMERA: Camera = { focal: 1100, height: 1.061, centre: [VANISH_X, HORIZON] };

/** Rows [from, to) of the set, each pixel the mean of six samples. */
export function buildSet(harbour: Harbour, [from, to]: readonly [number, number]): StillSet {
  const n = (to - from) * WIDTH,
    light = new Float32Array(n * 3),
    water = new Float32Array(n),
    deck = new Float32Array(n * DECK),
    front = new Float32Array(n * 4);
  for (let y = from, p = 0; y < to; y++)
    for (let x = 0; x < WIDTH; x++, p++) {
      for (let sy = 0; sy < 3; sy++)
        for (let sx = 0; sx < 2; sx++) {
          const c = harbour.sample(x + (sx + 0.5) / 2, y + (sy + 0.5) / 3),
            f = foreground(x + (sx + 0.5) / 2, y + (sy + 0.5) / 3);
          water[p]! += c.water / 6;
          for (let k = 0; k < 3; k++) {
            light[p * 3 + k]! += c.colour[k]! / 6;
            front[p * 4 + k]! += (f.colour[k]! * f.cover) / 6;
          }
          front[p * 4 + 3]! += f.cover / 6;
        }
      const wood = y > HORIZON + 26 ? harbour.deck(x + 0.5, y + 0.5) : null;
      if (wood) deck.set([wood.wet, wood.tone, wood.gap, wood.rough, wood.near], p * DECK);
    }
  return { light, water, deck, front };
}

/** The set with its water at a time, nobody on it. Far rows of water are sampled more often, so that nothing shimmers. */
export function openPlate(set: StillSet, harbour: Harbour, time: number, arena: Arena): Picture {
  const picture = arena.takePicture(WIDTH, HEIGHT),
    o = picture.data;
  for (let y = 0, p = 0; y < HEIGHT; y++) {
    const rows = y < HORIZON + 16 ? 4 : y < HORIZON + 60 ? 2 : 1;
    for (let x = 0; x < WIDTH; x++, p++) {
      const water = set.water[p]!;
      for (let c = 0; c < 3; c++) o[p * 4 + c] = set.light[p * 3 + c]!;
      o[p * 4 + 3] = 1;
      if (water <= 0.002) continue;
      for (let k = 0; k < rows; k++) {
        const sea = harbour.sea(x + 0.5, y + (k + 0.5) / rows, time);
        for (let c = 0; c < 3; c++) o[p * 4 + c]! += (sea[c]! * water) / rows;
      }
    }
  }
  return picture;
}

let harbour: Harbour | undefined;
let play: Performance | undefined;
const theHarbour = (): Harbour => (harbour ??= new Harbour());
const thePlay = (): Performance => (play ??= new Performance(warden010));

/** Depth at which she stands when she comes apart. */
const STANDS = 4.53;
export const FRAMES = warden010.frames;

export const tw010: Filmed = {
  code: 'TW_010',
  frames: FRAMES,
  rows: [0, HEIGHT],
  set: (rows) => buildSet(theHarbour(), rows),
  frame(set, frame, arena) {
    const moments = MOMENTS.map(({ time }) => thePlay().at(frame + time)),
      middle = thePlay().at(frame),
      lamp = glassOf(middle)!,
      picture = openPlate(set, theHarbour(), frame, arena),
      matte = new Float32Array(WIDTH * HEIGHT),
      parts = new Float32Array(WIDTH * HEIGHT * 3);
    lightDeck(picture.data, set.deck, middle, CAMERA, duskLights(lamp), HORIZON + 40);
    layFigure(
      picture.data,
      drawIlse(moments, (s) => duskLights(glassOf(s)), CAMERA, SIZE),
      matte,
      parts,
    );
    halo(picture.data, project(CAMERA, lamp));
    layFront(picture, set, matte, parts);
    expose(picture, arena);
    return { picture, matte, parts };
  },
  /** Nobody, no lamplight, no shadow; and what stands before everyone. */
  stills(set, arena) {
    const picture = openPlate(set, theHarbour(), 0, arena);
    layFront(picture, set);
    expose(picture, arena);
    return [
      { name: 'clean', picture },
      { name: 'occluder', cover: set.front.filter((_, i) => (i & 3) === 3) },
    ];
  },
  reference: (mattes) => ({ frames: animatic(mattes, seen(CAMERA, thePlay().at(58)).lantern!), ...ANIMATIC }),
  truth: () => ({
    about:
      'TW_010: where things truly are, in pixels of the picture (x right, y down, pixel centres at +0.5), for frames 0 to 95, in the middle of the shutter.',
    subject: { heightMetres: TALL, heightPixels: tallAt(CAMERA, STANDS) },
    ...seenOver(FRAMES, (f) => seen(CAMERA, thePlay().at(f))),
    ground: groundTruth(CAMERA),
    cues: { stops: 38, lanternIsUp: 56 },
  }),
};
