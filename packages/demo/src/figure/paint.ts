import { exactMath } from '@wraithos/core/image';
import { closePaint } from './closePaint';
import { noise3, type Near } from './solid';

const { smoothstep, exp } = exactMath;

export interface Look {
  /** Share of light that comes back, by colour. */
  r: number;
  g: number;
  b: number;
  /** Strength and sharpness of the highlight. */
  gloss: number;
  sharp: number;
  /** How far light wraps around: cloth and skin scatter it. */
  wrap: number;
  /** Light of its own. */
  glow: number;
}

const bump = (x: number, y: number, w: number, h: number): number => exp(-(x / w) * (x / w) - (y / h) * (y / h));

/** What a surface looks like at a place, into `out`. */
export function paint(near: Near, out: Look): void {
  const set = (r: number, g: number, b: number, gloss: number, sharp: number, wrap: number, glow = 0) => {
    out.r = r;
    out.g = g;
    out.b = b;
    out.gloss = gloss;
    out.sharp = sharp;
    out.wrap = wrap;
    out.glow = glow;
  };
  if (closePaint(near, set)) return;
  const { u, v, w } = near;
  switch (near.stuff) {
    case 'coat': {
      // Heavy wool, worn paler along the hem and where it is creased.
      const weave = 0.86 + 0.28 * noise3(u * 28, v * 160, w * 60, 41),
        worn = 1 + 0.35 * smoothstep(0.09, 0, v) + 0.3 * (noise3(u * 3, v * 5, w * 5, 43) - 0.5);
      const k = weave * worn;
      set(0.115 * k, 0.118 * k, 0.125 * k, 0.02, 8, 0.25);
      return;
    }
    case 'skin': {
      // Only the head has its places as coordinates; hands are plain.
      const x = Math.abs(u),
        face = w > 0.03 && x < 0.08 && Math.abs(v) < 0.13;
      let k = 1,
        red = 0;
      if (face) {
        const brow = bump(x - 0.033, v - 0.0285 + (x - 0.03) * (x - 0.03) * 9, 0.02, 0.0042),
          lash = bump(x - 0.031, v - 0.011, 0.014, 0.0028),
          under = bump(x - 0.031, v + 0.006, 0.013, 0.004);
        k = (1 - 0.72 * brow) * (1 - 0.75 * lash) * (1 - 0.22 * under) * (1 - 0.5 * bump(x, v + 0.0578, 0.019, 0.0016));
        red = 0.12 * bump(x - 0.042, v + 0.022, 0.022, 0.02) + 0.1 * bump(x, v + 0.02, 0.012, 0.012);
      }
      set((0.47 + red * 0.3) * k, (0.285 - red * 0.2) * k, (0.2 - red * 0.2) * k, 0.06, 18, 0.5);
      return;
    }
    case 'lips':
      set(0.36, 0.15, 0.13, 0.09, 22, 0.25);
      return;
    case 'eye': {
      const x = Math.abs(u) - 0.031,
        y = v - 0.004,
        r = Math.sqrt(x * x + y * y),
        iris = smoothstep(0.0068, 0.0058, r),
        pupil = smoothstep(0.0032, 0.0024, r);
      const white = 0.42;
      set(
        (white * (1 - iris) + 0.1 * iris) * (1 - pupil),
        (white * 0.96 * (1 - iris) + 0.13 * iris) * (1 - pupil),
        (white * 0.9 * (1 - iris) + 0.12 * iris) * (1 - pupil),
        0.8,
        90,
        0.2,
      );
      return;
    }
    case 'hair': {
      const k = 0.7 + 0.6 * noise3(u * 40, v * 14, 0, 47);
      set(0.075 * k, 0.042 * k, 0.026 * k, 0.12, 14, 0.1);
      return;
    }
    case 'cap': {
      const k = 0.8 + 0.4 * noise3(u * 30, v * 300, 0, 49);
      set(0.26 * k, 0.16 * k, 0.05 * k, 0.015, 6, 0.3);
      return;
    }
    case 'scarf': {
      const size = 0.024,
        a = Math.floor(u / size + 100),
        b = Math.floor(v / size + 100),
        wool = 0.85 + 0.3 * noise3(u * 400, v * 400, w, 51);
      if ((a + b) & 1) set(0.46 * wool, 0.05 * wool, 0.042 * wool, 0.015, 6, 0.3);
      else set(0.62 * wool, 0.53 * wool, 0.41 * wool, 0.015, 6, 0.3);
      return;
    }
    case 'pin':
      set(0.8, 0.8, 0.76, 0, 1, 0.7, 0.08);
      return;
    case 'iron':
      set(0.02, 0.019, 0.018, 0.05, 14, 0);
      return;
    case 'trousers': {
      const k = 0.8 + 0.4 * noise3(u * 60, v * 60, w * 60, 53);
      set(0.04 * k, 0.038 * k, 0.04 * k, 0.02, 8, 0.2);
      return;
    }
    case 'boots':
      set(0.05, 0.034, 0.024, 0.22, 22, 0.05);
      return;
    case 'metal':
      set(0.06, 0.048, 0.032, 0.5, 26, 0);
      return;
    case 'brass':
      set(0.32, 0.2, 0.07, 0.5, 20, 0.1);
      return;
    case 'wood': {
      const k = 0.75 + 0.5 * noise3(u * 60, v * 40, w * 40, 55);
      set(0.13 * k, 0.085 * k, 0.05 * k, 0.05, 10, 0.1);
      return;
    }
    case 'bell': {
      // Old bronze: polished where hands and mallets were, green where rain stands.
      const old = 0.5 * noise3(u * 6, v * 5, w, 57) + 0.32 * noise3(u * 22, v * 13, w, 65) + 0.18 * noise3(u * 70, v * 40, w, 67),
        green = smoothstep(0.48, 0.62, old) * 0.75,
        k = 0.8 + 0.4 * noise3(u * 40, v * 60, w, 59);
      set(
        (0.27 * (1 - green) + 0.09 * green) * k,
        (0.165 * (1 - green) + 0.15 * green) * k,
        (0.07 * (1 - green) + 0.115 * green) * k,
        0.42 * (1 - 0.7 * green),
        24,
        0.05,
      );
      return;
    }
    case 'timber': {
      const k = 0.55 + 0.9 * noise3(u * 34, v * 3, w * 34, 61) * (0.7 + 0.6 * noise3(u * 90, v * 9, w * 90, 63));
      set(0.13 * k, 0.105 * k, 0.085 * k, 0.03, 10, 0.05);
      return;
    }
    case 'glass':
      // The flame behind it is seen through it: view.ts.
      set(0.1, 0.08, 0.05, 0, 1, 0, 1);
      return;
  }
}
