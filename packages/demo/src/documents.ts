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
  changeMatte,
  changeRow,
  changeSubject,
  changeTrack,
  newShot,
  storeSamples,
  type Clip,
  type Edit,
  type Shot,
} from '@wraithos/core/shot';
import { FRAMES, HEIGHT_METRES, HEIGHT_PIXELS } from './pose';
import { HEIGHT, WIDTH } from './harbour';

/** How a document names its media: by content hash on the server, by path on the command line. */
export interface DemoMedia {
  performance: Clip['media'];
  clean: Clip['media'];
  occluder: Clip['media'];
}
export interface DemoTracks {
  pin: string;
  lantern: string;
}

const build = (shot: Shot, edits: Edit[]): Shot => edits.reduce((now, edit) => applyEdit(now, edit).shot, shot);
const clip = (name: string, role: Clip['role'], media: Clip['media'], frames: number): Omit<Clip, 'id'> => ({
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

/** TW_010 with its clips only, for a newcomer to do. */
export function startHere(media: DemoMedia): Shot {
  return build(
    newShot({
      code: 'TW_010 start here',
      title: 'Warden goes to moths',
      width: WIDTH,
      height: HEIGHT,
      rate: { num: 24, den: 1 },
      frames: FRAMES,
    }),
    [
      addClip(clip('tw010_performance', 'performance', media.performance, FRAMES), 'c1'),
      addClip(clip('tw010_clean', 'clean', media.clean, 1), 'c2'),
      addClip({ ...clip('tw010_occluder', 'element', media.occluder, 1), transfer: 'srgb' }, 'c3'),
    ],
  );
}

/**
 * Where Ilse may be, as outlines that keep only what is inside: her lamp lights the air and the planks around her, and that differs
 * from the clean plate as well. Body, legs, the raised arm, the lantern (it rides on its track) and where the arm swings up.
 */
export const BODY_AREAS: { points: [number, number][]; feather: number; rides?: boolean }[] = [
  {
    points: [
      [554, 207],
      [584, 218],
      [596, 252],
      [604, 284],
      [628, 304],
      [641, 342],
      [651, 392],
      [640, 434],
      [632, 470],
      [620, 482],
      [624, 522],
      [631, 566],
      [629, 600],
      [606, 602],
      [560, 606],
      [520, 604],
      [496, 604],
      [495, 580],
      [504, 430],
      [510, 360],
      [512, 300],
      [512, 240],
      [526, 214],
    ],
    feather: 6,
  },
  {
    points: [
      [519, 600],
      [604, 600],
      [603, 612],
      [605, 634],
      [609, 644],
      [598, 648],
      [580, 647],
      [571, 638],
      [570, 606],
      [553, 606],
      [551, 640],
      [544, 648],
      [522, 648],
      [517, 640],
      [521, 624],
    ],
    feather: 3,
  },
  {
    points: [
      [400, 221],
      [412, 218],
      [424, 225],
      [478, 267],
      [512, 290],
      [524, 300],
      [522, 358],
      [490, 339],
      [440, 297],
      [420, 266],
      [398, 262],
    ],
    feather: 4,
  },
  {
    points: [
      [396, 224],
      [412, 224],
      [427, 254],
      [427, 297],
      [396, 297],
    ],
    feather: 4,
    rides: true,
  },
  {
    points: [
      [512, 300],
      [512, 360],
      [506, 430],
      [500, 500],
      [446, 500],
      [440, 490],
      [425, 478],
      [395, 440],
      [378, 400],
      [374, 350],
      [376, 312],
      [392, 318],
      [440, 322],
    ],
    feather: 8,
  },
];
/** Shot frame at which the riding outline was drawn. */
const RIDES_FROM = 1059;
/** Area that holds what she leaves on the picture besides: shadow, reflection and lamplight. */
export const TRACES_AREA: [number, number][] = [
  [250, 150],
  [560, 120],
  [720, 260],
  [800, 500],
  [980, 600],
  [1010, 716],
  [90, 716],
  [150, 560],
  [230, 420],
];

/** TW_010 finished: tracked, matted, with the warden going to moths. */
export function finished(media: DemoMedia, tracks: DemoTracks): Shot {
  const edits: Edit[] = [
    addTrack({ id: 't1', name: 'Scarf pin', clip: 'c1', at: [550.77, 306.95], frame: 0 }),
    storeSamples('t1', tracks.pin),
    addTrack({ id: 't2', name: 'Lantern', clip: 'c1', at: [462.37, 470.13], frame: 0 }),
    storeSamples('t2', tracks.lantern),
    changeTrack('t2', { pattern: 31 }),
    addMatte({ id: 'k1', name: 'Ilse', source: 'difference', clip: 'c1' }),
    ...BODY_AREAS.map(({ points, feather }) => addOutline('k1', 'keep inside', points, feather)),
    changeMatte('k1', {
      threshold: 3.2,
      softness: 2.5,
      smooth: 1.5,
      shadow: 'kept',
      grow: -1.15,
      fillHoles: 500,
      despeckle: 300,
      blur: 0.8,
    }),
    addMatte({ id: 'k2', name: 'Traces', source: 'outlines', clip: 'c1' }),
    addOutline('k2', 'add', TRACES_AREA, 150),
    addMatte({ id: 'k3', name: 'Post and rope', source: 'clip', clip: 'c3' }),
    addSubject('s1', 'Ilse', 'c1'),
    changeSubject('s1', { matte: 'k1', traces: 'k2', metres: HEIGHT_METRES, pixels: HEIGHT_PIXELS }),
    addOccluder('h1', 'Post and rope', 'k3'),
    addCue('q1', 'lantern is up', 1038),
    addCue('q2', 'she is gone', 1082),
    addRow({
      id: 'r1',
      effect: 'dissolve',
      lane: 'on',
      subject: 's1',
      start: 1040,
      length: 57,
      track: 't1',
      values: { from: [-138, -34], extent: 425 },
      curves: {
        progress: {
          points: [
            { frame: 0, value: 0, ease: 'ease in' },
            { frame: 16, value: 24, ease: 'linear' },
            { frame: 40, value: 100, ease: 'linear' },
          ],
        },
        wind: {
          points: [
            { frame: 0, value: 1.6, ease: 'smooth' },
            { frame: 30, value: 3.4, ease: 'smooth' },
            { frame: 56, value: 2.6, ease: 'linear' },
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
      length: 46,
      track: 't2',
      values: { strength: 3.5, size: 24, radius: 70, place: [0, -70], speed: 2.4 },
      curves: {
        strength: {
          points: [
            { frame: 34, value: 3.5, ease: 'smooth' },
            { frame: 45, value: 0, ease: 'linear' },
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
      length: 56,
      track: 't2',
      values: { reach: 130, strength: 55, flicker: 22 },
      curves: {
        strength: {
          points: [
            { frame: 8, value: 34, ease: 'smooth' },
            { frame: 38, value: 78, ease: 'smooth' },
            { frame: 55, value: 0, ease: 'linear' },
          ],
        },
      },
    }),
  ];
  // The dissolve hangs on the cue, so that moving the cue moves it.
  const lantern: Edit = {
    name: 'Ride on the lantern',
    apply: (shot) => {
      BODY_AREAS.forEach(({ rides }, i) => {
        if (rides) Object.assign(shot.mattes.k1!.outlines[i]!, { mount: shot.rows.r3!.mount, mountFrame: RIDES_FROM });
      });
    },
  };
  return build({ ...startHere(media), code: 'TW_010' }, [...edits, lantern, changeRow('r1', { cue: 'q1', start: 2 })]);
}
