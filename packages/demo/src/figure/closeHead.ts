import { exactMath } from '@wraithos/core/image';
import { ball, egg, HEAD_SIZE, inner, rod } from './head';
import type { Stance } from './stance';
import { join, noise3, take, wave, type Near, type Part } from './solid';
import { dot, place, sub } from './vector';

const { atan2, mix } = exactMath;

/** Middle of each eyeball in measures of the head, metres: to the outside (x), up (y) and ahead (z) of its middle; radius of the ball and of the lids. */
export const EYE = { x: 0.0315, y: 0.004, z: 0.0755, ball: 0.0122, lids: 0.0136 };
/** Half the width of the slit between the lids. */
const SLIT = 0.0138;
/** The line of the upper lid, or the lower one, above the middle of the eye at a distance outwards from it. */
const lidLine = (out: number, middle: number): number => {
  const share = out / SLIT;
  return middle * (1 - share * share) + 0.05 * out;
};
/** Height of the upper lid's edge above the middle of the eye at a blink (0..1), and of the lower one. */
export const upperLid = (blink: number): number => mix(0.0054, -0.0034, blink);
export const LOWER_LID = -0.0039;

/** Face and neck for a long lens: the same person as `head`, with lids, lips and jaw that bear looking at. The two sides are alike. */
export function closeHead(s: Stance): Part {
  const f = s.head,
    upper = upperLid(s.blink);
  return {
    middle: place(f, 0, -0.04, 0),
    radius: 0.19 * HEAD_SIZE,
    look(px, py, pz, near: Near) {
      const p = inner(sub([px, py, pz], f.at)),
        side = dot(p, f.side),
        y = dot(p, f.up),
        z = dot(p, f.ahead),
        x = Math.abs(side),
        // Far from it the way to an egg around all of it is a good enough answer.
        away = egg(x, y + 0.04, z, 0.085, 0.18, 0.125);
      if (away > 0.03) {
        take(near, away * HEAD_SIZE, 'near skin', side, y, z);
        return;
      }
      let d = egg(x, y - 0.024, z + 0.012, 0.0735, 0.1, 0.096);
      d = join(d, egg(x, y + 0.03, z - 0.016, 0.0605, 0.078, 0.068), 0.04);
      // Jaw, chin, cheekbone, brow.
      d = join(d, rod(x, y, z, [0.05, -0.062, 0.006], [0.014, -0.1, 0.056], 0.014, 0.0155), 0.03);
      d = join(d, ball(x, y + 0.1, z - 0.064, 0.0165), 0.022);
      d = join(d, rod(x, y, z, [0.034, -0.02, 0.061], [0.058, -0.006, 0.032], 0.021, 0.0155), 0.03);
      d = join(d, rod(x, y, z, [0, 0.027, 0.0855], [0.045, 0.026, 0.0665], 0.0085, 0.0075), 0.018);
      d = join(d, rod(x, y, z, [0, -0.07, -0.02], [0, -0.2, -0.035], 0.05, 0.055), 0.035);
      const socket = egg(x - EYE.x, y - 0.002, z - 0.096, 0.021, 0.0145, 0.017);
      d = -join(-d, socket, 0.014);
      // Nose: bridge, tip and wings.
      d = join(d, rod(x, y, z, [0, 0.016, 0.0835], [0, -0.026, 0.1075], 0.0072, 0.0088), 0.014);
      d = join(d, ball(x, y + 0.0325, z - 0.107, 0.0098), 0.009);
      d = join(d, egg(x - 0.0118, y + 0.0365, z - 0.0945, 0.0068, 0.0062, 0.0092), 0.008);
      d = -join(-d, ball(x - 0.0066, y + 0.0432, z - 0.1005, 0.003), 0.003);
      // The mouth lies on a low mound; a groove below the nose, one below the lower lip.
      d = join(d, egg(x, y + 0.068, z - 0.066, 0.03, 0.021, 0.0245), 0.02);
      d = -join(-d, rod(x, y, z, [0, -0.047, 0.0985], [0, -0.058, 0.0965], 0.0025, 0.0022), 0.005);
      d = -join(-d, egg(x, y + 0.0835, z - 0.0925, 0.014, 0.004, 0.006), 0.008);
      const lips = Math.min(
        Math.min(
          rod(x, y, z, [0.0035, -0.0636, 0.0905], [0.011, -0.0642, 0.0888], 0.0037, 0.0034),
          rod(x, y, z, [0.011, -0.0642, 0.0888], [0.0242, -0.0678, 0.0818], 0.0034, 0.0015),
        ),
        Math.min(
          rod(x, y, z, [0, -0.0727, 0.0885], [0.0115, -0.0719, 0.0868], 0.0052, 0.0044),
          rod(x, y, z, [0.0115, -0.0719, 0.0868], [0.0236, -0.0688, 0.0815], 0.0044, 0.0015),
        ),
      );
      take(near, join(d, lips, 0.0035) * HEAD_SIZE, lips < d + 0.0012 ? 'near lips' : 'near skin', side, y, z);
      const ex = x - EYE.x,
        ey = y - EYE.y,
        ez = z - EYE.z;
      take(near, ball(ex, ey, ez, EYE.ball) * HEAD_SIZE, 'near eye', side, y, z);
      const lids = ball(ex, ey, ez, EYE.lids),
        above = ey - lidLine(ex, upper),
        below = lidLine(ex, LOWER_LID) - ey;
      // The upper lid's edge carries lashes, which a lens of this length sees as a dark line.
      take(near, Math.max(lids, -above) * HEAD_SIZE, above < 0.0011 ? 'lashes' : 'near skin', side, y, z);
      take(near, Math.max(lids - 0.0002, -below) * HEAD_SIZE, 'near skin', side, y, z);
      take(near, Math.max(ball(ex, ey, ez, EYE.lids + 0.0011), Math.abs(above - 0.0002) - 0.0007, -ez) * HEAD_SIZE, 'lashes', side, y, z);
    },
  };
}

/** The knitted cap and the hair below it, for a long lens. */
export function closeHeadwear(s: Stance): Part {
  const f = s.head;
  return {
    middle: place(f, 0, 0.02, -0.02),
    radius: 0.2 * HEAD_SIZE,
    look(px, py, pz, near: Near) {
      const p = inner(sub([px, py, pz], f.at)),
        x = dot(p, f.side),
        y = dot(p, f.up),
        z = dot(p, f.ahead),
        away = egg(x, y, z + 0.01, 0.105, 0.16, 0.135);
      if (away > 0.03) {
        take(near, away * HEAD_SIZE, 'near cap', 0, y, 0);
        return;
      }
      const angle = atan2(z + 0.012, x),
        edge = 0.056 + 0.1 * (z + 0.01),
        rib = 0.0016 * wave(46 * angle);
      let cap = Math.max(egg(x, y - 0.05, z + 0.012, 0.084, 0.094, 0.104), edge - y);
      const q = Math.sqrt((x / 0.081) * (x / 0.081) + ((z + 0.011) / 0.1) * ((z + 0.011) / 0.1)),
        roll = Math.sqrt((q - 1) * (q - 1) * 0.0081 + (y - edge - 0.012) * (y - edge - 0.012) * 0.42) - 0.0145;
      cap = join(cap, roll, 0.006) - rib;
      take(near, cap * 0.85 * HEAD_SIZE, 'near cap', angle, y, roll);
      // Hair falls from a parting below the cap to either side of the face, behind the cheeks.
      const fall = 0.02 + 0.2 * Math.max(0, 0.045 - y),
        open = z - 0.05 + fall;
      let hair = Math.max(egg(x, y + 0.012, z + 0.014, 0.081, 0.125, 0.096), Math.min(open, z - 0.03));
      hair = join(hair, egg(x, y + 0.075, z + 0.092, 0.045, 0.045, 0.036), 0.03);
      const ax = Math.abs(x);
      hair = Math.min(hair, rod(ax, y, z, [0.067, 0.06, 0.03], [0.067, -0.055, 0.03], 0.009, 0.004));
      if (near.fine && hair < 0.01) hair -= 0.0016 * (noise3(angle * 60, y * 9, 3, 71) - 0.5) + 0.001 * wave(150 * angle + 30 * y);
      take(near, hair * 0.8 * HEAD_SIZE, 'near hair', angle, y, z);
    },
  };
}
