import { gradeMatrix } from '../image/grade';
import type { Pictures } from '../image/arena';
import type { Picture } from '../image/picture';
import type { Frame } from '../motion/frame';
import { param, type Values } from '../params/describe';
import {
  carriedMatrix,
  carrierOf,
  carryParams,
  drawMoving,
  outlineOf,
  pivotOf,
  placedMatrix,
  placeParams,
  shutterParams,
  timeParams,
} from '../placing';
import { effect } from './describe';
import { recipes } from './recipes/element';

const params = {
  strength: param.share({ default: 100, title: 'Strength', range: [0, 400], help: 'Cover up to 100 %, brightness beyond it.' }),
  ...carryParams,
  ...placeParams,
  ...timeParams,
  ...shutterParams,
  takesOut: param.choice({
    default: 'nothing',
    of: ['nothing', 'black', 'white'],
    title: 'Take out',
    help: 'For clips without alpha: what is black (fire, light) or white (smoke, ink) becomes clear.',
    group: 'Colour',
  }),
  match: param.share({
    default: 0,
    title: 'Match colour',
    help: 'Share by which its mean colour goes to the one below; its own lights and darks stay.',
    group: 'Colour',
  }),
  towards: param.colour({ default: '#808080', title: 'Colour to match', picked: true, group: 'Colour' }),
};
type V = Values<typeof params>;

/** What is as dark as nothing (or as light as paper) becomes clear, the rest keeps what it adds; in place. */
function takeOut(picture: Picture, what: 'black' | 'white'): void {
  const d = picture.data;
  for (let i = 0; i < d.length; i += 4) {
    const a = d[i + 3]!,
      r = d[i]!,
      g = d[i + 1]!,
      b = d[i + 2]!;
    if (what === 'black') d[i + 3] = Math.min(a, Math.max(0, r, g, b));
    else {
      // Over white paper: colour = own + (1 - cover), with the smallest cover that keeps all of it at 0 or above.
      const clear = Math.max(0, Math.min(r, g, b, a));
      d[i] = r - clear;
      d[i + 1] = g - clear;
      d[i + 2] = b - clear;
      d[i + 3] = a - clear;
    }
  }
}

/** Its mean colour (by its cover) taken towards another. */
function matched(picture: Picture, v: Pick<V, 'match' | 'towards'>, pictures: Pictures): Picture {
  const sum = [0, 0, 0, 0];
  for (let i = 0; i < picture.data.length; i += 4) for (let c = 0; c < 4; c++) sum[c]! += picture.data[i + c]!;
  if (sum[3]! <= 0) return picture;
  const gain = [0, 1, 2].map((c) => {
    const mean = sum[c]! / sum[3]!;
    return mean > 1e-5 ? 1 + v.match * (v.towards[c]! / mean - 1) : 1;
  }) as [number, number, number];
  return gradeMatrix(picture, [gain[0], 0, 0, 0, gain[1], 0, 0, 0, gain[2], 0, 0, 0], pictures);
}

/** A clip placed in the shot: turned in three axes or by its corners, retimed, on a mount or in the world. */
export const element = effect({
  type: 'element',
  version: 2,
  // It had no motion blur.
  upgrade: ({ values, curves }) => ({ values: { ...values, shutter: 0 }, curves }),
  facts: ['around'],
  title: 'Element',
  summary: 'A clip placed in the picture: smoke, a bolt, a photograph, a drawing.',
  recipes,
  happens: true,
  shown: { frame: 1078, clip: 'smoke-burst', values: { size: 150, place: [-110, 190], match: 80, towards: '#5d6a86', strength: 85 } },
  lanes: ['behind', 'front', 'on', 'background', 'foreground', 'whole'],
  origin: 'middle',
  params,
  inputs: {
    moment: { kind: 'moment', optional: true, title: 'Clip' },
    mount: { kind: 'mount', optional: true, title: 'Mount' },
    begun: { kind: 'mount', at: 'start', optional: true, title: 'Mount at the first frame' },
    before: { kind: 'mount', at: 'before', optional: true, title: 'Mount a frame earlier' },
    next: { kind: 'mount', at: 'next', optional: true, title: 'Mount a frame later' },
  },
  without: (v) => [
    ...(v.carried === 'stays where it began' ? (['mount', 'before', 'next'] as const) : (['begun'] as const)),
    ...(v.shutter > 0 ? [] : (['before', 'next'] as const)),
  ],
  idle: (v) => v.strength <= 0 || (v.placedBy === 'size and turn' && v.size <= 0),
  render({ pictures, width, height, around }, v, { moment, mount, begun, before, next }) {
    if (!moment) return {};
    const sizes = { width: moment.width, height: moment.height, pictureWidth: width, pictureHeight: height },
      standing = (values: V, on: Frame) => {
        const placed = placedMatrix(values, sizes);
        return placed && carriedMatrix(placed, carrierOf(v.carried, on, begun), pivotOf(values));
      },
      forward = standing(v, mount),
      // A mount that is not there, or is lost, says nothing of a move.
      beside = (values: V, on: Frame) => (on.hung === mount.hung && !on.lost ? standing(values, on) : null),
      moving = {
        before: beside((around[0] ?? v) as V, before),
        after: beside((around[1] ?? v) as V, next),
        // The shutter is an angle of degrees.
        open: v.shutter / 360,
      };
    if (!forward) return {};
    let source = moment;
    const take = (next: Picture) => {
      if (source !== moment && source !== next) pictures.give(source);
      source = next;
    };
    if (v.takesOut !== 'nothing') {
      const copy = pictures.takePicture(moment.width, moment.height);
      copy.data.set(moment.data);
      take(copy);
      takeOut(copy, v.takesOut);
    }
    if (v.match > 0) take(matched(source, v, pictures));
    const layer = drawMoving(source, forward, moving, width, height, pictures);
    take(moment);
    if (v.strength === 1) return { layer };
    const cover = Math.min(1, v.strength),
      d = layer.data;
    for (let i = 0; i < d.length; i += 4) {
      if (d[i + 3] === 0 && d[i] === 0 && d[i + 1] === 0 && d[i + 2] === 0) continue;
      d[i]! *= v.strength;
      d[i + 1]! *= v.strength;
      d[i + 2]! *= v.strength;
      d[i + 3]! *= cover;
    }
    return { layer };
  },
  carried: (v) => v.carried,
  outline: (v, sizes) => outlineOf(v, sizes),
  handles: [
    { shape: 'placed', sizes: 'size' },
    { shape: 'point', moves: 'topLeft' },
    { shape: 'point', moves: 'topRight' },
    { shape: 'point', moves: 'bottomRight' },
    { shape: 'point', moves: 'bottomLeft' },
  ],
  checks: [
    {
      id: 'no-clip',
      find: ({ element: clip, name }) =>
        clip ? null : { text: `${name} has no clip to show.`, fix: 'Choose a clip under Shows, or drop one on the picture.' },
    },
  ],
});
