import { clamp, exp, sin, cos, radians } from '../image/exactMath';
import type { Pictures } from '../image/arena';
import { withAddresses } from '../image/kernelCall';
import { hash, uniform } from '../image/random';
import type { Picture, Plane } from '../image/picture';
import { layLattice } from './lattice';

const LANES = ['x', 'y', 'vx', 'vy', 'age', 'life', 'red', 'green', 'blue'] as const;
type Lane = (typeof LANES)[number];

/**
 * Particles as a structure of arrays, older ones first. Positions in whole-shot pixels, speeds in pixels a frame, age in frames. Everything
 * random about one comes from (seed, id, channel). All arrays lie one after another in `block`, each `stride` long (a multiple of 4), so that
 * they go to the kernels and back in one piece.
 */
export interface Flakes extends Readonly<Record<Lane, Float32Array<ArrayBufferLike>>> {
  readonly count: number;
  readonly stride: number;
  readonly id: Uint32Array<ArrayBufferLike>;
  readonly block: Float32Array<ArrayBufferLike>;
  /** Where the block lies in the kernels' memory; undefined where it is kept outside of it. */
  readonly address?: number;
}

const strideOf = (count: number): number => (count + 3) & ~3;
/** Numbers as they are stored: some ids would be no numbers as floats and could change on the way. */
const wholes = (data: Float32Array<ArrayBufferLike>) => new Uint32Array(data.buffer, data.byteOffset, data.length);

/** Particles without values yet. What fills up the last group of four has a life of 1, so that nothing divides by zero. */
export function newFlakes(count: number): Flakes {
  const flakes = flakesIn(new Float32Array(strideOf(count) * (LANES.length + 1)), count);
  flakes.life.fill(1, count);
  return flakes;
}
/** Particles over a block that is there. */
function flakesIn(block: Float32Array<ArrayBufferLike>, count: number, address?: number): Flakes {
  const stride = strideOf(count),
    id = wholes(block).subarray(0, stride),
    lanes = Object.fromEntries(LANES.map((lane, i) => [lane, block.subarray((i + 1) * stride, (i + 2) * stride)])) as Record<
      Lane,
      Float32Array
    >;
  return { count, stride, id, block, address, ...lanes };
}
export const flakesBytes = (flakes: Flakes): number => flakes.block.byteLength;

/** Numbers at the end of a packed plane: how many particles there are, as a whole number, and three that fill up the group. */
const TAIL = 4;
/** A plane for particles: all lanes, and how many there are. */
function planeFor(count: number, pictures: Pictures): Plane {
  const plane = pictures.takePlane(strideOf(count) * (LANES.length + 1) + TAIL, 1);
  wholes(plane.data).fill(0, plane.data.length - TAIL);
  wholes(plane.data)[plane.data.length - TAIL] = count;
  return plane;
}
/** No particles, as a plane. */
export const noFlakes = (): Plane => ({ kind: 'plane', width: TAIL, height: 1, data: new Float32Array(TAIL) });
/**
 * Particles as one plane, which is remembered and handed from frame to frame as pictures are, without a copy: to copy the 60,000 of a usual shot into
 * memory that is new each time took 3 ms a frame.
 */
export function packFlakes(flakes: Flakes, pictures: Pictures): Plane {
  const plane = planeFor(flakes.count, pictures);
  wholes(plane.data).set(wholes(flakes.block));
  return plane;
}
/** The particles of a plane of packFlakes or moveOn. */
export function unpackFlakes(plane: Plane): Flakes {
  const end = plane.data.length - TAIL;
  return flakesIn(plane.data.subarray(0, end), wholes(plane.data)[end]!, plane.address);
}

/** Where lanes of a block in the kernels' memory begin: they lie `4 stride` bytes apart, ids first. */
export const laneAddress =
  (block: number, stride: number) =>
  (lane: Lane | 'id'): number =>
    block + (lane === 'id' ? 0 : LANES.indexOf(lane) + 1) * stride * 4;

/** The listed particles of a block (as kernels list them) in a plane of their own, with room for `more` after them. */
export function gathered(block: number, stride: number, list: Plane, n: number, pictures: Pictures, more = 0): Plane {
  const to = planeFor(n + more, pictures);
  pictures.run('gatherLanes', LANES.length + 1, block, stride, list.address!, n, to.address!, strideOf(n + more));
  return to;
}

/** Runs `work` with the address of the particles in the kernels' memory; they are to be read only. */
export function withFlakes<R>(flakes: Flakes, pictures: Pictures, work: (block: number) => R): R {
  if (flakes.address !== undefined) return work(flakes.address);
  const block = copyIn(flakes, pictures),
    result = work(block.address!);
  pictures.give(block);
  return result;
}
function copyIn(flakes: Flakes, pictures: Pictures): Plane {
  const block = pictures.takePlane(Math.max(4, flakes.block.length), 1);
  wholes(block.data).set(wholes(flakes.block));
  return block;
}

/** Cells with less of the matte give no births. */
const LEAST = 0.05;
/** Side of a birth cell in whole-shot pixels; matte and colours are read at a quarter of the size, one pixel a cell. */
export const CELL = 4;

export interface BirthOptions {
  seed: number;
  frame: number;
  /** Particles for each 100 square pixels that vanish. */
  density: number;
  /** Order reached at the frame before and at this one; nothing is born when it runs back. */
  reached: [number, number];
  /** Orders outside of which no cell can be crossed in this frame. */
  span: readonly [number, number];
  life: number;
  lifeVariation: number;
  kick: number;
  /**
   * Births lie between the frame before and this one, each at a moment of its own; all at this frame where it is not given. `moved` is how far what is
   * at a place (whole-shot pixels) came in that time; a share of that speed is kept.
   */
  between?: { moved(x: number, y: number): readonly [number, number]; keeps: number };
}

/**
 * Births where the order is crossed, cell by cell (matte, order and colours have a pixel for each): each holds floor(expected + u) new particles, the expected number being the
 * density times the covered area that vanishes in this frame. So totals do not depend on how fast the front moves, and a change
 * of the density or the matte leaves the other particles as they were.
 */
export function bornAt(matte: Plane, order: Plane, colours: Picture, options: BirthOptions): Flakes {
  const {
      seed,
      frame,
      reached: [before, now],
      span: [low, high],
      density,
    } = options,
    list: number[] = [],
    { width, height } = matte,
    m = matte.data,
    o = order.data;
  if (!(now > before)) return newFlakes(0);
  for (let cy = 0, cell = 0; cy < height; cy++)
    for (let cx = 0; cx < width; cx++, cell++) {
      if (m[cell]! < LEAST || o[cell]! < low || o[cell]! > high) continue;
      // Only cells of the body have an order that means something.
      const l = cx > 0 && m[cell - 1]! >= LEAST ? 1 : 0,
        r = cx + 1 < width && m[cell + 1]! >= LEAST ? 1 : 0,
        u = cy > 0 && m[cell - width]! >= LEAST ? width : 0,
        d = cy + 1 < height && m[cell + width]! >= LEAST ? width : 0;
      // The front crosses a cell over the order that the cell spans.
      const slope = Math.max(
        1e-5,
        Math.abs(o[cell + r]! - o[cell - l]!) / Math.max(1, l + r),
        Math.abs(o[cell + d]! - o[cell - u]!) / Math.max(1, (u > 0 ? 1 : 0) + (d > 0 ? 1 : 0)),
      );
      const share = clamp((now - o[cell]!) / slope + 0.5, 0, 1) - clamp((before - o[cell]!) / slope + 0.5, 0, 1);
      if (share <= 0) continue;
      const born = Math.floor((share * m[cell]! * density * CELL * CELL) / 100 + uniform(seed, cell, frame, 1));
      for (let k = 0; k < born; k++) list.push(cell, k);
    }
  const flakes = newFlakes(list.length / 2),
    c = colours.data;
  for (let i = 0; i < flakes.count; i++) {
    const cell = list[2 * i]!,
      id = hash(cell, frame, list[2 * i + 1]!, 7),
      r = (channel: number) => uniform(seed, id, channel);
    flakes.id[i] = id;
    flakes.x[i] = ((cell % width) + r(2)) * CELL;
    flakes.y[i] = (Math.floor(cell / width) + r(3)) * CELL;
    const angle = r(4) * 6.283185307179586,
      speed = options.kick * Math.sqrt(r(5));
    flakes.vx[i] = speed * cos(angle);
    flakes.vy[i] = speed * sin(angle);
    if (options.between) {
      // It left the body somewhat earlier, where that place was then, and has flown since.
      const { moved, keeps } = options.between,
        [mx, my] = moved(flakes.x[i]!, flakes.y[i]!),
        old = r(7);
      flakes.vx[i]! += keeps * mx;
      flakes.vy[i]! += keeps * my;
      flakes.x[i]! += old * (flakes.vx[i]! - mx);
      flakes.y[i]! += old * (flakes.vy[i]! - my);
      flakes.age[i] = old;
    }
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
  /** How strongly it is pulled down: 1 is as on the ground, below 0 it rises. */
  gravity?: number;
  /** How much of the turbulence is level and how much upright; 1 where nothing is said. */
  level?: number;
  upright?: number;
  /** A number 0..1 for each particle, by which the turbulence has it. */
  stirred?: Float32Array;
  /** A number for each particle, by which its fall is multiplied. */
  weighs?: Float32Array;
  /** Frames after its birth over which the turbulence takes hold of a particle, so that swirls grow with age; 0 is at once. */
  onset?: number;
  /** Size of the eddies in metres, and how fast they change, per second. */
  eddy: number;
  churn: number;
  /** Frames that a flake clings to the body before the air has it. */
  cling: number;
  /** Where flakes come to lie, whole-shot pixels from the top, within `band` before and behind it; for good (`stays`), or to age slowly. None where it is not given. */
  ground?: { y: number; band: number; stays: boolean } | null;
}

const GRAVITY = 9.81;

/**
 * One frame later, in two half steps; the dead are left out. A flake is light: drag pulls it to the air's speed plus its settling
 * speed, at the rate g / settle (so it settles as real weight does: v(t) = vs (1 - exp(-g t / vs))). The step is the exact
 * solution for air that stands still over half a frame. Those that are `born` now follow after the older ones, which keeps the order of drawing the
 * same however a frame was reached. Turbulence is the curl of a noise, so that nothing gathers or thins out.
 */
export function moveFlakes(flakes: Flakes, options: AirOptions, pictures: Pictures, born: Flakes | null = null): Flakes {
  if (!flakes.count) return born ?? flakes;
  const moved = moveBlock(flakes, options, pictures, born),
    out = unpackFlakes({ kind: 'plane', width: moved.width, height: 1, data: moved.data.slice() });
  pictures.give(moved);
  return out;
}
/** As moveFlakes, from one plane to the next. */
export function moveOn(plane: Plane, options: AirOptions, pictures: Pictures, born: Flakes | null = null): Plane {
  const flakes = unpackFlakes(plane);
  if (flakes.count) return moveBlock(flakes, options, pictures, born);
  return born ? packFlakes(born, pictures) : plane;
}

function moveBlock(flakes: Flakes, options: AirOptions, pictures: Pictures, born: Flakes | null): Plane {
  const { seed, pixelsPerMetre, framesPerSecond, frame, churn } = options,
    direction = radians(options.windDirection),
    settle = Math.max(0.02, options.settle),
    eddy = 1 / Math.max(1, options.eddy * pixelsPerMetre),
    params = pictures.takePlane(20, 1);
  params.data.set([
    cos(direction) * options.wind,
    sin(direction) * options.wind,
    options.turbulence,
    settle * (options.gravity ?? 1),
    pixelsPerMetre / framesPerSecond,
    exp((-GRAVITY / settle / framesPerSecond) * 0.5),
    eddy,
    (frame / framesPerSecond) * churn,
    ((frame + 0.5) / framesPerSecond) * churn,
    options.cling,
    seed,
    options.level ?? 1,
    options.upright ?? 1,
    ...(options.ground ? [options.ground.y, options.ground.band, options.ground.stays ? 2 : 1] : [0, 0, 0]),
    options.onset ? 1 / options.onset : 0,
  ]);
  const ofEach = (values: Float32Array | undefined) => {
      const plane = values ? pictures.takePlane(flakes.stride, 1) : null;
      plane?.data.set(values!.subarray(0, flakes.stride));
      return plane;
    },
    stirred = ofEach(options.stirred),
    weighs = ofEach(options.weighs);
  const block = copyIn(flakes, pictures),
    at = laneAddress(block.address!, flakes.stride),
    lattice = options.turbulence ? layLattice(at('x'), at('y'), flakes.stride, eddy, params, pictures) : null;
  withAddresses(pictures, [params], (given) =>
    pictures.run(
      'moveFlakes',
      flakes.stride >> 2,
      given!,
      lattice?.address ?? 0,
      at('id'),
      at('x'),
      at('y'),
      at('vx'),
      at('vy'),
      at('age'),
      stirred?.address ?? 0,
      weighs?.address ?? 0,
    ),
  );
  const moved = survivors(block.address!, flakes, born, pictures);
  for (const working of [params, block, lattice, stirred, weighs]) if (working) pictures.give(working);
  return moved;
}

/** The particles of a block in the arena whose life is not over, in their order, and those that were born after them. */
function survivors(block: number, { count, stride }: Flakes, born: Flakes | null, pictures: Pictures): Plane {
  const living = pictures.takePlane(count + 1, 1),
    lane = laneAddress(block, stride),
    n = pictures.kernels.findLiving(lane('age'), lane('life'), count, living.address!),
    more = born?.count ?? 0,
    all = gathered(block, stride, living, n, pictures, more),
    to = wholes(all.data),
    toStride = strideOf(n + more);
  for (let k = 0; k <= LANES.length; k++) {
    const end = k * toStride + n;
    if (born) to.set(wholes(born.block).subarray(k * born.stride, k * born.stride + more), end);
    to.fill(0, end + more, (k + 1) * toStride);
  }
  unpackFlakes(all).life.fill(1, n + more);
  pictures.give(living);
  return all;
}
