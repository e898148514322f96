import { exactMath } from '@wraithos/core/image';
import { gauss, light, pixels, type Colour, type Draw } from './paint';

const { atan2, cos, hypot, PI, sin, smoothstep } = exactMath;

/**
 * A figure of light on a disc of radius 1, each pixel the mean of four.
 * @param power light at a place: right and down from the middle, its distance from there, and its angle in radians clockwise from the right.
 */
const ringed = (size: number, tint: Colour, power: (x: number, y: number, r: number, a: number) => number): Uint8Array =>
  pixels(size, size, (px, py) => {
    let sum = 0;
    for (let k = 0; k < 4; k++) {
      const x = (px - 0.25 + 0.5 * (k & 1) - size / 2) / (size / 2),
        y = (py - 0.25 + 0.5 * (k >> 1) - size / 2) / (size / 2);
      sum += power(x, y, hypot(x, y), atan2(y, x));
    }
    return light(sum / 4, tint);
  });

/** A ship's compass as a ring of light: the scale goes one way, the rose the other, the needle trembles; after the loop all stand where they began. */
export function compass(size: number, frames: number): Draw {
  const tau = 2 * PI;
  return (frame) => {
    const t = frame / frames,
      scale = (tau / 8) * t,
      rose = (-tau / 4) * t,
      needle = 0.5 + 0.16 * sin(tau * t) + 0.07 * sin(tau * 3 * t);
    return ringed(size, [1, 0.74, 0.36], (_x, _y, r, a) => {
      const line = (d: number, w: number) => smoothstep(w + 0.006, w - 0.004, Math.abs(d)),
        part = (angle: number, n: number) => {
          const q = ((angle / tau) * n) % 1;
          return ((q < 0 ? q + 1 : q) - 0.5) * (tau / n);
        };
      let p = line(r - 0.94, 0.008) + line(r - 0.81, 0.005) + 0.7 * line(r - 0.5, 0.004);
      // Ticks of the scale: sixty-four, every eighth long.
      const tick = part(a - scale + tau / 128, 64),
        long = part(a - scale + tau / 16, 8);
      if (r > 0.83 && r < 0.9) p += 0.8 * line(tick * r, 0.006);
      if (r > 0.72 && r < 0.92) p += line(long * r, 0.008);
      // The rose: eight points, every other one short.
      const b = part(a - rose + tau / 16, 8),
        which = Math.round(((a - rose) / tau) * 8) & 1,
        tip = which ? 0.46 : 0.68,
        broad = 0.3 * (1 - r / tip);
      if (r > 0.08 && r < tip) {
        p += 0.75 * line(Math.abs(b) - broad * 0.6, 0.012 / Math.max(0.2, r));
        if (b > 0 && b < broad * 0.6) p += 0.22;
      }
      p += line(r - 0.08, 0.006);
      const dn = a - needle * tau - Math.round((a - needle * tau) / tau) * tau;
      if (r > 0.1 && r < 0.76) p += 1.2 * smoothstep(0.03 * (1 - r / 0.8) + 0.008, 0, Math.abs(dn) * r);
      return p + 0.12 * gauss(r - 0.94, 0.05) + 0.07 * gauss(r - 0.5, 0.07);
    });
  };
}

/** A tide table as a ring of light: waves run around its rim, the moon's phases go the other way, and four hands show the hours. It loops. */
export function tideRing(size: number, frames: number): Draw {
  const tau = 2 * PI;
  return (frame) => {
    const t = frame / frames,
      outer = (tau / 6) * t,
      moons = (-tau / 8) * t;
    return ringed(size, [0.42, 0.82, 1], (x, y, r, a) => {
      const line = (d: number, w: number) => smoothstep(w + 0.005, w - 0.003, Math.abs(d));
      let p = 0.9 * line(r - 0.965, 0.006) + 0.8 * line(r - 0.7, 0.005) + 0.6 * line(r - 0.46, 0.004);
      // Three trains of waves, each running at its own pace.
      for (const [mean, swing, count, pace, w] of [
        [0.86, 0.045, 18, 2, 0.008],
        [0.81, 0.035, 12, -1, 0.006],
        [0.765, 0.025, 24, 3, 0.005],
      ] as const) {
        const crest = mean + swing * sin(count * (a - outer) + pace * tau * t);
        p += line(r - crest, w) + 0.1 * gauss(r - crest, 0.03);
      }
      // Eight moons, from new to full and back.
      const cell = Math.round(((a - moons) / tau) * 8),
        at = moons + (cell / 8) * tau,
        mx = x - 0.58 * cos(at),
        my = y - 0.58 * sin(at),
        along = mx * cos(at) + my * sin(at),
        aside = -mx * sin(at) + my * cos(at),
        radius = 0.075,
        d = hypot(mx, my);
      if (d < 0.11) {
        const phase = (((cell % 8) + 8) % 8) / 8,
          half = Math.sqrt(Math.max(0, radius * radius - along * along)),
          // The terminator is an ellipse: its half width goes with the phase.
          dark = aside / (half + 1e-6),
          lit = phase < 0.5 ? dark > cos(tau * phase) : dark < -cos(tau * phase);
        p += line(d - radius, 0.005);
        if (d < radius && lit) p += 0.75;
      }
      for (let hand = 0; hand < 4; hand++) {
        const turn = a - (hand / 4) * tau - (tau / 4) * t,
          off = Math.abs(turn - Math.round(turn / tau) * tau) * r;
        if (r > 0.12 && r < 0.43) p += 0.9 * smoothstep(0.02 * (1 - r / 0.46) + 0.005, 0.001, off);
      }
      p += line(r - 0.1, 0.006) + 0.8 * smoothstep(0.03, 0.02, r);
      const tick = ((a - outer) / tau) * 48,
        near = (Math.abs(tick - Math.round(tick)) / 48) * tau * r;
      if (r > 0.91 && r < 0.95) p += 0.8 * line(near, 0.004);
      return p + 0.1 * gauss(r - 0.82, 0.1) + 0.06 * gauss(r - 0.46, 0.06);
    });
  };
}
