import { cos, radians, sin, smoothstep } from '../image/exactMath';
import { noise2 } from '../image/noise';
import { uniform } from '../image/random';
import { param } from '../params/describe';
import { effect } from './describe';
import { recipes } from './recipes/flare';
import { surroundParam, thrownParams } from './surroundings';

/** What a bright source does in a lens: a veil, rays, a streak and ghosts. */
export const flare = effect({
  type: 'flare',
  version: 3,
  // Up to 1 it darkened nothing about it; up to 2 its lens was clean.
  upgrade: ({ values, curves }, old) => ({ values: { ...values, ...(old < 2 ? { surround: 0 } : {}), dirt: 0 }, curves }),
  title: 'Flare',
  summary: 'Lens flare of a bright source: a veil, rays, a streak, and reflections through the middle of the picture.',
  recipes,
  shown: { frame: 1080, on: 'lantern' },
  lanes: ['foreground', 'whole', 'front', 'background'],
  light: true,
  throws: (v) => v,
  facts: ['frame'],
  origin: 'middle',
  params: {
    place: param.point({ default: [0, 0], title: 'Place', help: 'The light source, px from the mount.' }),
    gate: param.share({ default: 100, title: 'Source brightness', help: 'Brightness of the source; a curve lets it come and go.' }),
    strength: param.share({ default: 80, title: 'Strength', range: [0, 1000] }),
    colour: param.colour({ default: '#ffdca8', title: 'Colour' }),
    reach: param.length({
      default: 130,
      title: 'Veil radius',
      range: [2, 2000],
      help: 'Radius at which the veil has faded out, px.',
      group: 'Parts',
    }),
    rays: param.share({ default: 40, title: 'Ray strength', help: 'Strength of the rays.', range: [0, 400], group: 'Parts' }),
    rayCount: param.number({
      default: 12,
      title: 'Ray count',
      unit: 'rays',
      help: 'Number of rays.',
      range: [2, 80],
      step: 1,
      group: 'Parts',
      rare: true,
    }),
    streak: param.length({
      default: 420,
      title: 'Streak length',
      range: [0, 4000],
      help: 'Half the length of the streak, px; 0 = none.',
      group: 'Parts',
    }),
    streakAngle: param.angle({
      default: 0,
      title: 'Streak angle',
      help: 'Turn of the streak, degrees clockwise.',
      group: 'Parts',
      rare: true,
    }),
    streakColour: param.colour({ default: '#7fb4ff', title: 'Streak colour', group: 'Parts' }),
    ghosts: param.share({
      default: 18,
      title: 'Ghost strength',
      help: 'Strength of the reflections through the middle of the picture.',
      range: [0, 400],
      group: 'Parts',
    }),
    dirt: param.share({
      default: 60,
      title: 'Dirt on the lens',
      help: 'Strength of dust and smears on the lens that light up near the source, %. They stay where they are in the picture while the source moves.',
      range: [0, 400],
      group: 'Parts',
    }),
    flicker: param.share({
      default: 12,
      title: 'Flicker',
      help: 'Random change of brightness from frame to frame, %.',
      group: 'Parts',
      rare: true,
    }),
    seed: param.seed({ default: 1, title: 'Seed', rare: true }),
    ...surroundParam(40),
    ...thrownParams({ onSubject: 0, onGround: 0, inAir: 0 }),
  },
  inputs: { mount: { kind: 'mount', optional: true, title: 'Mount' } },
  idle: (v) => v.gate <= 0 || v.strength <= 0,
  render(draw, v, { mount }) {
    const { pictures, width, height, frame } = draw,
      light = pictures.takePicture(width, height),
      o = light.data,
      [cx, cy] = mount.toPicture(v.place),
      grown = mount.scaleAt(v.place),
      long = v.streak * grown,
      power = v.gate * v.strength * (1 - v.flicker * noise2(frame * 0.8, 0.5, v.seed + 7));
    pictures.run('clear', height, light.address!, width * 4);
    /** Lays `value(x, y)` about a place within a box. */
    const lay = (x: number, y: number, rx: number, ry: number, colour: readonly number[], value: (dx: number, dy: number) => number) => {
      for (let py = Math.max(0, Math.floor(y - ry)); py < Math.min(height, y + ry); py++)
        for (let px = Math.max(0, Math.floor(x - rx)); px < Math.min(width, x + rx); px++) {
          const a = power * value(px + 0.5 - x, py + 0.5 - y);
          if (a <= 0) continue;
          const i = (py * width + px) * 4;
          for (let c = 0; c < 3; c++) o[i + c]! += a * colour[c]!;
        }
    };
    const reach = Math.max(1, v.reach * grown),
      white = [1, 1, 1].map((w, c) => 0.5 * w + 0.5 * v.colour[c]!),
      // Rays from the source, of different length and breadth.
      spokes = Array.from({ length: Math.round(v.rayCount) }, (_, k) => {
        const angle = radians(((k + 0.7 * noise2(k * 1.7, 0.5, v.seed)) / Math.round(v.rayCount)) * 360);
        return {
          c: cos(angle),
          s: sin(angle),
          length: 0.35 + 0.75 * noise2(k * 3.1, 2.5, v.seed),
          bright: 0.3 + 0.9 * noise2(k * 2.3, 4.5, v.seed),
        };
      });
    lay(cx, cy, reach, reach, white, (dx, dy) => {
      const d = Math.sqrt(dx * dx + dy * dy) / reach,
        hot = 0.02 / (d * d + 0.012);
      return hot * smoothstep(1, 0.1, d);
    });
    if (v.rays > 0)
      lay(cx, cy, reach, reach, v.colour, (dx, dy) => {
        const d = Math.sqrt(dx * dx + dy * dy) / reach;
        if (d >= 1) return 0;
        let sum = 0;
        for (const { c, s, length, bright } of spokes) {
          const along = (dx * c + dy * s) / reach;
          if (along <= 0 || along > length) continue;
          const off = (dy * c - dx * s) / reach,
            breadth = 0.006 + 0.014 * along;
          if (off > 3 * breadth || off < -3 * breadth) continue;
          const q = off / breadth;
          sum += bright * (1 - along / length) * (1 / (1 + q * q) - 0.1);
        }
        return v.rays * Math.max(0, sum);
      });
    if (long > 0) {
      const a = radians(v.streakAngle),
        c = cos(a),
        s = sin(a),
        thin = Math.max(1, 0.016 * reach);
      lay(cx, cy, Math.abs(c) * long + 8 * thin, Math.abs(s) * long + 8 * thin, v.streakColour, (dx, dy) => {
        const along = Math.abs(dx * c + dy * s) / long,
          off = (dy * c - dx * s) / (thin * (1.6 - along));
        if (along >= 1 || off * off > 60) return 0;
        return 0.6 * (1 - along) * (1 - along) * (1 / (1 + off * off) - 0.016);
      });
    }
    if (v.ghosts > 0) {
      const mx = width / 2,
        my = height / 2;
      [0.35, 0.62, 1.25, 1.55, 1.9].forEach((t, k) => {
        const gx = cx + (mx - cx) * t * 1.25,
          gy = cy + (my - cy) * t * 1.25,
          r = reach * [0.16, 0.09, 0.24, 0.12, 0.4][k]!,
          colour = k % 2 ? v.streakColour : v.colour;
        lay(gx, gy, r, r, colour, (dx, dy) => {
          const d = Math.sqrt(dx * dx + dy * dy) / r;
          return d >= 1 ? 0 : v.ghosts * (0.25 + 0.75 * smoothstep(0.4, 0.95, d)) * smoothstep(1, 0.93, d) * 0.5;
        });
      });
    }
    if (v.dirt > 0) {
      const far = 3.2 * reach;
      for (const { x, y, r, blur, bright, tint } of dirtOf(v.seed)) {
        // In heights of the picture from its middle, so that a draft has the same.
        const dx = width / 2 + x * height,
          dy = height / 2 + y * height,
          size = Math.max(0.7, r * height),
          near = smoothstep(far, 0.2 * reach, Math.sqrt((dx - cx) * (dx - cx) + (dy - cy) * (dy - cy)));
        if (near <= 0.01) continue;
        const colour = [0, 1, 2].map((c) => v.colour[c]! + tint * (v.streakColour[c]! - v.colour[c]!));
        lay(dx, dy, size, size, colour, (px, py) => {
          const d = Math.sqrt(px * px + py * py) / size;
          // A speck out of focus is a disc with a brighter rim.
          return d >= 1 ? 0 : 0.22 * v.dirt * near * bright * (0.55 + 0.45 * smoothstep(0.5, 0.92, d)) * smoothstep(1, 1 - blur, d);
        });
      }
    }
    return { light };
  },
  handles: [
    { shape: 'point', moves: 'place' },
    { shape: 'radius', sets: 'reach', about: 'place' },
  ],
});

/** A speck on the lens: its middle from that of the picture and its radius, in heights of the picture; softness, brightness and tint 0..1. */
interface Speck {
  x: number;
  y: number;
  r: number;
  blur: number;
  bright: number;
  tint: number;
}
/** Specks on a lens: many small ones, few large, in clumps as dust and dried drops lie. The same for a seed, whatever the picture. */
function dirtOf(seed: number): Speck[] {
  const specks: Speck[] = [];
  for (let clump = 0; clump < 26; clump++) {
    const u = (k: number, channel: number) => uniform(seed, 400 + clump, k, channel),
      [mx, my] = [1.9 * (u(0, 1) - 0.5), 1.1 * (u(0, 2) - 0.5)],
      n = 3 + Math.floor(9 * u(0, 3));
    for (let k = 1; k <= n; k++) {
      const size = u(k, 4);
      specks.push({
        x: mx + 0.34 * (u(k, 5) - 0.5),
        y: my + 0.34 * (u(k, 6) - 0.5),
        r: 0.002 + 0.03 * size * size * size * size,
        blur: 0.15 + 0.75 * u(k, 7),
        bright: 0.25 + 0.75 * u(k, 8),
        tint: u(k, 9) < 0.3 ? 0.8 * u(k, 10) : 0,
      });
    }
  }
  return specks;
}
