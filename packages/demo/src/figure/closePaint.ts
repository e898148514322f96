import { exactMath } from '@wraithos/core/image';
import { EYE } from './closeHead';
import { noise3, type Near } from './solid';

const { smoothstep, exp, atan2, sin } = exactMath;
const bump = (x: number, y: number, w: number, h: number): number => exp(-(x / w) * (x / w) - (y / h) * (y / h));

/** What surfaces of a face look like that fills the picture: colour of each part, gloss, its sharpness, and how far light wraps around. */
export type CloseSet = (r: number, g: number, b: number, gloss: number, sharp: number, wrap: number) => void;

/** Paints what only a long lens sees; gives whether it was one of these. */
export function closePaint({ stuff, u, v, w }: Near, set: CloseSet): boolean {
  const x = Math.abs(u);
  switch (stuff) {
    case 'near skin': {
      const pores = 0.965 + 0.07 * noise3(u * 900, v * 900, w * 900, 73),
        mottled = noise3(u * 75, v * 75, w * 75, 75) - 0.5,
        spots = smoothstep(0.7, 0.8, noise3(u * 330, v * 330, w * 200, 77)) * bump(x - 0.026, v + 0.02, 0.026, 0.014);
      // Brows of single hairs, fuller at the nose.
      const arch = v - 0.0245 - 0.004 * (1 - ((x - 0.036) / 0.022) * ((x - 0.036) / 0.022)),
        strokes = 0.55 + 0.65 * noise3((x - 0.6 * arch) * 900, arch * 160, 5, 79),
        brow = Math.min(1, bump(x - 0.034, 0, 0.0175, 1) * exp(-(arch / 0.0032) * (arch / 0.0032)) * strokes * 1.5),
        // The fold above the lid, the shade below the eye, and where the lids meet the nose.
        fold = bump(x - EYE.x, v - 0.0155 + 18 * (x - EYE.x) * (x - EYE.x), 0.0145, 0.0011) * 0.5,
        under = bump(x - 0.031, v + 0.0085, 0.013, 0.005) * 0.16,
        corner = bump(x - 0.0185, v - 0.003, 0.0022, 0.002) * 0.35,
        nostril = bump(x - 0.0068, v + 0.0425, 0.0036, 0.0026) * smoothstep(0.09, 0.098, w) * 0.9,
        seam = bump(x, v + 0.0682, 0.0235, 0.0011) * smoothstep(0.06, 0.07, w) * 0.75;
      const red =
          0.5 * bump(x - 0.043, v + 0.022, 0.02, 0.017) +
          0.45 * bump(x, v + 0.03, 0.012, 0.011) +
          0.2 * bump(x, v + 0.1, 0.02, 0.012) +
          0.35 * mottled,
        k =
          pores *
          (1 - 0.82 * brow) *
          (1 - fold) *
          (1 - under) *
          (1 - corner) *
          (1 - nostril) *
          (1 - seam) *
          (1 - 0.22 * spots) *
          (1 + 0.1 * mottled);
      set((0.5 + 0.05 * red) * k, (0.305 - 0.075 * red) * k, (0.215 - 0.07 * red) * k, 0.055 * (1 - brow), 14, 0.42);
      return true;
    }
    case 'near lips': {
      const lines = 0.86 + 0.28 * noise3(u * 700, v * 90, 1, 81),
        seam = 1 - 0.8 * bump(x, v + 0.0682, 0.025, 0.0009);
      set(0.4 * lines * seam, 0.165 * lines * seam, 0.14 * lines * seam, 0.16, 30, 0.3);
      return true;
    }
    case 'lashes':
      set(0.03, 0.02, 0.016, 0.02, 10, 0.1);
      return true;
    case 'near eye': {
      const ex = x - EYE.x,
        ey = v - EYE.y,
        r = Math.sqrt(ex * ex + ey * ey),
        iris = smoothstep(0.0061, 0.0054, r),
        pupil = smoothstep(0.0026, 0.0021, r),
        ring = iris * smoothstep(0.0042, 0.0058, r),
        rays = 0.75 + 0.5 * noise3(atan2(ey, ex) * 9, r * 260, 2, 83),
        light = 0.65 + 0.5 * smoothstep(0.0045, 0.0026, r),
        shade = (1 - 0.45 * smoothstep(0.001, 0.006, ey)) * (1 - 0.12 * sin(40 * r)),
        veins = 1 - 0.12 * smoothstep(0.55, 0.7, noise3(u * 500, v * 900, 3, 85));
      const white = [0.5, 0.475 * veins, 0.44 * veins] as const,
        grey = [0.12 * rays * light, 0.17 * rays * light, 0.175 * rays * light] as const;
      const mixed = white.map((c, i) => (c * (1 - iris) + grey[i]! * (1 - 0.7 * ring) * iris) * (1 - 0.97 * pupil) * shade);
      set(mixed[0]!, mixed[1]!, mixed[2]!, 1.1, 260, 0.15);
      return true;
    }
    case 'near hair': {
      const strand = 0.55 + 0.5 * noise3(u * 130, v * 7, w * 12, 87) + 0.4 * noise3(u * 420, v * 12, 4, 89);
      set(0.1 * strand, 0.052 * strand, 0.03 * strand, 0.1, 18, 0.15);
      return true;
    }
    case 'near cap': {
      // Rows of loops, and fibres that stand off.
      const loops = 0.74 + 0.3 * noise3(u * 46 * 0.955, v * 420, 6, 91) + 0.2 * noise3(u * 220, v * 900, 7, 93);
      set(0.3 * loops, 0.18 * loops, 0.058 * loops, 0.012, 6, 0.32);
      return true;
    }
    default:
      return false;
  }
}
