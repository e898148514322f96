import { dot, place, sub, type Frame } from './vector';
import { take, type Near, type Part } from './solid';

/** From where it is held to the middle of its glass, metres. */
export const LANTERN_DROP = 0.17;

const box = (x: number, y: number, z: number, hx: number, hy: number, hz: number): number => {
  const dx = Math.abs(x) - hx,
    dy = Math.abs(y) - hy,
    dz = Math.abs(z) - hz,
    ox = Math.max(dx, 0),
    oy = Math.max(dy, 0),
    oz = Math.max(dz, 0);
  return Math.sqrt(ox * ox + oy * oy + oz * oz) + Math.min(Math.max(dx, dy, dz), 0);
};

/** A ship's lantern, flat as those that hang on walls: base, posts beside the glass, roof, and the ring by which it is held. */
export function lantern(frame: Frame): Part {
  return {
    middle: place(frame, 0, -LANTERN_DROP + 0.03, 0),
    radius: 0.19,
    look(px, py, pz, near: Near) {
      const p = sub([px, py, pz], frame.at),
        x = dot(p, frame.side),
        y = dot(p, frame.up) + LANTERN_DROP,
        z = dot(p, frame.ahead);
      take(near, box(x, y, z, 0.037, 0.052, 0.012), 'glass', x, y, z);
      take(near, Math.min(box(x, y + 0.066, z, 0.052, 0.013, 0.02), box(x, y + 0.083, z, 0.06, 0.006, 0.026)) - 0.002, 'metal', x, y, z);
      take(near, box(Math.abs(x) - 0.043, y, Math.abs(z) - 0.013, 0.005, 0.06, 0.004) - 0.001, 'metal', x, y, z);
      // The roof leans in towards the chimney.
      const lean = Math.max(0, 0.056 - (y - 0.06) * 0.62);
      take(near, box(x, y - 0.085, z, lean, 0.028, lean * 0.4) * 0.8, 'metal', x, y, z);
      take(near, box(x, y - 0.122, z, 0.016, 0.014, 0.016) - 0.004, 'metal', x, y, z);
      const ring = Math.sqrt(x * x + (y - 0.155) * (y - 0.155)) - 0.024;
      take(near, Math.sqrt(ring * ring + z * z) - 0.0045, 'metal', x, y, z);
    },
  };
}
