import { clamp, cos, hypot, mix, radians, sin } from '../image/exactMath';
import { noise2 } from '../image/noise';
import { hash, uniform } from '../image/random';
import type { Picture, Plane } from '../image/picture';
import { CELL, moveFlakes, newFlakes, type AirOptions, type Flakes } from '../particles';
import type { Frame } from '../motion/frame';
import type { Values } from '../params/describe';
import type { Draw } from './describe';
import { weightsOf } from './emitterAir';
import type { emitterParams } from './emitterParams';

type V = Values<typeof emitterParams>;
/** What the particles' past follows from; all else is look. */
export const past = [
  'from',
  'place',
  'reach',
  'flat',
  'lean',
  'rate',
  'burst',
  'burstEvery',
  'total',
  'life',
  'lifeVariation',
  'seed',
  'speed',
  'speedVariation',
  'direction',
  'spread',
  'outwards',
  'carries',
  'after',
  'gravity',
  'endWeight',
  'settle',
  'wind',
  'windDirection',
  'gusts',
  'turbulence',
  'onset',
  'upright',
  'stirs',
  'eddy',
  'churn',
  'pull',
  'ground',
  'lands',
  'bounce',
  'colours',
] as const;
type Past = Pick<V, (typeof past)[number]>;
type Step = Draw<'frame' | 'framesPerSecond' | 'frameInRow' | 'subjectPixels' | 'subjectMetres'>;
export interface Read {
  mount: Frame;
  smallMatte: Plane | null;
  smallPlate: Picture | null;
}
/** The particles, how many were ever born, and where the place and its mount stood one frame ago. */
export interface State {
  flakes: Flakes;
  born: number;
  at: readonly [number, number] | null;
  mount: Frame | null;
}

export const TURN = 6.283185307179586;

/** How many are born at this frame, before chance rounds it. */
export function bornNow(v: Pick<V, 'rate' | 'burst' | 'burstEvery'>, frameInRow: number, framesPerSecond: number): number {
  const bursts = frameInRow === 0 || (v.burstEvery >= 1 && frameInRow % Math.round(v.burstEvery) === 0);
  return v.rate / framesPerSecond + (bursts ? v.burst : 0);
}

/** Places of births with an id for each: by chance over the shape, or by the matte's coverage (or its edge) cell by cell. */
function births(v: Past, read: Read, draw: Step, at: readonly [number, number]): { id: number; x: number; y: number }[] {
  const expected = bornNow(v, draw.frameInRow, draw.framesPerSecond),
    out: { id: number; x: number; y: number }[] = [];
  if (v.from === 'matte area' || v.from === 'matte edge') {
    const m = read.smallMatte;
    if (!m || expected <= 0) return out;
    const { width, height, data } = m,
      weight = new Float64Array(width * height);
    let sum = 0;
    for (let y = 0, cell = 0; y < height; y++)
      for (let x = 0; x < width; x++, cell++) {
        const own = clamp(data[cell]!, 0, 1);
        if (v.from === 'matte area') weight[cell] = own;
        else if (own > 0.05) {
          const near = (dx: number, dy: number) => {
            const px = x + dx,
              py = y + dy;
            return px < 0 || py < 0 || px >= width || py >= height ? own : data[py * width + px]!;
          };
          weight[cell] = clamp(own - Math.min(near(-1, 0), near(1, 0), near(0, -1), near(0, 1)), 0, 1);
        }
        sum += weight[cell]!;
      }
    if (sum <= 0) return out;
    for (let cell = 0; cell < weight.length; cell++) {
      if (!weight[cell]) continue;
      const n = Math.floor((expected * weight[cell]!) / sum + uniform(v.seed, cell, draw.frame, 1));
      for (let k = 0; k < n; k++) {
        const id = hash(cell, draw.frame, k, 7);
        out.push({
          id,
          x: ((cell % width) + uniform(v.seed, id, 2)) * CELL,
          y: (Math.floor(cell / width) + uniform(v.seed, id, 3)) * CELL,
        });
      }
    }
    return out;
  }
  const n = Math.floor(expected + uniform(v.seed, draw.frame, 0, 1)),
    c = cos(radians(v.lean)),
    s = sin(radians(v.lean)),
    [xByU, yByU, xByV, yByV] = read.mount.slopesAt(v.place);
  for (let k = 0; k < n; k++) {
    const id = hash(k, draw.frame, 11, 7);
    let a = 0,
      b = 0;
    if (v.from === 'ellipse') {
      const r = Math.sqrt(uniform(v.seed, id, 2)) * v.reach,
        turn = uniform(v.seed, id, 3) * TURN;
      a = r * cos(turn);
      b = r * sin(turn) * (1 - v.flat);
    } else if (v.from === 'line') a = (2 * uniform(v.seed, id, 2) - 1) * v.reach;
    const along = a * c - b * s,
      across = a * s + b * c;
    out.push({ id, x: at[0] + xByU * along + xByV * across, y: at[1] + yByU * along + yByV * across });
  }
  return out;
}

/** New particles of a frame: spread over the frame's time and over the way that the place has gone in it. */
function newborn(v: Past, read: Read, draw: Step, state: State, at: readonly [number, number]): Flakes {
  let list = births(v, read, draw, at);
  if (v.total > 0) list = list.slice(0, Math.max(0, v.total - state.born));
  const out = newFlakes(list.length),
    metre = draw.subjectPixels / draw.subjectMetres / draw.framesPerSecond,
    way = state.at ? [at[0] - state.at[0], at[1] - state.at[1]] : [0, 0],
    turned = read.mount.turnAt(v.place),
    onMatte = v.from === 'matte area' || v.from === 'matte edge';
  list.forEach(({ id, x, y }, i) => {
    const r = (channel: number) => uniform(v.seed, id, channel),
      when = r(4),
      dx = x - at[0],
      dy = y - at[1],
      far = hypot(dx, dy),
      angle = radians(turned + v.direction + (r(5) - 0.5) * v.spread),
      speed = v.speed * metre * (1 + v.speedVariation * (2 * r(6) - 1));
    let ux = cos(angle),
      uy = sin(angle);
    if (v.outwards > 0 && far > 1e-6) {
      ux = mix(ux, dx / far, v.outwards);
      uy = mix(uy, dy / far, v.outwards);
    }
    const vx = ux * speed + way[0]! * v.carries,
      vy = uy * speed + way[1]! * v.carries,
      // Born somewhere between the frame before and this one; a matte is only known at this one.
      back = onMatte ? 0 : when;
    out.id[i] = id;
    out.x[i] = x - way[0]! * back + vx * when;
    out.y[i] = y - way[1]! * back + vy * when;
    out.vx[i] = vx;
    out.vy[i] = vy;
    out.age[i] = when;
    out.life[i] = Math.max(0.5, v.life * (1 + v.lifeVariation * (2 * r(7) - 1)));
    const p = read.smallPlate;
    if (p && v.colours === 'from the picture') {
      const o = (clamp(Math.floor(y / CELL), 0, p.height - 1) * p.width + clamp(Math.floor(x / CELL), 0, p.width - 1)) * 4;
      out.red[i] = p.data[o]!;
      out.green[i] = p.data[o + 1]!;
      out.blue[i] = p.data[o + 2]!;
    }
  });
  return out;
}

function air(v: Past, draw: Step): AirOptions {
  return {
    seed: v.seed,
    frame: draw.frame,
    pixelsPerMetre: draw.subjectPixels / draw.subjectMetres,
    framesPerSecond: draw.framesPerSecond,
    wind: v.wind * Math.max(0, 1 + v.gusts * (2 * noise2(draw.frame * 0.07, 0.5, v.seed + 3) - 1)),
    windDirection: v.windDirection,
    turbulence: v.turbulence,
    settle: v.settle,
    gravity: v.gravity,
    eddy: v.eddy,
    churn: v.churn,
    upright: v.upright,
    onset: v.onset,
    cling: 0,
  };
}

/** How far each particle lies outside of the body, where only those are stirred. */
function outside({ x, y, count, stride }: Flakes, v: Past, matte: Plane | null): Float32Array | undefined {
  if (v.stirs !== 'outside the body' || !matte) return undefined;
  const out = new Float32Array(stride).fill(1);
  for (let i = 0; i < count; i++) {
    const cx = Math.floor(x[i]! / CELL),
      cy = Math.floor(y[i]! / CELL);
    if (cx >= 0 && cy >= 0 && cx < matte.width && cy < matte.height) out[i] = 1 - clamp(matte.data[cy * matte.width + cx]!, 0, 1);
  }
  return out;
}

/** Least speed, pixels a frame, with which a particle springs up; and how many times what it gains in a frame by falling: less is no bounce any more. */
const DOWN = 0.6,
  GAINS = 2.6,
  GRAVITY = 9.81;
/** What a particle does that has come to the ground. @param gained by falling for a frame, pixels a frame. */
function land(f: Flakes, i: number, v: Pick<Past, 'ground' | 'lands' | 'bounce'>, gained: number): void {
  if (v.lands === 'vanishes') {
    // Its life is over: it is drawn no more, and left out of the next frame.
    f.life[i] = Math.min(f.life[i]!, f.age[i]!);
    return;
  }
  const up = v.lands === 'bounces' ? v.bounce * f.vy[i]! : 0;
  if (up > Math.max(DOWN, GAINS * v.bounce * gained)) {
    // As far above the ground as it would be below it, by what is left of its speed.
    f.y[i] = v.ground - v.bounce * (f.y[i]! - v.ground);
    f.vy[i] = -up;
    f.vx[i]! *= v.bounce;
    return;
  }
  f.y[i] = v.ground;
  f.vx[i] = 0;
  f.vy[i] = 0;
}

/** What pulls, carries and stops particles after the air has moved them; in place. */
function steer(f: Flakes, first: number, v: Past, draw: Step, at: readonly [number, number], from: Frame | null, to: Frame): void {
  const pull = (v.pull * draw.subjectPixels) / draw.subjectMetres / (draw.framesPerSecond * draw.framesPerSecond),
    rides = from !== null && v.after === 'rides on the mount',
    gained = (v.gravity * GRAVITY * draw.subjectPixels) / draw.subjectMetres / (draw.framesPerSecond * draw.framesPerSecond);
  if (!pull && !rides && !(v.ground > 0)) return;
  for (let i = 0; i < first; i++) {
    if (rides) {
      [f.x[i], f.y[i]] = to.toPicture(from.toBody([f.x[i]!, f.y[i]!])) as [number, number];
    }
    if (pull) {
      const dx = at[0] - f.x[i]!,
        dy = at[1] - f.y[i]!,
        // Softened near the middle, so that nothing is flung out of it.
        d = Math.sqrt(dx * dx + dy * dy + 16);
      f.vx[i]! += (pull * dx) / d;
      f.vy[i]! += (pull * dy) / d;
    }
    if (v.ground > 0 && f.y[i]! >= v.ground) land(f, i, v, gained);
  }
}

/** The particles one frame later: those that are born, moved by the air, and steered. */
export function frameOn(state: State, v: Past, read: Read, draw: Step): State {
  const at = read.mount.toPicture(v.place),
    born = newborn(v, read, draw, state, at),
    older = state.flakes.count > 0,
    flakes = moveFlakes(
      state.flakes,
      { ...air(v, draw), stirred: outside(state.flakes, v, read.smallMatte), weighs: weightsOf(state.flakes, v) },
      draw.pictures,
      born,
    );
  if (older) steer(flakes, flakes.count - born.count, v, draw, at, state.mount, read.mount);
  return { flakes, born: state.born + born.count, at, mount: read.mount };
}
