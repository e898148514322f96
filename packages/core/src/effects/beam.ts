import { clamp, exp, smoothstep } from '../image/exactMath';
import { noise2 } from '../image/noise';
import type { Picture, Plane } from '../image/picture';
import { fallOff } from './body';
import { aimSuggested, endsOf, fromToChecks } from './fromTo';
import { param } from '../params/describe';
import { effect, type Canvas } from './describe';
import { beamWay, END, strandsOf, wave, wayLength, type Way } from './beamWay';
import { recipes } from './recipes/beam';
import { strokeLight } from './strokes';
import { surroundParam, throwsNothing, thrownParams } from './surroundings';

/**
 * How far the beam's head has come and its tail has followed, as shares of the way. With a travel time both go at a steady speed from the row's
 * first frame: the head arrives after `travel` frames, the tail sets out after `stays`; without one the shares say it.
 */
export function beamReach(
  v: { travel: number; stays: number; head: number; tail: number },
  frameInRow: number,
): { head: number; tail: number } {
  if (v.travel <= 0) return { head: v.head, tail: v.tail };
  return {
    head: clamp((frameInRow + 1) / v.travel, 0, 1),
    tail: v.stays > 0 ? clamp((frameInRow - v.stays) / v.travel, 0, 1) : 0,
  };
}

const glowing = (a: number): number => fallOff(a * a);

/** A beam of light from one mount to another, or to a place: a core in a halo, that travels, and strikes. */
export const beam = effect({
  type: 'beam',
  version: 3,
  // Up to 1 it was blunt where it began, and its halo as wide all along; up to 2 it lit nothing, and ended in one piece.
  upgrade: ({ values, curves }, version) => ({
    values: { ...values, ...(version < 2 ? { narrow: 0, breath: 0 } : {}), ...throwsNothing, surround: 0, fray: 0 },
    curves,
  }),
  title: 'Beam',
  summary: 'Light from one mount to another, or to a place: it travels there, strikes, and its tail follows.',
  recipes,
  shown: { frame: 1074, on: 'lantern', values: { to: 'a place', place: [-330, -20] } },
  lanes: ['foreground', 'front', 'behind', 'background', 'whole'],
  light: true,
  throws: (v) => v,
  facts: ['frame', 'frameInRow'],
  origin: 'middle',
  happens: true,
  suggest: aimSuggested,
  params: {
    to: param.choice({ default: 'what it aims at', of: ['what it aims at', 'a place'], title: 'Ends at' }),
    start: param.point({ default: [0, 0], title: 'Start', help: 'Where the beam begins, px from what it hangs on.' }),
    end: param.point({
      default: [0, 0],
      title: 'End',
      help: 'Where the beam ends, px from what it aims at.',
      when: { param: 'to', is: ['what it aims at'] },
    }),
    place: param.point({
      default: [320, -90],
      title: 'End place',
      help: 'Where the beam ends, px from what it hangs on.',
      when: { param: 'to', is: ['a place'] },
    }),
    goes: param.choice({
      default: 'its way',
      of: ['its way', 'by a point'],
      title: 'Path',
      help: 'Direct, or by way of a point.',
    }),
    via: param.point({
      default: [160, -140],
      title: 'Path point',
      help: 'Point on the path, px from what it hangs on.',
      when: { param: 'goes', is: ['by a point'] },
    }),
    bend: param.length({
      default: 0,
      title: 'Bend',
      range: [-2000, 2000],
      help: 'Distance by which the middle bows off the straight line, px.',
      rare: true,
    }),
    core: param.length({
      default: 5,
      title: 'Core width',
      range: [0, 200],
      step: 0.5,
      help: 'Width of the bright core, px.',
      group: 'Light',
    }),
    coreColour: param.colour({ default: '#fff1d6', title: 'Core colour', group: 'Light' }),
    soft: param.share({ default: 55, title: 'Core softness', help: 'Softness of the edge of the core.', group: 'Light', rare: true }),
    halo: param.length({ default: 64, title: 'Halo width', range: [0, 800], help: 'Width of the halo, px.', group: 'Light' }),
    haloColour: param.colour({ default: '#ffac4e', title: 'Halo colour', group: 'Light' }),
    haloStrength: param.share({ default: 55, title: 'Halo strength', range: [0, 400], group: 'Light' }),
    strength: param.share({ default: 100, title: 'Strength', range: [0, 1000], group: 'Light' }),
    taper: param.share({
      default: 25,
      title: 'Taper',
      range: [-100, 100],
      help: 'Narrowing towards the end, %; below 0 towards the start.',
      group: 'Light',
    }),
    narrow: param.share({
      default: 14,
      title: 'Pointed start',
      help: 'Part of the path over which it widens from a point where it begins, %.',
      group: 'Light',
    }),
    breath: param.share({
      default: 40,
      title: 'Halo variation',
      help: 'Share by which the halo thins and fades here and there along the path, %; it drifts over time.',
      group: 'Light',
    }),
    travel: param.number({
      default: 8,
      title: 'Travel time',
      unit: 'frames',
      range: [0, 400],
      step: 1,
      help: 'Frames until the head arrives; 0 = Head and Tail say where they are.',
      group: 'Travel',
      curve: false,
    }),
    stays: param.number({
      default: 0,
      title: 'Tail delay',
      unit: 'frames',
      range: [0, 2000],
      step: 1,
      help: 'Frames until the tail sets out; 0 = never.',
      group: 'Travel',
      curve: false,
    }),
    head: param.share({
      default: 100,
      title: 'Head',
      help: 'Position of the head, % of the path; without a travel time.',
      group: 'Travel',
      rare: true,
    }),
    tail: param.share({
      default: 0,
      title: 'Tail',
      help: 'Position of the tail, % of the path; without a travel time.',
      group: 'Travel',
      rare: true,
    }),
    impact: param.length({
      default: 90,
      title: 'Impact radius',
      range: [0, 1200],
      help: 'Radius of the light where the beam strikes, px; 0 = none.',
      group: 'Impact',
    }),
    impactStrength: param.share({ default: 90, title: 'Impact strength', range: [0, 1000], group: 'Impact' }),
    fray: param.share({
      default: 50,
      title: 'Fraying',
      help: 'Strength of the strands into which it parts where it strikes, %.',
      group: 'Impact',
    }),
    passes: param.choice({
      default: 'as its lane stands',
      of: ['as its lane stands', 'its end behind', 'its beginning behind'],
      title: 'Depth',
      help: 'The beam follows its lane, or one of its ends lies behind the subject.',
      group: 'Depth',
    }),
    crosses: param.share({
      default: 50,
      title: 'Crossing',
      help: 'Position at which the beam passes the subject, % of the path.',
      group: 'Depth',
      when: { param: 'passes', is: ['its end behind', 'its beginning behind'] },
    }),
    flutter: param.length({
      default: 1.5,
      title: 'Flutter',
      range: [0, 200],
      step: 0.5,
      help: 'Distance by which the beam shakes sideways, px.',
      group: 'Unrest',
      rare: true,
    }),
    flicker: param.share({ default: 18, title: 'Flicker', group: 'Unrest', rare: true }),
    seed: param.seed({ default: 2, title: 'Seed', group: 'Unrest', rare: true }),
    ...surroundParam(50),
    ...thrownParams({ onSubject: 100, onGround: 60, inAir: 0 }),
  },
  inputs: {
    mount: { kind: 'mount', optional: true, title: 'Mount' },
    aim: { kind: 'aim', optional: true, title: 'Aims at' },
    matte: { kind: 'matte', optional: true, title: 'Subject' },
  },
  without: (v) => (v.passes === 'as its lane stands' ? ['matte'] : []),
  idle: (v) => v.strength <= 0 || (v.travel <= 0 && v.head <= v.tail),
  render(draw, v, { mount, aim, matte }) {
    const { pictures, width, height } = draw,
      ends = endsOf(v, mount, aim),
      { head, tail } = beamReach(v, draw.frameInRow);
    if (!ends || head <= tail) return {};
    const { begin, finish, grown, grownThere } = ends,
      look = { ...v, core: v.core * grown, halo: v.halo * grown, drifts: DRIFT * draw.frame },
      bend = v.goes === 'by a point' ? mount.toPicture(v.via) : v.bend * grown,
      way = beamWay(begin, finish, bend, v.flutter * grown, draw.frame, v.seed),
      power = v.strength * (1 - 0.5 * v.flicker + 0.5 * v.flicker * wave(0.5, draw.frame * 2.7, v.seed + 9));
    const light = pictures.takePicture(width, height);
    pictures.run('clear', height, light.address!, width * 4);
    drawWay(light.data, way, head, tail, look, power, draw);
    // Brightest when it strikes, then steady while it lasts.
    const struck = v.travel > 0 ? draw.frameInRow + 1 - v.travel : head >= 1 ? 12 : -1;
    if (struck >= 0 && tail < 1 && v.impact > 0)
      drawImpact(light.data, finish, v.impact * grownThere, v.impactStrength * power * (0.55 + 0.9 * exp(-struck / 3.5)), v, draw);
    if (struck >= 0 && tail < END && v.fray > 0)
      strokeLight(
        light,
        strandsOf(way, v.core * grownThere, 1.8 * v.fray * power, draw.frame, v.seed),
        // Thin light is coloured: in white it would be grey in its own halo.
        v.coreColour.map((c, i) => 0.5 * (c + v.haloColour[i]!)) as unknown as typeof v.coreColour,
      );
    if (matte && v.passes !== 'as its lane stands') holdBehind(light, matte, begin, finish, v.crosses, v.passes === 'its end behind');
    return { light };
  },
  checks: fromToChecks,
  handles: [
    { shape: 'point', moves: 'start' },
    { shape: 'point', moves: 'place' },
    { shape: 'point', moves: 'via' },
  ],
});

/** Lobes of the halo's breath that pass a place in a frame, and the length of one, halo widths. */
const DRIFT = 0.12,
  LOBE = 1.7;
/** The width of the tip of a pointed start. */
const TIP = 0.12;
/** Places along a way at which its shape is worked out: finer than its pixels. */
const PLACES = 2048;
/**
 * How a beam is shaped along its way, from place to place: how far it has widened from its point, 0..1, and by how much its halo is narrower and
 * fainter there than at its widest. Worked out once a picture: noise for every pixel cost six times the rest.
 */
function alongWay(v: Look, long: number): { begins: Float64Array; breath: Float64Array } {
  const begins = new Float64Array(PLACES).fill(1),
    breath = new Float64Array(PLACES),
    lobes = long / Math.max(1, LOBE * v.halo);
  for (let k = 0; k < PLACES; k++) {
    const along = k / (PLACES - 1);
    if (v.narrow > 0) begins[k] = TIP + (1 - TIP) * smoothstep(0, v.narrow, along);
    if (v.breath > 0) breath[k] = -v.breath * noise2(along * lobes - v.drifts, 0.5, v.seed + 15);
  }
  return { begins, breath };
}

type Look = {
  core: number;
  coreColour: readonly [number, number, number];
  soft: number;
  halo: number;
  haloColour: readonly [number, number, number];
  haloStrength: number;
  taper: number;
  narrow: number;
  breath: number;
  /** How far its breath has drifted along, in lobes. */
  drifts: number;
  seed: number;
};

/** Lays the light of the part between tail and head into `out`; where pieces of the way meet, the stronger one counts. */
function drawWay(
  out: Float32Array<ArrayBufferLike>,
  way: Way,
  head: number,
  tail: number,
  v: Look,
  power: number,
  { width, height }: Canvas,
): void {
  // Out of the object once: it is read for every pixel.
  const { core: coreWidth, soft, halo, haloStrength, taper, narrow, coreColour, haloColour } = v,
    pieces = way.x.length - 1,
    { begins, breath } = alongWay(v, wayLength(way)),
    far = Math.max(halo * 1.1, coreWidth * (0.5 + soft)) + 1;
  for (let i = 0; i < pieces; i++) {
    const ax = way.x[i]!,
      ay = way.y[i]!,
      dx = way.x[i + 1]! - ax,
      dy = way.y[i + 1]! - ay,
      l2 = dx * dx + dy * dy,
      from = clamp(tail * pieces - i, 0, 1),
      to = clamp(head * pieces - i, 0, 1);
    if (to <= from) continue;
    const x0 = Math.max(0, Math.floor(Math.min(ax, ax + dx) - far)),
      x1 = Math.min(width, Math.ceil(Math.max(ax, ax + dx) + far)),
      y0 = Math.max(0, Math.floor(Math.min(ay, ay + dy) - far)),
      y1 = Math.min(height, Math.ceil(Math.max(ay, ay + dy) + far));
    const joint = (0.3 * far) / Math.sqrt(Math.max(1, l2)),
      follows = i > 0 && tail * pieces < i,
      goesOn = i < pieces - 1 && head * pieces > i + 1;
    for (let y = y0; y < y1; y++) {
      const py = y + 0.5 - ay;
      for (let x = x0; x < x1; x++) {
        const px = x + 0.5 - ax,
          along0 = l2 > 0 ? (px * dx + py * dy) / l2 : from;
        // What lies beyond a joint is the next piece's, but for the outside of a bend.
        if ((along0 < -joint && follows) || (along0 > 1 + joint && goesOn)) continue;
        const s = clamp(along0, from, to),
          ex = px - dx * s,
          ey = py - dy * s,
          d2 = ex * ex + ey * ey;
        if (d2 > far * far) continue;
        const d = Math.sqrt(d2),
          along = (i + s) / pieces,
          at = Math.round(along * (PLACES - 1)),
          thick = (taper >= 0 ? 1 - taper * along : 1 + taper * (1 - along)) * begins[at]!,
          half = (coreWidth * thick) / 2,
          // A core thinner than a pixel keeps its light by being fainter.
          wide = Math.max(0.5, half),
          core = (half / wide) * smoothstep(wide * (1 + soft) + 0.5, wide * (1 - soft) - 0.5, d) * 1.6,
          spread = halo * 0.5 * (0.35 + 0.65 * thick) * (1 + breath[at]!) * (narrow > 0 ? 0.3 + 0.7 * begins[at]! : 1),
          veil =
            spread > 0
              ? haloStrength *
                (1 + 0.6 * breath[at]!) *
                (0.75 * glowing(d / spread) + 0.25 * glowing(d / (spread * 0.4))) *
                smoothstep(far, far * 0.8, d)
              : 0;
        const o = (y * width + x) * 4;
        for (let c = 0; c < 3; c++) {
          const value = power * (core * coreColour[c]! + veil * haloColour[c]!);
          if (value > out[o + c]!) out[o + c] = value;
        }
      }
    }
  }
}

/** Takes away what lies behind the subject of a beam that passes it: beyond the place where it crosses (or before it), measured along the straight way. */
function holdBehind(
  light: Picture,
  matte: Plane,
  begin: readonly [number, number],
  finish: readonly [number, number],
  crosses: number,
  end: boolean,
): void {
  const { width, height, data } = light,
    dx = finish[0] - begin[0],
    dy = finish[1] - begin[1],
    part = 1 / Math.max(1e-6, dx * dx + dy * dy);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p++) {
      const m = matte.data[p]!;
      if (m <= 0) continue;
      const t = ((x + 0.5 - begin[0]) * dx + (y + 0.5 - begin[1]) * dy) * part,
        beyond = smoothstep(crosses - 0.02, crosses + 0.02, t),
        left = 1 - Math.min(1, m) * (end ? beyond : 1 - beyond),
        i = p * 4;
      data[i] = data[i]! * left;
      data[i + 1] = data[i + 1]! * left;
      data[i + 2] = data[i + 2]! * left;
    }
}

/** Light where it strikes: a hot middle and a wide veil, gone at the radius. */
function drawImpact(
  out: Float32Array<ArrayBufferLike>,
  [cx, cy]: readonly [number, number],
  radius: number,
  power: number,
  v: Pick<Look, 'coreColour' | 'haloColour'>,
  { width, height }: Canvas,
): void {
  for (let y = Math.max(0, Math.floor(cy - radius)); y < Math.min(height, cy + radius); y++)
    for (let x = Math.max(0, Math.floor(cx - radius)); x < Math.min(width, cx + radius); x++) {
      const dx = x + 0.5 - cx,
        dy = y + 0.5 - cy,
        d = Math.sqrt(dx * dx + dy * dy) / radius;
      if (d >= 1) continue;
      const fade = 1 - smoothstep(0.6, 1, d),
        hot = 1.5 * glowing(d / 0.1) * fade,
        veil = (0.55 * glowing(d / 0.3) + 0.22 * glowing(d / 0.55)) * fade,
        o = (y * width + x) * 4;
      for (let c = 0; c < 3; c++) out[o + c]! += power * (hot * v.coreColour[c]! + veil * v.haloColour[c]!);
    }
}
