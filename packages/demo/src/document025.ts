import { eyeParts, faceParts, partName, type EyePart, type FacePart } from '@wraithos/core/motion';
import {
  addClip,
  addCue,
  addMatte,
  addRow,
  addSubject,
  addTrack,
  addTwin,
  refineMatte,
  changeRow,
  changeSubject,
  newShot,
  pairTrack,
  setSourceValues,
  storeSamples,
  type Clip,
  type Shot,
} from '@wraithos/core/shot';
import { build, clip, curveWith } from './documents';
import { HEIGHT, TALL, WIDTH } from './measures';

const points = curveWith('smooth');

/** Samples of the face's tracks, as the page found them. */
export type FaceSamples<T> = { face: T; parts: Record<FacePart, T>; lids: Record<EyePart, T> };
/** Where the face was pressed, on its first frame. */
export const PRESSED: [number, number] = [676, 350];
/** Names of the files that hold them. */
export const faceFiles: FaceSamples<string> = {
  face: 'face',
  parts: Object.fromEntries(faceParts.map((part) => [part, part.replace(/ /g, '-')])) as Record<FacePart, string>,
  lids: { 'left eye': 'left-lids', 'right eye': 'right-lids' },
};
/** The side of the screen on which a part lies: the warden looks into the camera. */
const sideOf = (part: FacePart) => (part.startsWith('left') ? 'screen right' : part.startsWith('right') ? 'screen left' : null);

/** TW_025 finished: embers wake in the warden's eyes as the head comes up, and go out in each blink. */
export function finished025(media: { performance: Clip['media']; clean: Clip['media'] }, tracks: FaceSamples<string>): Shot {
  const base = newShot({ code: 'TW_025', title: 'She looks up', width: WIDTH, height: HEIGHT, rate: { num: 24, den: 1 }, frames: 48 }),
    idOf = (part: FacePart) => `t${2 + faceParts.indexOf(part)}`,
    lidsOf = (eye: EyePart) => `t${2 + faceParts.length + eyeParts.indexOf(eye)}`,
    made = { clip: 'c1', at: PRESSED, frame: 0 };
  return build(base, [
    addClip(clip('tw025_performance', 'performance', media.performance, 48), 'c1'),
    addClip(clip('tw025_clean', 'clean', media.clean, 1), 'c2'),
    addTrack({ ...made, id: 't1', name: 'Face', kind: 'face' }),
    ...faceParts.flatMap((part) => [
      addTrack({ ...made, id: idOf(part), name: partName(part, sideOf(part)), kind: 'face part', values: { part } }),
      pairTrack(idOf(part), 't1'),
    ]),
    ...eyeParts.flatMap((eye) => [
      addTrack({ ...made, id: lidsOf(eye), name: `Lids of the ${eye}`, kind: 'lids' }),
      pairTrack(lidsOf(eye), idOf(eye)),
    ]),
    storeSamples({
      t1: tracks.face,
      ...Object.fromEntries(faceParts.map((part) => [idOf(part), tracks.parts[part]])),
      ...Object.fromEntries(eyeParts.map((eye) => [lidsOf(eye), tracks.lids[eye]])),
    }),
    addMatte({ id: 'k1', name: 'Ilse', source: 'difference', clip: 'c1' }),
    setSourceValues('k1', { looks: 'each pixel that differs' }),
    refineMatte('k1', { 'fill holes': { area: 8000 }, despeckle: { area: 400 } }),
    addSubject('s1', 'Ilse', 'c1'),
    changeSubject('s1', { matte: 'k1', metres: TALL, pixels: 3390 }),
    addCue('q1', 'looks up', 1020),
    addRow({
      id: 'r1',
      effect: 'ember',
      lane: 'front',
      subject: 's1',
      length: 48,
      track: idOf('left eye'),
      values: { reach: 46, strength: 120, hot: '#fff3c4', cool: '#ff7a1f', ragged: 45, detail: 9, flicker: 25 },
      curves: { strength: points([0, 0], [10, 60], [24, 90], [34, 150], [47, 150]) },
    }),
    addTwin('r1', idOf('right eye'), true),
    addRow({
      id: 'r2',
      effect: 'emitter',
      lane: 'front',
      subject: 's1',
      start: 0,
      length: 28,
      track: idOf('left eye'),
      values: {
        from: 'point',
        rate: 40,
        life: 26,
        speed: 1,
        speedVariation: 70,
        spread: 70,
        direction: -90,
        gravity: -3,
        wind: 0.9,
        turbulence: 0.35,
        size: 2.4,
        grows: 30,
        strength: 260,
        young: '#fff0b8',
        old: '#ff5a12',
      },
      curves: { rate: points([0, 3], [8, 40], [27, 46]) },
    }),
    addTwin('r2', idOf('right eye'), true),
    // What burns in the eyes lights the face about them.
    addRow({
      id: 'r3',
      effect: 'flash',
      lane: 'on',
      subject: 's1',
      length: 48,
      track: 't1',
      values: { over: 'about the mount', reach: 150, strength: 10, colour: '#ff9a4a', rise: 1, fall: 160 },
    }),
    changeRow('r1', { name: 'Ember eyes', gate: lidsOf('left eye') }),
    changeRow('r2', { name: 'Sparks', cue: 'q1', gate: lidsOf('left eye') }),
    changeRow('r3', { name: 'Light on the face', gate: lidsOf('left eye') }),
  ]);
}
