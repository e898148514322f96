import { fractal2, hash, type Codes, type Picture } from '../src/image';
import type { Sources } from '../src/render';
import * as s from '../src/shot';
import type { TrackSample } from '../src/motion';

export const WIDTH = 1280,
  HEIGHT = 720;

/** Picture-like codes: soft clouds, detail and grain. */
export function likeAPicture(seed: number): Codes {
  const data = new Uint8Array(WIDTH * HEIGHT * 3);
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i += 3) {
      const v = fractal2(x / 160, y / 90, 5, seed),
        grain = (hash(x, y, seed) & 15) - 8;
      data[i] = 200 * v + grain;
      data[i + 1] = 170 * v + grain + 10;
      data[i + 2] = 150 * v + grain + 30;
    }
  return { width: WIDTH, height: HEIGHT, channels: 3, bits: 8, data };
}
/** Fills a picture with values like those of a premultiplied layer. */
export function likeALayer(picture: Picture, seed: number): Picture {
  for (let p = 0, i = 0; i < picture.data.length; p++, i += 4) {
    const a = (hash(p, seed) & 255) / 255;
    picture.data.set([0.8 * a, 0.5 * a, 0.3 * a, a], i);
  }
  return picture;
}

const clip = (name: string, role: s.Clip['role'], frames: number): Omit<s.Clip, 'id'> => ({
  name,
  role,
  media: { path: name },
  width: WIDTH,
  height: HEIGHT,
  frames,
  rate: { num: 24, den: 1 },
  alpha: false,
  bits: 8,
  transfer: 'srgb',
  start: 1001,
});
/** A body of about a third of the picture's height and width, dissolving over 40 frames into some 60,000 flakes. */
const BODY: [number, number][] = [
  [480, 120],
  [800, 100],
  [860, 640],
  [420, 660],
];

/** The usual shot: plate, feathered matte, displacement, a dissolve with about 60,000 flakes alive, a glow of sigma 40, to 8 bits. */
export function usualShot(): { shot: s.Shot; sources: Sources } {
  const edits = [
    s.addClip(clip('performance', 'performance', 96), 'c1'),
    s.addClip(clip('clean', 'clean', 1), 'c2'),
    s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [640, 360], frame: 0 }),
    s.storeSamples('t1', 'still'),
    s.addMatte({ id: 'k1', name: 'Body', source: 'outlines', clip: 'c1' }),
    s.addOutline('k1', 'add', BODY, 24),
    s.addSubject('s1', 'Body', 'c1'),
    s.changeSubject('s1', { matte: 'k1', pixels: 540, metres: 1.7 }),
    s.addRow({
      id: 'r1',
      effect: 'dissolve',
      lane: 'on',
      subject: 's1',
      track: 't1',
      values: { from: [0, -240], extent: 560, density: 40, life: 120 },
      curves: {
        progress: {
          points: [
            { frame: 0, value: 0, ease: 'linear' },
            { frame: 40, value: 100, ease: 'linear' },
          ],
        },
      },
    }),
    s.addRow({ id: 'r2', effect: 'displace', lane: 'behind', subject: 's1', track: 't1', values: { strength: 8, radius: 0 } }),
    s.addRow({ id: 'r3', effect: 'glow', lane: 'whole', subject: null, values: { from: 'all', reach: 80 } }),
  ];
  const shot = edits.reduce(
    (now, edit) => s.applyEdit(now, edit).shot,
    s.newShot({ code: 'usual', width: WIDTH, height: HEIGHT, rate: { num: 24, den: 1 }, frames: 96 }),
  );
  const pictures = { performance: likeAPicture(5), clean: likeAPicture(6) },
    still: TrackSample[] = Array.from({ length: 96 }, (_, frame) => ({
      frame,
      x: 640,
      y: 360,
      rotation: 0,
      scale: 1,
      confidence: 1,
      state: 'good',
    }));
  return { shot, sources: { frame: (c) => Promise.resolve(pictures[c.name as 'clean']), samples: () => Promise.resolve(still) } };
}
