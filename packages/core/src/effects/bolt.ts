import { cos, exp, hypot, log, radians, sin } from '../image/exactMath';
import { hash, uniform } from '../image/random';
import { param, type Values } from '../params/describe';
import { effect } from './describe';
import { aimSuggested, endsOf, fromToChecks } from './fromTo';
import { litWithin } from './region';
import { addHalo, boxOfStrokes, strokeLight, type Stroke } from './strokes';
import { recipes } from './recipes/bolt';
import { surroundParam, throwsNothing, thrownParams } from './surroundings';

const params = {
  to: param.choice({ default: 'what it aims at', of: ['what it aims at', 'a place'], title: 'Ends at' }),
  start: param.point({ default: [0, 0], title: 'Start', help: 'Where the bolt begins, px from what it hangs on.' }),
  end: param.point({
    default: [0, 0],
    title: 'End',
    help: 'Where the bolt ends, px from what it aims at.',
    when: { param: 'to', is: ['what it aims at'] },
  }),
  place: param.point({
    default: [-60, 320],
    title: 'End place',
    help: 'Where the bolt ends, px from what it hangs on.',
    when: { param: 'to', is: ['a place'] },
  }),
  jagged: param.share({ default: 26, title: 'Jaggedness', help: 'Deviation from the straight line, % of its length.' }),
  every: param.number({
    default: 3,
    title: 'Redrawn every',
    help: 'Frames from one redraw to the next.',
    unit: 'frames',
    range: [1, 200],
    step: 1,
    curve: false,
    group: 'Time',
  }),
  shows: param.number({
    default: 2,
    title: 'Visible for',
    unit: 'frames',
    range: [1, 200],
    step: 1,
    curve: false,
    help: 'Frames after each redraw.',
    group: 'Time',
  }),
  fades: param.share({
    default: 45,
    title: 'Fade per frame',
    help: 'Loss of light from frame to frame until the next redraw.',
    group: 'Time',
  }),
  holds: param.share({
    default: 60,
    title: 'Form that holds',
    help: 'Share of its way and of its branches that stays from one redraw to the next, %.',
    group: 'Time',
    rare: true,
  }),
  afterglow: param.share({
    default: 25,
    title: 'Afterglow',
    help: 'Light that lingers on its way when it is no longer seen, until the next redraw, %.',
    group: 'Time',
  }),
  branches: param.number({
    default: 5,
    title: 'Branches',
    unit: 'branches',
    help: 'Number of branches.',
    range: [0, 30],
    step: 1,
    curve: false,
    group: 'Shape',
  }),
  branchLength: param.share({ default: 38, title: 'Branch length', help: 'Length of the branches, % of the bolt.', group: 'Shape' }),
  branchAngle: param.angle({
    default: 32,
    title: 'Branch angle',
    help: 'Angle between a branch and the bolt.',
    range: [0, 120],
    group: 'Shape',
    rare: true,
  }),
  core: param.length({
    default: 4.5,
    title: 'Core width',
    range: [0.2, 100],
    step: 0.5,
    help: 'Width of the bright core, px.',
    group: 'Light',
  }),
  taper: param.share({ default: 45, title: 'Taper', help: 'Narrowing towards the end, %.', group: 'Light', rare: true }),
  coreColour: param.colour({ default: '#f4f6ff', title: 'Core colour', group: 'Light' }),
  halo: param.length({
    default: 42,
    title: 'Halo radius',
    help: 'Radius of the halo in px, 2 × standard deviation.',
    range: [0, 600],
    group: 'Light',
  }),
  haloColour: param.colour({ default: '#7fa4ff', title: 'Halo colour', group: 'Light' }),
  haloStrength: param.share({ default: 70, title: 'Halo strength', range: [0, 600], group: 'Light' }),
  strength: param.share({ default: 170, title: 'Strength', range: [0, 1000], group: 'Light' }),
  flash: param.share({
    default: 5,
    title: 'Flash strength',
    range: [0, 200],
    help: 'Light on the whole picture at each redraw.',
    group: 'Light',
  }),
  seed: param.seed({ default: 4, title: 'Seed' }),
  ...surroundParam(50),
  ...thrownParams({ onSubject: 120, onGround: 80, inAir: 0 }),
};
type V = Values<typeof params>;

/**
 * A jagged way from a to b: the middle of each piece is moved aside by chance, again and again, each time by less.
 * @param sway how far the first middle may leave the straight way, against its length.
 */
export function jaggedWay(
  a: readonly [number, number],
  b: readonly [number, number],
  sway: number,
  levels: number,
  seed: number,
): { x: Float64Array; y: Float64Array } {
  const n = 1 << levels,
    x = new Float64Array(n + 1),
    y = new Float64Array(n + 1);
  [x[0], y[0]] = a;
  [x[n], y[n]] = b;
  for (let step = n; step > 1; step >>= 1)
    for (let i = 0; i < n; i += step) {
      const j = i + step,
        m = i + (step >> 1),
        dx = x[j]! - x[i]!,
        dy = y[j]! - y[i]!,
        off = sway * (2 * uniform(seed, m, step) - 1) * 0.62,
        along = 0.5 + 0.16 * (uniform(seed, m, step, 2) - 0.5);
      x[m] = x[i]! + dx * along - dy * off;
      y[m] = y[i]! + dy * along + dx * off;
    }
  return { x, y };
}

/** A way that stays by a share where the first one went. */
function heldWay(way: ReturnType<typeof jaggedWay>, first: ReturnType<typeof jaggedWay>, share: number): ReturnType<typeof jaggedWay> {
  if (share > 0)
    for (let i = 0; i < way.x.length; i++) {
      way.x[i]! += share * (first.x[i]! - way.x[i]!);
      way.y[i]! += share * (first.y[i]! - way.y[i]!);
    }
  return way;
}

/** Main way and branches of one drawing, in the picture's pixels. */
function strokesOf(v: V, from: readonly [number, number], to: readonly [number, number], drawing: number, scale: number): Stroke[] {
  const seed = hash(v.seed, drawing, 3),
    long = hypot(to[0] - from[0], to[1] - from[1]),
    // Pieces of about ten whole-shot pixels, so that a draft has the same way.
    levels = Math.max(3, Math.min(7, Math.round(log(Math.max(8, long / scale / 10)) * 1.4426950408889634))),
    main = heldWay(jaggedWay(from, to, v.jagged, levels, seed), jaggedWay(from, to, v.jagged, levels, hash(v.seed, 0, 3)), v.holds),
    n = main.x.length - 1,
    out: Stroke[] = [{ ...main, width: [v.core, v.core * (1 - v.taper)], power: 1 }];
  for (let k = 0; k < Math.round(v.branches); k++) {
    // A branch that holds is of the first drawing for good.
    const own = uniform(v.seed, k, 6) < v.holds ? hash(v.seed, 0, 3) : seed,
      u = (channel: number) => uniform(own, k, channel, 5),
      at = Math.floor((0.06 + 0.8 * u(1)) * n),
      next = Math.min(n, at + Math.max(1, n >> 3)),
      dx = main.x[next]! - main.x[at]!,
      dy = main.y[next]! - main.y[at]!,
      d = Math.max(1e-6, hypot(dx, dy)),
      turn = radians(v.branchAngle) * (0.5 + u(2)) * (u(3) < 0.5 ? -1 : 1),
      reach = long * v.branchLength * (0.35 + 0.65 * u(4)) * (1 - (0.6 * at) / n),
      c = cos(turn),
      s = sin(turn),
      end = [main.x[at]! + ((dx * c - dy * s) / d) * reach, main.y[at]! + ((dx * s + dy * c) / d) * reach] as const,
      way = jaggedWay([main.x[at]!, main.y[at]!], end, v.jagged * 1.2, Math.max(2, levels - 1), hash(own, k, 9)),
      wide = v.core * (1 - v.taper * (at / n)) * 0.55;
    out.push({ ...way, width: [wide, wide * 0.15], power: 0.7 });
  }
  return out;
}

const flashOf = ({ flash, haloColour: [red, green, blue] }: V): [number, number, number] => [flash * red, flash * green, flash * blue];

/** Part of the afterglow that goes in a frame, as an exponent. */
const AFTER = 0.4;

/** A forked bolt from one mount to another, or to a place, drawn anew every few frames. */
export const bolt = effect({
  type: 'bolt',
  version: 2,
  // It lit nothing, and each drawing was another one.
  upgrade: ({ values, curves }) => ({ values: { ...values, ...throwsNothing, surround: 0, holds: 0, afterglow: 0 }, curves }),
  title: 'Bolt',
  summary: 'A forked bolt from one mount to another, or to a place, drawn anew every few frames.',
  recipes,
  shown: { frame: 1067, on: 'lantern', values: { to: 'a place', place: [-150, 280] } },
  lanes: ['front', 'foreground', 'behind', 'background', 'whole'],
  sharp: true,
  light: true,
  throws: (v) => v,
  facts: ['frameInRow'],
  origin: 'middle',
  happens: true,
  suggest: aimSuggested,
  params,
  inputs: { mount: { kind: 'mount', optional: true, title: 'Mount' }, aim: { kind: 'aim', optional: true, title: 'Aims at' } },
  idle: (v, frameInRow) => v.strength <= 0 || (v.afterglow <= 0 && frameInRow % Math.max(1, Math.round(v.every)) >= Math.round(v.shows)),
  render(draw, v, { mount, aim }) {
    const { pictures, width, height, scale, frameInRow } = draw,
      every = Math.max(1, Math.round(v.every)),
      since = frameInRow % every;
    const ends = endsOf(v, mount, aim);
    const after = since - Math.round(v.shows);
    if (!ends || (after >= 0 && v.afterglow <= 0)) return {};
    const shown = v.strength * exp(-2.2 * v.fades * since),
      power = after >= 0 ? v.afterglow * v.strength * exp(-AFTER * after) : shown,
      strokes = strokesOf({ ...v, core: v.core * ends.grown }, ends.begin, ends.finish, Math.floor(frameInRow / every), scale).map((s) => ({
        ...s,
        power: s.power * power,
      })),
      halo = v.halo * ends.grown,
      light = litWithin(boxOfStrokes(strokes, draw), halo / 2, draw, (part, { x, y }) => {
        strokeLight(
          part,
          strokes.map((s) => ({ ...s, x: s.x.map((px) => px - x), y: s.y.map((py) => py - y) })),
          // What lingers is the air that it went through, in the colour of its halo.
          after >= 0 ? v.haloColour : v.coreColour,
          pictures,
        );
        addHalo(part, halo, v.haloStrength, v.haloColour, draw);
      });
    if (since === 0 && v.flash > 0) pictures.run('brighten', height, light.address!, ...flashOf(v), width);
    return { light };
  },
  checks: fromToChecks,
  handles: [
    { shape: 'point', moves: 'start' },
    { shape: 'point', moves: 'place' },
  ],
});
