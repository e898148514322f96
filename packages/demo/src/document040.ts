import {
  addClip,
  addCue,
  addMatte,
  addRow,
  addSubject,
  addTake,
  addTrack,
  changeGround,
  refineMatte,
  changeRow,
  changeSubject,
  changeTake,
  newShot,
  setPlaced,
  type Clip,
  type Shot,
} from '@wraithos/core/shot';
import { build, clip, curveWith, stock } from './documents';
import { HEIGHT, TALL, WIDTH } from './measures';

const points = curveWith('linear'),
  eased = curveWith('smooth');

/** TW_040 finished: the blow on the bell throws up dust, a ring runs out over the quay, and a ripple brings the second take in. */
export function finished040(media: {
  performance: Clip['media'];
  takeTwo: Clip['media'];
  matte: Clip['media'];
  strike: Clip['media'];
  dust: Clip['media'];
  smoke: Clip['media'];
}): Shot {
  const base = newShot({ code: 'TW_040', title: 'Low bell', width: WIDTH, height: HEIGHT, rate: { num: 24, den: 1 }, frames: 108 }),
    two = { kind: 'clip', id: 'c2' } as const;
  return build(base, [
    addClip(clip('tw040_performance', 'performance', media.performance, 84), 'c1'),
    addClip({ ...clip('tw040_take-two', 'element', media.takeTwo, 48), start: 1061 }, 'c2'),
    addClip({ ...clip('tw040_matte', 'element', media.matte, 84), transfer: 'linear' }, 'c3'),
    addClip(stock('Strike', media.strike, 720, 720, 20), 'c4'),
    addClip(stock('Dust puff', media.dust, 800, 320, 40), 'c5'),
    addClip(stock('Smoke burst', media.smoke, 640, 640, 48), 'c6'),
    // As it was matched to the first take: place and light.
    setPlaced(two, 'place', [-6, 4]),
    setPlaced(two, 'red', 65),
    setPlaced(two, 'green', 71.5),
    setPlaced(two, 'blue', 82),
    // What the moved take leaves free at the edges shows the first one.
    changeGround({ clip: 'c1', values: { ground: 'clip' } }),
    addMatte({ id: 'k1', name: 'Warden', source: 'clip', clip: 'c3' }),
    refineMatte('k1', { blur: { radius: 0.5 } }),
    addSubject('s1', 'Warden', 'c1'),
    changeSubject('s1', { matte: 'k1', metres: TALL, pixels: 335 }),
    // Two metres of the quay about the foot of the bell. The camera stands still, and so does the ground.
    addTrack({
      ...{ id: 't1', name: 'Quay', clip: 'c1', kind: 'ground', at: [770.07, 566.14], frame: 40 },
      values: {
        ...{ topLeft: [-182.3, -47.9], topRight: [134.4, -47.9], bottomRight: [288.6, 75.8], bottomLeft: [-212.8, 75.8] },
        ...{ wide: 2, deep: 2 },
      },
    }),
    addCue('q1', 'strikes', 1041),
    addCue('q2', 'the other take', 1064),
    addRow({
      id: 'r1',
      effect: 'ring',
      lane: 'background',
      subject: null,
      start: 0,
      length: 34,
      track: 't1',
      values: {
        radius: 60,
        tilt: 0,
        line: 7,
        halo: 60,
        strength: 150,
        inner: 8,
        near: '#e9fbff',
        far: '#58b7d8',
        spin: 12,
      },
      curves: { radius: eased([0, 52], [30, 675]), strength: points([0, 0], [2, 190], [12, 120], [33, 0]) },
    }),
    addRow({
      id: 'r2',
      effect: 'element',
      lane: 'behind',
      subject: 's1',
      start: 0,
      length: 26,
      values: { place: [110, 138], size: 82, strength: 80, match: 70, towards: '#5b4a38' },
      curves: { strength: points([0, 80], [14, 74], [25, 0]) },
    }),
    addRow({
      id: 'r3',
      effect: 'element',
      lane: 'behind',
      subject: 's1',
      start: 1,
      length: 25,
      values: { place: [-60, 60], size: 74, strength: 62, match: 75, towards: '#4a4d5e' },
      curves: { strength: points([0, 0], [5, 62], [14, 54], [24, 0]) },
    }),
    addRow({
      id: 'r4',
      effect: 'element',
      lane: 'front',
      subject: 's1',
      start: 0,
      length: 20,
      values: { place: [98, -14], size: 62, strength: 170 },
    }),
    addRow({
      id: 'r5',
      effect: 'element',
      lane: 'front',
      subject: 's1',
      start: 1,
      length: 25,
      values: { place: [-110, 236], size: 66, strength: 70, mirror: 'left to right', match: 70, towards: '#5f4f3e' },
      curves: { strength: points([0, 70], [13, 62], [24, 0]) },
    }),
    addRow({
      id: 'r6',
      effect: 'flash',
      lane: 'foreground',
      subject: null,
      start: 0,
      length: 12,
      values: { strength: 26, colour: '#cfeaff', rise: 0, fall: 20, middle: 0 },
    }),
    addRow({
      id: 'r7',
      effect: 'displace',
      lane: 'whole',
      subject: null,
      start: 0,
      length: 30,
      values: { by: 'ripple', place: [130, 0], radius: 20, size: 70, speed: 6, strength: 0 },
      curves: { radius: points([0, 12], [29, 960]), strength: points([0, 0], [3, 13], [20, 11], [29, 0]) },
    }),
    addTake('b2', 'c2', 1064),
    changeTake('b2', { row: 'r7', values: { transition: 'led by an effect' } }),
    changeRow('r1', { name: 'Ring', cue: 'q1' }),
    changeRow('r2', { name: 'Dust behind', clip: 'c5', cue: 'q1' }),
    changeRow('r3', { name: 'Smoke behind', clip: 'c6', cue: 'q1' }),
    changeRow('r4', { name: 'Strike', clip: 'c4', cue: 'q1', blend: 'screen' }),
    changeRow('r5', { name: 'Dust in front', clip: 'c5', cue: 'q1' }),
    changeRow('r6', { name: 'Flash', cue: 'q1' }),
    changeRow('r7', { name: 'Ripple', cue: 'q2' }),
  ]);
}
