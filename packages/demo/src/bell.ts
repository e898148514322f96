import { exactMath } from '@wraithos/core/image';
import { around, join, Rod, take, type Part } from './figure/solid';
import type { V3 } from './figure/vector';

const { atan2, cos, sin, smoothstep } = exactMath;

/** Where the great bell hangs: the middle of its crown, below the beam. */
export const CROWN: V3 = [0.7, 2.02, 4.62];
const TALL = 1.16,
  MOUTH = 0.56;

/** How wide a bell is at a share of its height from the mouth: flared, waisted, with a round shoulder. */
function wide(t: number): number {
  const flare = MOUTH * (1 - 0.46 * smoothstep(0, 0.34, t) - 0.1 * smoothstep(0.3, 0.85, t));
  return flare * Math.sqrt(Math.max(0.02, 1 - smoothstep(0.78, 1.02, t) * 0.96));
}

/** The bell, leaning by radians to her left and right as it swings, with clapper, crown and bands. */
function bell(lean: number): Part {
  const s = sin(lean),
    c = cos(lean);
  return {
    middle: [CROWN[0], CROWN[1] - TALL / 2, CROWN[2]],
    radius: 0.86,
    look(px, py, pz, near) {
      const dx = px - CROWN[0],
        dy = py - CROWN[1],
        z = pz - CROWN[2],
        x = dx * c + dy * s,
        y = dy * c - dx * s + TALL;
      const t = y / TALL,
        flat = Math.sqrt(x * x + z * z),
        at = Math.max(0, Math.min(1, t));
      // Bands of relief, as founders leave them.
      const relief = near.fine
        ? 0.008 *
          (smoothstep(0.014, 0.006, Math.abs(t - 0.1)) +
            smoothstep(0.012, 0.005, Math.abs(t - 0.62)) +
            smoothstep(0.012, 0.005, Math.abs(t - 0.67)))
        : 0;
      let d = (flat - wide(at) - relief) * 0.8;
      // Hollow: only a wall of some centimetres is metal.
      d = Math.max(d, -(flat - wide(at) + 0.055) * 0.8, -y, y - TALL);
      const crown = Math.sqrt(x * x + (y - TALL - 0.05) * (y - TALL - 0.05) + z * z * 2.5) - 0.085;
      d = join(d, crown, 0.04);
      const clapper = Math.min(
        Math.sqrt(x * x + (y - 0.02) * (y - 0.02) + z * z) - 0.085,
        Math.max(Math.sqrt(x * x + z * z) - 0.02, y - TALL * 0.8, 0.02 - y),
      );
      take(near, Math.min(d, clapper), 'bell', atan2(z, x) * 0.5, y, 0);
    },
  };
}

/** Two posts with struts, and the beam. */
function frame(): Part[] {
  const [x, y, z] = CROWN,
    top = y + 0.24;
  const box = (low: V3, high: V3): Part => {
    const middle: V3 = [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2],
      half: V3 = [(high[0] - low[0]) / 2, (high[1] - low[1]) / 2, (high[2] - low[2]) / 2];
    return {
      middle,
      radius: Math.sqrt(half[0] * half[0] + half[1] * half[1] + half[2] * half[2]) + 0.02,
      look(px, py, pz, near) {
        const dx = Math.abs(px - middle[0]) - half[0],
          dy = Math.abs(py - middle[1]) - half[1],
          dz = Math.abs(pz - middle[2]) - half[2],
          ox = Math.max(dx, 0),
          oy = Math.max(dy, 0),
          oz = Math.max(dz, 0),
          d = Math.sqrt(ox * ox + oy * oy + oz * oz) + Math.min(Math.max(dx, dy, dz), 0) - 0.008;
        // Grain runs along the longest side.
        const along = half[1] >= half[0];
        take(near, d, 'timber', along ? px * 3 + pz : py * 3 + pz, along ? py : px, pz);
      },
    };
  };
  const rod = (a: V3, b: V3, r: number): Part => {
    const one = new Rod(a, b, r, r);
    return {
      ...around([a, b], r + 0.02),
      look(px, py, pz, near) {
        take(near, one.distance(px, py, pz), 'timber', (px + pz) * 2, one.t * 1.4, pz);
      },
    };
  };
  return [
    box([x - 1.84, 0, z - 0.02], [x - 1.68, top + 0.1, z + 0.14]),
    box([x + 0.86, 0, z - 0.08], [x + 1.02, top + 0.1, z + 0.08]),
    box([x - 2.1, top - 0.09, z - 0.09], [x + 1.2, top + 0.09, z + 0.09]),
    rod([x - 1.74, top - 0.5, z + 0.06], [x - 1.3, top - 0.08, z], 0.055),
    rod([x + 0.92, top - 0.5, z], [x + 0.5, top - 0.08, z], 0.055),
    box([x - 1.92, 0, z - 0.26], [x - 1.6, 0.09, z + 0.38]),
    box([x + 0.78, 0, z - 0.32], [x + 1.1, 0.09, z + 0.32]),
  ];
}

/** The bell in its frame. */
export const belfry = (lean: number): Part[] => [bell(lean), ...frame()];
/** The middle of the bell's mouth, as it swings. */
export const mouthOf = (lean: number): V3 => [CROWN[0] + sin(lean) * TALL, CROWN[1] - cos(lean) * TALL, CROWN[2]];
