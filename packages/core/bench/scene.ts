import { fractal2, hash, type Codes, type Picture } from '../src/image';
import { newFlakes, type Flakes } from '../src/particles';
import type { Sources } from '../src/render';
import * as s from '../src/shot';
import type { TrackSample } from '../src/motion';

export const WIDTH = 1280,
  HEIGHT = 720;

/** Picture-like codes: soft clouds, detail and grain. */
export function likeAPicture(seed: number, width = WIDTH, height = HEIGHT): Codes {
  const data = new Uint8Array(width * height * 3);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 3) {
      const v = fractal2(x / 160, y / 90, 5, seed),
        grain = (hash(x, y, seed) & 15) - 8;
      data[i] = 200 * v + grain;
      data[i + 1] = 170 * v + grain + 10;
      data[i + 2] = 150 * v + grain + 30;
    }
  return { width, height, channels: 3, bits: 8, data };
}
/** Fills a picture with values like those of a premultiplied layer. */
export function likeALayer(picture: Picture, seed: number): Picture {
  for (let p = 0, i = 0; i < picture.data.length; p++, i += 4) {
    const a = (hash(p, seed) & 255) / 255;
    picture.data.set([0.8 * a, 0.5 * a, 0.3 * a, a], i);
  }
  return picture;
}

const clip = (name: string, role: s.Clip['role'], frames: number, width: number, height: number): s.NewClip => ({
  name,
  role,
  media: { path: name },
  width,
  height,
  frames,
  rate: { num: 24, den: 1 },
  alpha: false,
  bits: 8,
  transfer: 'srgb',
  start: 1001,
});
/** A body of about a third of the picture's height and width, dissolving over 70 frames into some 60,000 flakes. */
const BODY: [number, number][] = [
  [480, 120],
  [800, 100],
  [860, 640],
  [420, 660],
];

export interface Usual {
  /** Against 1280 x 720. */
  size?: number;
  /** Flakes for each 100 px² of the 1280 x 720 picture; 32 has about 60,000 alive. */
  density?: number;
  /** Glows and grades in all, in turn. */
  finishing?: number;
}

/**
 * The usual shot: plate, feathered matte, displacement, a dissolve with about 60,000 flakes alive, a glow of sigma 40, a grade; its caller turns it
 * into 8 bits.
 */
export function usualShot({ size = 1, density = 32, finishing = 2 }: Usual = {}): { shot: s.Shot; sources: Sources } {
  const width = Math.round(WIDTH * size),
    height = Math.round(HEIGHT * size),
    edits = [
      s.addClip(clip('performance', 'performance', 96, width, height), 'c1'),
      s.addClip(clip('clean', 'clean', 1, width, height), 'c2'),
      s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [640 * size, 360 * size], frame: 0 }),
      s.storeSamples({ t1: 'still' }),
      s.addMatte({ id: 'k1', name: 'Body', source: null, clip: 'c1' }),
      s.addOutline(
        'k1',
        'add',
        BODY.map(([x, y]) => [x * size, y * size] as const),
        24 * size,
      ),
      s.addSubject('s1', 'Body', 'c1'),
      s.changeSubject('s1', { matte: 'k1', pixels: Math.round(540 * size), metres: 1.7 }),
      s.addRow({
        id: 'r1',
        effect: 'dissolve',
        lane: 'on',
        subject: 's1',
        track: 't1',
        values: {
          from: [0, -240 * size],
          extent: 560 * size,
          density: density / size / size,
          life: 60,
          size: 1.9 * size,
          ragged: 26 * size,
          raggedSize: 30 * size,
          rim: 6 * size,
        },
        curves: {
          progress: {
            points: [
              { frame: 0, value: 0, ease: 'linear' },
              { frame: 70, value: 100, ease: 'linear' },
            ],
          },
        },
      }),
      s.addRow({
        id: 'r2',
        effect: 'displace',
        lane: 'behind',
        subject: 's1',
        track: 't1',
        values: { strength: 8 * size, size: 40 * size, radius: 0 },
      }),
      ...Array.from({ length: finishing }, (_, i) =>
        i % 2
          ? s.addRow({
              id: `r${3 + i}`,
              effect: 'grade',
              lane: 'whole',
              subject: null,
              values: { exposure: 0.3, saturation: 110, lift: 1 },
            })
          : s.addRow({ id: `r${3 + i}`, effect: 'glow', lane: 'whole', subject: null, values: { from: 'all', reach: 80 * size } }),
      ),
    ];
  const made = edits.reduce(
    (now, edit) => s.applyEdit(now, edit).shot,
    s.newShot({ code: 'usual', width, height, rate: { num: 24, den: 1 }, frames: 96 }),
  );
  // The outline rides with the body, so that its matte is drawn anew for every frame.
  const shot = structuredClone(made);
  Object.assign(shot.mattes.k1!.outlines[0]!, { mount: shot.rows.r1!.mount, mountFrame: shot.first });
  const pictures = { performance: likeAPicture(5, width, height), clean: likeAPicture(6, width, height) },
    samples: TrackSample[] = Array.from({ length: 96 }, (_, frame) => ({
      frame,
      x: (640 + 0.3 * frame) * size,
      y: 360 * size,
      rotation: 0,
      scale: 1,
      confidence: 1,
      state: 'good',
    }));
  return { shot, sources: { frame: (c) => Promise.resolve(pictures[c.name as 'clean']), samples: () => Promise.resolve(samples) } };
}

/**
 * A shot of many pictures: the base, a detached subject at four fifths of its size, three elements with alpha (one of them tilted in space, one that
 * fills the picture), and a glow.
 */
export function layeredShot(): { shot: s.Shot; sources: Sources } {
  const size = { width: WIDTH, height: HEIGHT },
    smoke = { ...clip('smoke', 'element', 96, WIDTH, HEIGHT), alpha: true },
    placed = (id: string, lane: 'behind' | 'front', values: Record<string, string | number | [number, number]>) => [
      s.addRow({ id, effect: 'element', lane, subject: 's1', values }),
      s.changeRow(id, { clip: 'c3' }),
    ],
    subject = (name: string, value: number | [number, number]) => s.setPlaced({ kind: 'subject', id: 's1' }, name, value),
    edits = [
      s.addClip(clip('performance', 'performance', 96, WIDTH, HEIGHT), 'c1'),
      s.addClip(clip('clean', 'clean', 1, WIDTH, HEIGHT), 'c2'),
      s.addClip(smoke, 'c3'),
      s.addMatte({ id: 'k1', name: 'Body', source: null, clip: 'c1' }),
      s.addOutline('k1', 'add', BODY, 24),
      s.addSubject('s1', 'Body', 'c1'),
      s.changeSubject('s1', { matte: 'k1', pixels: 540, metres: 1.7, detached: true }),
      subject('size', 80),
      subject('shift', [120, 20]),
      subject('pivot', [0, 300]),
      ...placed('r1', 'behind', { fit: 'fills the picture' }),
      ...placed('r2', 'behind', { tilt: 70, size: 60, place: [0, 220] }),
      ...placed('r3', 'front', { size: 45, place: [-200, 80], turn: 12 }),
      s.addRow({ id: 'r4', effect: 'glow', lane: 'whole', subject: null, values: { from: 'all', reach: 80 } }),
    ],
    shot = edits.reduce(
      (now, edit) => s.applyEdit(now, edit).shot,
      s.newShot({ code: 'layered', ...size, rate: { num: 24, den: 1 }, frames: 96 }),
    ),
    plain = { performance: likeAPicture(5), clean: likeAPicture(6) },
    veil: Codes = { ...size, channels: 4, bits: 8, data: new Uint8Array(WIDTH * HEIGHT * 4) },
    grey = likeAPicture(7).data;
  for (let p = 0; p < WIDTH * HEIGHT; p++) {
    for (let c = 0; c < 3; c++) veil.data[4 * p + c] = grey[3 * p + c]!;
    veil.data[4 * p + 3] = Math.max(0, grey[3 * p]! - 60);
  }
  return {
    shot,
    sources: { frame: (c) => Promise.resolve(c.name === 'smoke' ? veil : plain[c.name as 'clean']), samples: () => Promise.resolve([]) },
  };
}
/** The performance of the usual shot alone, at four fifths of its speed, between frames: mixed, or by their motion. */
export function retimedShot(between: 'blended' | 'by motion' = 'blended'): { shot: s.Shot; sources: Sources } {
  const { shot, sources } = usualShot(),
    alone = { ...shot, rows: {} };
  return {
    shot: [s.setPlaced({ kind: 'clip', id: 'c1' }, 'speed', 80), s.setPlaced({ kind: 'clip', id: 'c1' }, 'between', between)].reduce(
      (now, edit) => s.applyEdit(now, edit).shot,
      alone,
    ),
    sources,
  };
}

/** Particles in the middle of their lives over a part of the picture. */
export function manyFlakes(count: number): Flakes {
  const flakes = newFlakes(count);
  for (let i = 0; i < count; i++) {
    const u = (channel: number) => hash(i, channel) / 4294967296;
    flakes.id[i] = hash(i, 9);
    flakes.x[i] = 300 + 700 * u(1);
    flakes.y[i] = 60 + 600 * u(2);
    flakes.age[i] = Math.floor(40 * u(3));
    flakes.life[i] = 60 + 20 * u(4);
    flakes.red[i] = flakes.green[i] = flakes.blue[i] = 0.4 * u(5);
  }
  return flakes;
}
