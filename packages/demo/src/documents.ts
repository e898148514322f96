import {
  addClip,
  addCue,
  addMatte,
  addOccluder,
  addOutline,
  addRow,
  addSubject,
  addTrack,
  applyEdit,
  refineMatte,
  changeRow,
  changeSubject,
  setSourceValues,
  setTrackValues,
  newShot,
  storeSamples,
  type Clip,
  type NewClip,
  type Edit,
  type Row,
  type Shot,
} from '@wraithos/core/shot';
import { STANDING } from './standing';
import { HEIGHT, TALL, TW_010, WIDTH } from './measures';

/** How a document names its media: by content hash on the server, by path on the command line. */
export interface DemoMedia {
  performance: Clip['media'];
  clean: Clip['media'];
  occluder: Clip['media'];
  reference: Clip['media'];
}
export interface DemoTracks {
  pin: string;
  lantern: string;
}

/** A document with edits made to it one after another. */
export const build = (shot: Shot, edits: Edit[]): Shot => edits.reduce((now, edit) => applyEdit(now, edit).shot, shot);
/** Makes curves of one easing from pairs of frame (counted in the row) and value. */
export const curveWith =
  (ease: 'smooth' | 'linear') =>
  (...list: [frame: number, value: number][]): Row['curves'][string] => ({
    points: list.map(([frame, value]) => ({ frame, value, ease })),
  });
/** A clip of the demo: 1280 x 720, 24 frames a second, from frame 1001. */
export const clip = (name: string, role: Clip['role'], media: Clip['media'], frames: number): NewClip => ({
  name,
  role,
  media,
  width: WIDTH,
  height: HEIGHT,
  frames,
  rate: { num: 24, den: 1 },
  alpha: false,
  bits: 8,
  transfer: 'srgb',
  start: 1001,
});

/** An element of the stockroom, as it comes in. */
export const stock = (name: string, media: Clip['media'], width: number, height: number, frames: number): NewClip => ({
  ...clip(name, 'element', media, frames),
  width,
  height,
  alpha: true,
});

/** TW_010 with its clips only, for a newcomer to do. */
export function startHere(media: DemoMedia): Shot {
  return build(
    newShot({
      code: 'TW_010 start here',
      title: 'Warden goes to moths',
      width: WIDTH,
      height: HEIGHT,
      rate: { num: 24, den: 1 },
      frames: TW_010.frames,
    }),
    [
      addClip(clip('tw010_performance', 'performance', media.performance, TW_010.frames), 'c1'),
      addClip(clip('tw010_clean', 'clean', media.clean, 1), 'c2'),
      addClip({ ...clip('tw010_occluder', 'element', media.occluder, 1), transfer: 'srgb' }, 'c3'),
      addClip({ ...clip('tw010_reference', 'reference', media.reference, TW_010.frames), width: WIDTH / 2, height: HEIGHT / 2 }, 'c4'),
    ],
  );
}

/**
 * Where Ilse is once she stands with the lantern up, from frame 1058 on: her lamp lights the air and the planks around her, and that differs from
 * the clean plate as well, so the outline lies close. Before that nothing needs her matte.
 */
export const BODY_AREAS: { points: [number, number][]; feather: number }[] = [{ points: STANDING, feather: 3 }];
/** Area that holds what she leaves on the picture besides: the lantern's halo, shadow, mirror image and lamplight on the planks. */
export const TRACES_AREA: [number, number][] = [
  [330, 170],
  [520, 150],
  [560, 440],
  [870, 470],
  [1010, 580],
  [1180, 716],
  [60, 716],
  [300, 590],
  [440, 480],
  [470, 400],
  [330, 350],
];

/** TW_010 finished: tracked, matted, with the warden going to moths. */
export function finished(media: DemoMedia, tracks: DemoTracks): Shot {
  const edits: Edit[] = [
    addTrack({ id: 't1', name: 'Scarf pin', clip: 'c1', at: [555.21, 296.88], frame: 62 }),
    storeSamples({ t1: tracks.pin }),
    addTrack({ id: 't2', name: 'Lantern', clip: 'c1', at: [612.08, 464.84], frame: 0 }),
    storeSamples({ t2: tracks.lantern }),
    setTrackValues('t1', { pattern: 19 }),
    setTrackValues('t2', { pattern: 27 }),
    addMatte({ id: 'k1', name: 'Ilse', source: 'difference', clip: 'c1' }),
    ...BODY_AREAS.map(({ points, feather }) => addOutline('k1', 'keep inside', points, feather)),
    setSourceValues('k1', { looks: 'each pixel that differs', threshold: 1.2, softness: 1.2, smooth: 1.5, shadow: 'kept' }),
    refineMatte('k1', { grow: { by: -1.15 }, 'fill holes': { area: 500 }, despeckle: { area: 300 }, blur: { radius: 0.8 } }),
    addMatte({ id: 'k2', name: 'Traces', source: null, clip: 'c1' }),
    addOutline('k2', 'add', TRACES_AREA, 60),
    addMatte({ id: 'k3', name: 'Post and rope', source: 'clip', clip: 'c3' }),
    addSubject('s1', 'Ilse', 'c1'),
    changeSubject('s1', { matte: 'k1', traces: 'k2', metres: TALL, pixels: TW_010.pixels }),
    addOccluder('h1', 'Post and rope', 'k3'),
    addCue('q1', 'lantern is up', 1058),
    addCue('q2', 'she is gone', 1094),
    addRow({
      id: 'r1',
      effect: 'dissolve',
      lane: 'on',
      subject: 's1',
      start: 1060,
      length: 37,
      track: 't1',
      // Moths: winged flakes, with dust between them; few pieces of the coat.
      values: { from: [-133, -33], extent: 440, size: 1.8, density: 26, paleness: 78, dust: 30, shards: 8, chunks: 2 },
      curves: {
        progress: {
          points: [
            { frame: 0, value: 0, ease: 'ease in' },
            { frame: 11, value: 20, ease: 'linear' },
            { frame: 34, value: 100, ease: 'linear' },
          ],
        },
        wind: {
          points: [
            { frame: 0, value: 1.6, ease: 'smooth' },
            { frame: 20, value: 3.4, ease: 'smooth' },
            { frame: 36, value: 2.6, ease: 'linear' },
          ],
        },
      },
    }),
    addRow({
      id: 'r2',
      effect: 'displace',
      lane: 'front',
      subject: 's1',
      start: 1001,
      length: 64,
      track: 't2',
      values: { strength: 3.5, size: 24, radius: 70, place: [0, -70], speed: 2.4 },
      curves: {
        strength: {
          points: [
            { frame: 54, value: 3.5, ease: 'smooth' },
            { frame: 63, value: 0, ease: 'linear' },
          ],
        },
      },
    }),
    addRow({
      id: 'r3',
      effect: 'glow',
      lane: 'front',
      subject: 's1',
      start: 1001,
      length: 76,
      track: 't2',
      values: { reach: 130, strength: 55, flicker: 22 },
      curves: {
        strength: {
          points: [
            { frame: 8, value: 34, ease: 'smooth' },
            { frame: 58, value: 78, ease: 'smooth' },
            { frame: 75, value: 0, ease: 'linear' },
          ],
        },
      },
    }),
    // Motes in the lamplight while she walks; sparks and a breath of light where she begins to go.
    addRow({
      id: 'r4',
      effect: 'emitter',
      lane: 'front',
      subject: 's1',
      start: 1001,
      length: 78,
      track: 't2',
      values: { rate: 34, reach: 30, life: 34, speed: 0.25, size: 4.5, strength: 120, wind: 0.5, turbulence: 0.3, spread: 300 },
      curves: {
        rate: {
          points: [
            { frame: 0, value: 34, ease: 'smooth' },
            { frame: 52, value: 60, ease: 'smooth' },
            { frame: 62, value: 0, ease: 'linear' },
          ],
        },
      },
    }),
    addRow({
      id: 'r5',
      effect: 'emitter',
      lane: 'front',
      subject: 's1',
      start: 1061,
      length: 30,
      track: 't2',
      values: {
        from: 'ellipse',
        reach: 16,
        rate: 0,
        burst: 70,
        life: 20,
        speed: 1.6,
        speedVariation: 90,
        spread: 360,
        gravity: 30,
        settle: 1.6,
        wind: 2.4,
        turbulence: 0.7,
        size: 2.4,
        streak: 0.9,
        strength: 240,
      },
    }),
    addRow({
      id: 'r6',
      effect: 'flash',
      lane: 'front',
      subject: 's1',
      start: 1061,
      length: 20,
      track: 't2',
      values: { over: 'about the mount', reach: 210, strength: 42, colour: '#ffcf94', rise: 2, fall: 20 },
    }),
    changeRow('r4', { name: 'Motes' }),
    changeRow('r5', { name: 'Sparks' }),
  ];
  // The dissolve hangs on the cue, so that moving the cue moves it.
  return build({ ...startHere(media), code: 'TW_010' }, [
    ...edits,
    changeRow('r1', { cue: 'q1', start: 2 }),
    changeRow('r5', { cue: 'q1', start: 3 }),
    changeRow('r6', { cue: 'q1', start: 3 }),
  ]);
}
