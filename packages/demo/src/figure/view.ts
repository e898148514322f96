import { exactMath } from '@wraithos/core/image';
import { paint, type Look } from './paint';
import { nothing, type Solid, type Stuff } from './solid';
import { dot, unit, type V3 } from './vector';

const { exp, pow } = exactMath;

/** A camera that looks straight ahead, its lens shifted: where a place in the set is seen, in pixels. */
export interface Camera {
  focal: number;
  height: number;
  centre: readonly [number, number];
}
export const project = (c: Camera, p: V3): { x: number; y: number } => ({
  x: c.centre[0] + (c.focal * p[0]) / p[2],
  y: c.centre[1] - (c.focal * (p[1] - c.height)) / p[2],
});
/** Where the ground (y = 0) is seen at a pixel below the horizon. */
export const groundAt = (c: Camera, x: number, y: number): V3 => {
  const z = (c.focal * c.height) / Math.max(0.5, y - c.centre[1]);
  return [((x - c.centre[0]) * z) / c.focal, 0, z];
};

export interface Lamp {
  at: V3;
  colour: V3;
  power: number;
}
/** What lights a scene: the sky from above, the ground from below, what stands behind and before, one far light, and lamps. */
export interface Lights {
  sky: V3;
  ground: V3;
  behind: V3;
  before: V3;
  far: { towards: V3; colour: V3 };
  lamps: Lamp[];
  /** Longer steps on the way to a lamp where nothing is near: for scenes with much in them, at the cost of a little accuracy in half-shadows. */
  quick?: boolean;
}

const near = nothing(true),
  slope = nothing(true),
  feel = nothing(false);
const look: Look = { r: 0, g: 0, b: 0, gloss: 0, sharp: 1, wrap: 0, glow: 0 };

/** Share of the light of a lamp of this radius that passes to a point. What is half in its way lies in half-shadow. */
export function passes(solid: Solid, from: V3, to: V3, lamp = 0.05, quick = false): number {
  const way: V3 = [to[0] - from[0], to[1] - from[1], to[2] - from[2]],
    far = Math.sqrt(dot(way, way)),
    dx = way[0] / far,
    dy = way[1] / far,
    dz = way[2] / far,
    soft = (0.5 * far) / lamp;
  // Only the part of the way within the body's bounds matters.
  const { middle: m, radius } = solid.bounds,
    along = (m[0] - from[0]) * dx + (m[1] - from[1]) * dy + (m[2] - from[2]) * dz,
    beside =
      (m[0] - from[0]) * (m[0] - from[0]) + (m[1] - from[1]) * (m[1] - from[1]) + (m[2] - from[2]) * (m[2] - from[2]) - along * along;
  if (beside > radius * radius) return 1;
  const half = Math.sqrt(radius * radius - beside),
    end = Math.min(far, along + half);
  let share = 1;
  for (let t = Math.max(0.02, along - half), n = 0; t < end && n < 60; n++) {
    solid.look(from[0] + dx * t, from[1] + dy * t, from[2] + dz * t, feel);
    if (feel.distance < -lamp) return 0;
    if (feel.rough) t += Math.max(0.02, feel.distance);
    else {
      const now = 0.5 + (soft * feel.distance) / t;
      share = Math.min(share, now);
      // Short steps: long ones would draw rings into the half-shadow.
      if (quick && now > 1.3) t += feel.distance * 0.8;
      else t += Math.max(0.012, Math.min(0.05, Math.abs(feel.distance) * 0.5));
    }
  }
  share = Math.max(0, share);
  return share * share * (3 - 2 * share);
}

/** How open a place is along its normal, 0 to 1. */
function openness(solid: Solid, p: V3, n: V3): number {
  let closed = 0;
  for (let i = 1, h = 0.02; i <= 4; i++, h *= 2.1) {
    solid.look(p[0] + n[0] * h, p[1] + n[1] * h, p[2] + n[2] * h, feel);
    if (!feel.rough) closed += Math.max(0, h - feel.distance) / h / (i + 0.6);
  }
  return Math.max(0, 1 - 0.75 * closed);
}

/** How bright a lamp's flame is along a ray that sees it through its glass: a soft ball of fire about the lamp's middle. */
function flame(lights: Lights, from: V3, way: V3): number {
  let most = 0;
  for (const { at } of lights.lamps) {
    const d: V3 = [at[0] - from[0], at[1] - from[1], at[2] - from[2]],
      along = dot(d, way),
      x = d[0] - way[0] * along,
      y = d[1] - way[1] * along,
      z = d[2] - way[2] * along,
      wide = (x * x + z * z) / (0.021 * 0.021),
      tall = (y * y) / (0.027 * 0.027);
    most = Math.max(most, 0.95 * exp(-wide - tall) + 0.3 * exp(-0.34 * (wide + tall)));
  }
  return 0.1 + most;
}

/** How near a ray comes to a body, in metres; 0 where it hits. */
export function approach(solid: Solid, from: V3, way: V3): number {
  const { middle: m, radius } = solid.bounds,
    toX = m[0] - from[0],
    toY = m[1] - from[1],
    toZ = m[2] - from[2],
    along = toX * way[0] + toY * way[1] + toZ * way[2],
    beside = toX * toX + toY * toY + toZ * toZ - along * along;
  if (beside > radius * radius) return Math.sqrt(beside) - radius + 0.02;
  const half = Math.sqrt(radius * radius - beside),
    end = along + half;
  let least = 1e9;
  for (let t = Math.max(0.01, along - half), step = 0; t < end && step < 60; step++) {
    solid.look(from[0] + way[0] * t, from[1] + way[1] * t, from[2] + way[2] * t, feel);
    if (!feel.rough) least = Math.min(least, feel.distance);
    if (least < 0.003) return 0;
    t += feel.distance * 0.9;
  }
  return least;
}

/**
 * Follows a ray through a body; where it hits, its light goes into `out` (linear), and what was hit is given.
 * @param blocks what throws shadows besides lighting (a lantern does not shade itself).
 * @param known says of what was hit that its light is known already: then `out` is left as it is.
 * @param dim less care for reflections: no openness and no far shadow.
 */
export function trace(
  solid: Solid,
  blocks: Solid,
  lights: Lights,
  from: V3,
  way: V3,
  out: Float64Array,
  dim = false,
  known?: (stuff: Stuff) => boolean,
): Stuff | null {
  const { middle: m, radius } = solid.bounds;
  const toX = m[0] - from[0],
    toY = m[1] - from[1],
    toZ = m[2] - from[2],
    along = toX * way[0] + toY * way[1] + toZ * way[2],
    beside = toX * toX + toY * toY + toZ * toZ - along * along;
  if (beside > radius * radius) return null;
  const half = Math.sqrt(radius * radius - beside),
    end = along + half;
  let t = Math.max(0.01, along - half);
  near.distance = 1;
  for (let step = 0; step < 70; step++) {
    solid.look(from[0] + way[0] * t, from[1] + way[1] * t, from[2] + way[2] * t, near);
    if (near.distance < 0.001) break;
    t += near.distance * 0.85;
    if (t > end) return null;
  }
  if (near.distance > 0.004) return null;
  const p: V3 = [from[0] + way[0] * t, from[1] + way[1] * t, from[2] + way[2] * t];
  if (known?.(near.stuff)) return near.stuff;
  paint(near, look);
  const stuff = near.stuff,
    e = 0.0016;
  let nx = 0,
    ny = 0,
    nz = 0;
  for (let k = 0; k < 4; k++) {
    const sx = k === 0 || k === 3 ? 1 : -1,
      sy = k >= 2 ? 1 : -1,
      sz = k === 0 || k === 2 ? -1 : 1;
    // Four corners of a tetrahedron: (1,-1,-1), (-1,-1,1), (-1,1,-1), (1,1,1).
    solid.look(p[0] + sx * e, p[1] + sy * e, p[2] + sz * e, slope);
    nx += sx * slope.distance;
    ny += sy * slope.distance;
    nz += sz * slope.distance;
  }
  // Enamel is flat: lit as one face, whichever way its edge bends.
  const n: V3 = stuff === 'pin' ? [0, 0.34, -0.94] : unit([nx, ny, nz]);
  if (stuff === 'glass') {
    const g = flame(lights, from, way);
    out[0] = 3.1 * g;
    out[1] = 1.75 * g;
    out[2] = 0.72 * g;
    return stuff;
  }
  const open = dim ? 0.8 : openness(blocks, p, n),
    up = 0.5 + 0.5 * n[1],
    back = Math.max(0, n[2]),
    front = 0.35 + 0.65 * Math.max(0, -n[2]);
  const view = Math.max(0, -dot(n, way)),
    rim = (1 - view) * (1 - view) * (1 - view);
  for (let c = 0; c < 3; c++)
    out[c] =
      (lights.ground[c]! * (1 - up) +
        lights.sky[c]! * up +
        lights.before[c]! * front +
        lights.behind[c]! * (back + 0.55 * rim * (0.4 + 0.6 * up))) *
      open;
  let shine = 0,
    shineR = 0,
    shineG = 0,
    shineB = 0;
  const lit = (towards: V3, colour: V3, strength: number, shadow: number) => {
    const facing = (dot(n, towards) + look.wrap) / (1 + look.wrap);
    if (facing <= 0 || shadow <= 0) return;
    for (let c = 0; c < 3; c++) out[c]! += colour[c]! * facing * strength * shadow;
    if (look.gloss <= 0) return;
    const h = unit([towards[0] - way[0], towards[1] - way[1], towards[2] - way[2]]);
    shine = look.gloss * pow(Math.max(0, dot(n, h)), look.sharp) * strength * shadow;
    shineR += shine * colour[0];
    shineG += shine * colour[1];
    shineB += shine * colour[2];
  };
  const off: V3 = [p[0] + n[0] * 0.006, p[1] + n[1] * 0.006, p[2] + n[2] * 0.006];
  const { towards } = lights.far;
  if (dot(n, towards) > -look.wrap)
    lit(
      towards,
      lights.far.colour,
      1,
      dim ? 1 : passes(blocks, off, [off[0] + towards[0] * 1.4, off[1] + towards[1] * 1.4, off[2] + towards[2] * 1.4], 0.1, lights.quick),
    );
  for (const lamp of lights.lamps) {
    const d: V3 = [lamp.at[0] - p[0], lamp.at[1] - p[1], lamp.at[2] - p[2]],
      r2 = dot(d, d);
    // What faces away from a lamp, or has none, needs no shadow.
    if (r2 > 36 || lamp.power <= 0 || dot(n, unit(d)) <= -look.wrap) continue;
    lit(unit(d), lamp.colour, lamp.power / (r2 + 0.03), dim ? 1 : passes(blocks, off, lamp.at, 0.05, lights.quick));
  }
  out[0] = out[0]! * look.r + shineR + look.glow;
  out[1] = out[1]! * look.g + shineG + look.glow;
  out[2] = out[2]! * look.b + shineB + look.glow;
  return stuff;
}
