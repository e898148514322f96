import { clamp, exp, sin, cos, radians } from '../image/exactMath';
import { curl2 } from '../image/noise';
import { hash, uniform } from '../image/random';
import type { Picture, Plane } from '../image/picture';

/**
 * Particles as a structure of arrays, sorted by id. Positions in whole-shot pixels, speeds in pixels a frame, age in frames.
 * Everything random about one comes from (seed, id, channel).
 */
export interface Flakes {
  count: number;
  id: Uint32Array;
  x: Float32Array;
  y: Float32Array;
  vx: Float32Array;
  vy: Float32Array;
  age: Float32Array;
  life: Float32Array;
  red: Float32Array;
  green: Float32Array;
  blue: Float32Array;
}

export function newFlakes(capacity: number, count = 0): Flakes {
  const f = () => new Float32Array(capacity);
  return { count, id: new Uint32Array(capacity), x: f(), y: f(), vx: f(), vy: f(), age: f(), life: f(), red: f(), green: f(), blue: f() };
}
export const flakesBytes = (flakes: Flakes): number => flakes.id.length * 44;

/** Side of a birth cell in whole-shot pixels; matte and colours are read at a quarter of the size, one pixel a cell. */
export const CELL = 4;

export interface BirthOptions {
  seed: number;
  frame: number;
  /** Particles for each 100 square pixels that vanish. */
  density: number;
  /** Order reached at the frame before and at this one; nothing is born when it runs back. */
  reached: [number, number];
  /** Order at whole-shot pixels. */
  order(x: number, y: number): number;
  life: number;
  lifeVariation: number;
  kick: number;
}

/**
 * Births where the order is crossed, cell by cell: each holds floor(expected + u) new particles, the expected number being the
 * density times the covered area that vanishes in this frame. So totals do not depend on how fast the front moves, and a change
 * of the density or the matte leaves the other particles as they were.
 */
export function bornAt(matte: Plane, colours: Picture, options: BirthOptions): Flakes {
  const {
      seed,
      frame,
      reached: [before, now],
      order,
      density,
    } = options,
    list: number[] = [];
  const cells = matte.width;
  if (!(now > before)) return newFlakes(0);
  for (let cy = 0; cy < matte.height; cy++)
    for (let cx = 0; cx < cells; cx++) {
      const m = matte.data[cy * cells + cx]!;
      if (m < 0.05) continue;
      const x = (cx + 0.5) * CELL,
        y = (cy + 0.5) * CELL,
        o = order(x, y);
      // The front crosses a cell over the order that the cell spans.
      const slope = Math.max(
        1e-5,
        Math.abs(order(x + CELL / 2, y) - order(x - CELL / 2, y)),
        Math.abs(order(x, y + CELL / 2) - order(x, y - CELL / 2)),
      );
      const share = clamp((now - o) / slope + 0.5, 0, 1) - clamp((before - o) / slope + 0.5, 0, 1);
      if (share <= 0) continue;
      const cell = cy * cells + cx,
        born = Math.floor((share * m * density * CELL * CELL) / 100 + uniform(seed, cell, frame, 1));
      for (let k = 0; k < born; k++) list.push(cell, k);
    }
  const flakes = newFlakes(list.length / 2, list.length / 2),
    c = colours.data;
  for (let i = 0; i < flakes.count; i++) {
    const cell = list[2 * i]!,
      id = hash(cell, frame, list[2 * i + 1]!, 7),
      r = (channel: number) => uniform(seed, id, channel);
    flakes.id[i] = id;
    flakes.x[i] = ((cell % cells) + r(2)) * CELL;
    flakes.y[i] = (Math.floor(cell / cells) + r(3)) * CELL;
    const angle = r(4) * 6.283185307179586,
      speed = options.kick * Math.sqrt(r(5));
    flakes.vx[i] = speed * cos(angle);
    flakes.vy[i] = speed * sin(angle);
    flakes.age[i] = 0;
    flakes.life[i] = options.life * (1 + options.lifeVariation * (2 * r(6) - 1));
    flakes.red[i] = c[cell * 4]!;
    flakes.green[i] = c[cell * 4 + 1]!;
    flakes.blue[i] = c[cell * 4 + 2]!;
  }
  return flakes;
}

export interface AirOptions {
  seed: number;
  frame: number;
  /** Pixels a metre (from the subject's height) and frames a second, which turn real speeds into pixels a frame. */
  pixelsPerMetre: number;
  framesPerSecond: number;
  /** Metres a second: wind and where it blows to, strength of the turbulence, and the speed at which a flake settles. */
  wind: number;
  windDirection: number;
  turbulence: number;
  settle: number;
  /** Size of the eddies in metres, and how fast they change, per second. */
  eddy: number;
  churn: number;
  /** Frames that a flake clings to the body before the air has it. */
  cling: number;
}

const GRAVITY = 9.81;

/**
 * One frame later, in two half steps; the dead are left out. A flake is light: drag pulls it to the air's speed plus its settling
 * speed, at the rate g / settle (so it settles as real weight does: v(t) = vs (1 - exp(-g t / vs))). The step is the exact
 * solution for air that stands still over half a frame.
 */
export function moveFlakes(flakes: Flakes, options: AirOptions): Flakes {
  const { seed, pixelsPerMetre, framesPerSecond } = options,
    toPixels = pixelsPerMetre / framesPerSecond;
  const out = newFlakes(flakes.count),
    direction = radians(options.windDirection),
    blowX = cos(direction) * options.wind,
    blowY = sin(direction) * options.wind;
  const settle = Math.max(0.02, options.settle),
    stay = exp((-GRAVITY / settle / framesPerSecond) * 0.5),
    eddy = 1 / Math.max(1, options.eddy * pixelsPerMetre);
  let n = 0;
  for (let i = 0; i < flakes.count; i++) {
    const age = flakes.age[i]! + 1;
    if (age >= flakes.life[i]!) continue;
    const id = flakes.id[i]!,
      cling = options.cling * uniform(seed, id, 8) + 0.001;
    // Larger flakes are heavier, smaller ones are carried further.
    const heavy = 0.6 + 0.8 * uniform(seed, id, 9),
      caught = 0.62 + 0.76 * uniform(seed, id, 10);
    let x = flakes.x[i]!,
      y = flakes.y[i]!,
      vx = flakes.vx[i]!,
      vy = flakes.vy[i]!;
    for (let half = 0; half < 2; half++) {
      const now = flakes.age[i]! + half * 0.5,
        taken = clamp((now - cling) / 9, 0, 1),
        hold = taken * taken * (3 - 2 * taken);
      const z = ((options.frame + half * 0.5) / framesPerSecond) * options.churn;
      const [cx, cy] = curl2(x * eddy, y * eddy, z, seed + 11),
        [fx, fy] = curl2(x * eddy * 3.1, y * eddy * 3.1, z * 1.7, seed + 12);
      const airX = (blowX * caught + options.turbulence * (cx + 0.4 * fx)) * hold,
        airY = (blowY * caught + options.turbulence * (cy + 0.4 * fy)) * hold + settle * heavy * hold;
      const targetX = airX * toPixels,
        targetY = airY * toPixels;
      vx = targetX + (vx - targetX) * stay;
      vy = targetY + (vy - targetY) * stay;
      x += vx * 0.5;
      y += vy * 0.5;
    }
    out.id[n] = id;
    out.x[n] = x;
    out.y[n] = y;
    out.vx[n] = vx;
    out.vy[n] = vy;
    out.age[n] = age;
    out.life[n] = flakes.life[i]!;
    out.red[n] = flakes.red[i]!;
    out.green[n] = flakes.green[i]!;
    out.blue[n] = flakes.blue[i]!;
    n++;
  }
  out.count = n;
  return out;
}

/** Both together; the younger ones after the older ones, which keeps the order of drawing the same however a frame was reached. */
export function joinFlakes(a: Flakes, b: Flakes): Flakes {
  const out = newFlakes(a.count + b.count, a.count + b.count);
  for (const key of ['id', 'x', 'y', 'vx', 'vy', 'age', 'life', 'red', 'green', 'blue'] as const) {
    out[key].set(a[key].subarray(0, a.count));
    out[key].set(b[key].subarray(0, b.count), a.count);
  }
  return out;
}
