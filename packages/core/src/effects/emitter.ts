import { atan2, clamp, cos, hypot, mix, radians, sin, smoothstep } from '../image/exactMath';
import { blendOver } from '../image/blend';
import { noise2 } from '../image/noise';
import { hash, uniform } from '../image/random';
import type { Picture, Plane } from '../image/picture';
import {
  CELL,
  Drawn,
  drawSprites,
  flakesBytes,
  moveFlakes,
  newFlakes,
  sheetFrom,
  sheetOf,
  type AirOptions,
  type Flakes,
  type Sheet,
  type Sprite,
} from '../particles';
import type { Frame } from '../motion/frame';
import { type Values } from '../params/describe';
import { effect, type Draw } from './describe';
import { emitterParams } from './emitterParams';
import { gatherLiquid } from './liquid';
import { recipes } from './recipes/emitter';

type V = Values<typeof emitterParams>;
/** What the particles' past follows from; all else is look. */
const past = [
  'from',
  'place',
  'reach',
  'flat',
  'lean',
  'rate',
  'burst',
  'burstEvery',
  'total',
  'life',
  'lifeVariation',
  'seed',
  'speed',
  'speedVariation',
  'direction',
  'spread',
  'outwards',
  'carries',
  'after',
  'gravity',
  'settle',
  'wind',
  'windDirection',
  'gusts',
  'turbulence',
  'upright',
  'stirs',
  'eddy',
  'churn',
  'pull',
  'ground',
  'colours',
] as const;
type Past = Pick<V, (typeof past)[number]>;
type Step = Draw<'frame' | 'framesPerSecond' | 'frameInRow' | 'subjectPixels' | 'subjectMetres'>;
interface Read {
  mount: Frame;
  smallMatte: Plane | null;
  smallPlate: Picture | null;
}
/** The particles, how many were ever born, and where the place and its mount stood one frame ago. */
interface State {
  flakes: Flakes;
  born: number;
  at: readonly [number, number] | null;
  mount: Frame | null;
}

const TURN = 6.283185307179586;

/** How many are born at this frame, before chance rounds it. */
export function bornNow(v: Pick<V, 'rate' | 'burst' | 'burstEvery'>, frameInRow: number, framesPerSecond: number): number {
  const bursts = frameInRow === 0 || (v.burstEvery >= 1 && frameInRow % Math.round(v.burstEvery) === 0);
  return v.rate / framesPerSecond + (bursts ? v.burst : 0);
}

/** Places of births with an id for each: by chance over the shape, or by the matte's coverage (or its edge) cell by cell. */
function births(v: Past, read: Read, draw: Step, at: readonly [number, number]): { id: number; x: number; y: number }[] {
  const expected = bornNow(v, draw.frameInRow, draw.framesPerSecond),
    out: { id: number; x: number; y: number }[] = [];
  if (v.from === 'matte area' || v.from === 'matte edge') {
    const m = read.smallMatte;
    if (!m || expected <= 0) return out;
    const { width, height, data } = m,
      weight = new Float64Array(width * height);
    let sum = 0;
    for (let y = 0, cell = 0; y < height; y++)
      for (let x = 0; x < width; x++, cell++) {
        const own = clamp(data[cell]!, 0, 1);
        if (v.from === 'matte area') weight[cell] = own;
        else if (own > 0.05) {
          const near = (dx: number, dy: number) => {
            const px = x + dx,
              py = y + dy;
            return px < 0 || py < 0 || px >= width || py >= height ? own : data[py * width + px]!;
          };
          weight[cell] = clamp(own - Math.min(near(-1, 0), near(1, 0), near(0, -1), near(0, 1)), 0, 1);
        }
        sum += weight[cell]!;
      }
    if (sum <= 0) return out;
    for (let cell = 0; cell < weight.length; cell++) {
      if (!weight[cell]) continue;
      const n = Math.floor((expected * weight[cell]!) / sum + uniform(v.seed, cell, draw.frame, 1));
      for (let k = 0; k < n; k++) {
        const id = hash(cell, draw.frame, k, 7);
        out.push({
          id,
          x: ((cell % width) + uniform(v.seed, id, 2)) * CELL,
          y: (Math.floor(cell / width) + uniform(v.seed, id, 3)) * CELL,
        });
      }
    }
    return out;
  }
  const n = Math.floor(expected + uniform(v.seed, draw.frame, 0, 1)),
    c = cos(radians(v.lean)),
    s = sin(radians(v.lean)),
    [xByU, yByU, xByV, yByV] = read.mount.slopesAt(v.place);
  for (let k = 0; k < n; k++) {
    const id = hash(k, draw.frame, 11, 7);
    let a = 0,
      b = 0;
    if (v.from === 'ellipse') {
      const r = Math.sqrt(uniform(v.seed, id, 2)) * v.reach,
        turn = uniform(v.seed, id, 3) * TURN;
      a = r * cos(turn);
      b = r * sin(turn) * (1 - v.flat);
    } else if (v.from === 'line') a = (2 * uniform(v.seed, id, 2) - 1) * v.reach;
    const along = a * c - b * s,
      across = a * s + b * c;
    out.push({ id, x: at[0] + xByU * along + xByV * across, y: at[1] + yByU * along + yByV * across });
  }
  return out;
}

/** New particles of a frame: spread over the frame's time and over the way that the place has gone in it. */
function newborn(v: Past, read: Read, draw: Step, state: State, at: readonly [number, number]): Flakes {
  let list = births(v, read, draw, at);
  if (v.total > 0) list = list.slice(0, Math.max(0, v.total - state.born));
  const out = newFlakes(list.length),
    metre = draw.subjectPixels / draw.subjectMetres / draw.framesPerSecond,
    way = state.at ? [at[0] - state.at[0], at[1] - state.at[1]] : [0, 0],
    turned = read.mount.turnAt(v.place),
    onMatte = v.from === 'matte area' || v.from === 'matte edge';
  list.forEach(({ id, x, y }, i) => {
    const r = (channel: number) => uniform(v.seed, id, channel),
      when = r(4),
      dx = x - at[0],
      dy = y - at[1],
      far = hypot(dx, dy),
      angle = radians(turned + v.direction + (r(5) - 0.5) * v.spread),
      speed = v.speed * metre * (1 + v.speedVariation * (2 * r(6) - 1));
    let ux = cos(angle),
      uy = sin(angle);
    if (v.outwards > 0 && far > 1e-6) {
      ux = mix(ux, dx / far, v.outwards);
      uy = mix(uy, dy / far, v.outwards);
    }
    const vx = ux * speed + way[0]! * v.carries,
      vy = uy * speed + way[1]! * v.carries,
      // Born somewhere between the frame before and this one; a matte is only known at this one.
      back = onMatte ? 0 : when;
    out.id[i] = id;
    out.x[i] = x - way[0]! * back + vx * when;
    out.y[i] = y - way[1]! * back + vy * when;
    out.vx[i] = vx;
    out.vy[i] = vy;
    out.age[i] = when;
    out.life[i] = Math.max(0.5, v.life * (1 + v.lifeVariation * (2 * r(7) - 1)));
    const p = read.smallPlate;
    if (p && v.colours === 'from the picture') {
      const o = (clamp(Math.floor(y / CELL), 0, p.height - 1) * p.width + clamp(Math.floor(x / CELL), 0, p.width - 1)) * 4;
      out.red[i] = p.data[o]!;
      out.green[i] = p.data[o + 1]!;
      out.blue[i] = p.data[o + 2]!;
    }
  });
  return out;
}

function air(v: Past, draw: Step): AirOptions {
  return {
    seed: v.seed,
    frame: draw.frame,
    pixelsPerMetre: draw.subjectPixels / draw.subjectMetres,
    framesPerSecond: draw.framesPerSecond,
    wind: v.wind * Math.max(0, 1 + v.gusts * (2 * noise2(draw.frame * 0.07, 0.5, v.seed + 3) - 1)),
    windDirection: v.windDirection,
    turbulence: v.turbulence,
    settle: v.settle,
    gravity: v.gravity,
    eddy: v.eddy,
    churn: v.churn,
    upright: v.upright,
    cling: 0,
  };
}

/** How far each particle lies outside of the body, where only those are stirred. */
function outside({ x, y, count, stride }: Flakes, v: Past, matte: Plane | null): Float32Array | undefined {
  if (v.stirs !== 'outside the body' || !matte) return undefined;
  const out = new Float32Array(stride).fill(1);
  for (let i = 0; i < count; i++) {
    const cx = Math.floor(x[i]! / CELL),
      cy = Math.floor(y[i]! / CELL);
    if (cx >= 0 && cy >= 0 && cx < matte.width && cy < matte.height) out[i] = 1 - clamp(matte.data[cy * matte.width + cx]!, 0, 1);
  }
  return out;
}

/** What pulls, carries and stops particles after the air has moved them; in place. */
function steer(f: Flakes, first: number, v: Past, draw: Step, at: readonly [number, number], from: Frame | null, to: Frame): void {
  const pull = (v.pull * draw.subjectPixels) / draw.subjectMetres / (draw.framesPerSecond * draw.framesPerSecond),
    rides = from !== null && v.after === 'rides on the mount';
  if (!pull && !rides && !(v.ground > 0)) return;
  for (let i = 0; i < first; i++) {
    if (rides) {
      [f.x[i], f.y[i]] = to.toPicture(from.toBody([f.x[i]!, f.y[i]!])) as [number, number];
    }
    if (pull) {
      const dx = at[0] - f.x[i]!,
        dy = at[1] - f.y[i]!,
        // Softened near the middle, so that nothing is flung out of it.
        d = Math.sqrt(dx * dx + dy * dy + 16);
      f.vx[i]! += (pull * dx) / d;
      f.vy[i]! += (pull * dy) / d;
    }
    if (v.ground > 0 && f.y[i]! >= v.ground) {
      f.y[i] = v.ground;
      f.vx[i] = 0;
      f.vy[i] = 0;
    }
  }
}

/** More particles than this are drawn as a share in a draft, each larger (or brighter) for it. */
const ALL_DRAWN = 4000;
const LEAST_DRAWN = 0.5;

function arrange(
  flakes: Flakes,
  v: V,
  draw: Draw<'frame' | 'framesPerSecond'>,
  sheet: Sheet,
  otherSheet: Sheet | null,
  wanted: 'first' | 'other',
): Drawn {
  const { scale } = draw,
    drawn = new Drawn(wanted === 'other' ? otherSheet! : sheet, flakes.count),
    share = flakes.count > ALL_DRAWN ? Math.max(LEAST_DRAWN, Math.min(1, scale)) : 1,
    asLight = v.paint === 'light',
    larger = asLight ? 1 : 1 / Math.sqrt(share),
    stamps = (wanted === 'other' ? otherSheet! : sheet).stamps.length,
    perFrame = 1 / draw.framesPerSecond;
  for (let i = 0; i < flakes.count; i++) {
    const id = flakes.id[i]!,
      r = (channel: number) => uniform(v.seed, id, channel);
    if (share < 1 && r(19) > share) continue;
    if (otherSheet && (r(31) < v.otherShare ? 'other' : 'first') !== wanted) continue;
    const age = flakes.age[i]!,
      part = clamp(age / flakes.life[i]!, 0, 1),
      size = 0.5 * v.size * larger * (1 + v.sizeVariation * (2 * r(21) - 1)) * mix(1, v.grows, part);
    let x = flakes.x[i]! * scale,
      y = flakes.y[i]! * scale,
      behind = v.orbit <= 0 && r(20) < v.behind;
    if (v.orbit > 0) {
      const turn = TURN * (r(24) + v.orbitTurns * perFrame * age * (0.75 + 0.5 * r(25))),
        radius = v.orbit * (0.6 + 0.4 * r(26)) * (1 - v.orbitCloses * part);
      x += radius * cos(turn);
      y += radius * sin(turn) * (1 - v.orbitFlat);
      // Nearer than the body while it comes round the front.
      behind = sin(turn) < 0;
    }
    const vx = flakes.vx[i]! * scale,
      vy = flakes.vy[i]! * scale,
      speed = hypot(vx, vy),
      drawnOut = v.streak > 0 ? 0.5 * speed * v.streak : 0,
      long = size + drawnOut,
      turn =
        drawnOut > 0.25 * size && speed > 1e-6
          ? atan2(vy, vx) + (v.smear === 'across' ? TURN / 4 : 0)
          : TURN * (v.sprite === 'soft dot' || v.sprite === 'disc' ? 0 : r(22)) + radians(v.spin) * age * (r(23) < 0.5 ? 1 : -1);
    const fade =
        (v.fadeIn > 0 ? smoothstep(0, v.fadeIn, part) : 1) *
        (v.fadeOut > 0 ? smoothstep(1, 1 - v.fadeOut, part) : 1) *
        (1 - v.flicker * noise2(draw.frame * 0.9 + (id & 1023), 0.5, v.seed + 5)),
      // Light that is drawn out thins.
      cover = fade * (asLight ? (v.strength / share) * (size / long) : Math.min(1, v.strength));
    let red = mix(v.young[0], v.old[0], part),
      green = mix(v.young[1], v.old[1], part),
      blue = mix(v.young[2], v.old[2], part);
    if (v.colours === 'from the picture') {
      red = mix(flakes.red[i]!, red, v.tint);
      green = mix(flakes.green[i]!, green, v.tint);
      blue = mix(flakes.blue[i]!, blue, v.tint);
    }
    drawn.add(
      x,
      y,
      [long, size * v.aspect],
      turn,
      pictureAt(v, age, r(27), stamps),
      [red, green, blue],
      cover,
      asLight ? 0 : 1,
      behind,
      v.mirrored > 0 && r(32) < v.mirrored,
    );
  }
  return drawn;
}

/**
 * Which stamp a particle shows: one that stays with it, or of a drawn sequence the one that it has come to, each having begun elsewhere.
 * @param chance 0..1, the particle's own.
 */
export function pictureAt(
  v: Pick<V, 'sprite' | 'plays' | 'playRate' | 'firstPicture' | 'lastPicture'>,
  age: number,
  chance: number,
  stamps: number,
): number {
  if (v.sprite !== 'drawn') return Math.floor(chance * stamps);
  const first = clamp(Math.round(Math.min(v.firstPicture, v.lastPicture)) - 1, 0, stamps - 1),
    n = clamp(Math.round(Math.max(v.firstPicture, v.lastPicture)), first + 1, stamps) - first,
    begun = Math.floor(chance * n),
    gone = Math.floor(age * v.playRate);
  switch (v.plays) {
    case 'one each':
      return first + begun;
    case 'plays':
      return first + ((begun + gone) % n);
    case 'plays backwards':
      return first + ((((begun - gone) % n) + n) % n);
    case 'there and back': {
      const way = Math.max(1, 2 * n - 2),
        at = (begun + gone) % way;
      return first + (at < n ? at : way - at);
    }
  }
}

/** Stamps of a shape; those of a drawn picture need one. */
const stampsOf = (name: Sprite, drawn: readonly Picture[] | null): Sheet | null =>
  name !== 'drawn' ? sheetOf(name) : drawn?.length ? sheetFrom(drawn) : null;

/** Particles that are born on a mount, or on a matte, and then live in the air of the shot. */
export const emitter = effect({
  type: 'emitter',
  version: 1,
  title: 'Emitter',
  summary: 'Particles from a mount or a matte that then move in the air: sparks, motes, embers, rain, liquid.',
  recipes,
  shown: { frame: 1084, on: 'lantern' },
  lanes: ['front', 'on', 'behind', 'foreground', 'background', 'whole'],
  facts: ['frame', 'framesPerSecond', 'frameInRow', 'subjectPixels', 'subjectMetres'],
  flies: true,
  origin: 'middle',
  params: emitterParams,
  inputs: {
    mount: { kind: 'mount', optional: true, title: 'Mount' },
    smallMatte: { kind: 'matte', size: 'quarter', optional: true, title: 'Source, quarter size' },
    smallPlate: { kind: 'plate', size: 'quarter', optional: true, title: 'Performance, quarter size' },
    drawn: { kind: 'element', optional: true, title: 'Drawn picture' },
  },
  alive(v, { framesPerSecond, frames }) {
    const life = Math.min(frames, Math.ceil(v.life * (1 + v.lifeVariation))),
      bursts = v.burstEvery > 0 ? Math.ceil(life / v.burstEvery) : 1;
    return Math.min(v.total > 0 ? v.total : Infinity, (v.rate / framesPerSecond) * life + v.burst * bursts);
  },
  without: (v) => (v.sprite === 'drawn' || v.other === 'drawn' ? [] : ['drawn']),
  history: {
    uses: past,
    reads: (v) => [
      'mount',
      ...(v.from === 'matte area' || v.from === 'matte edge' || v.stirs === 'outside the body' ? (['smallMatte'] as const) : []),
      ...(v.colours === 'from the picture' ? (['smallPlate'] as const) : []),
    ],
    before: {},
    start: (): State => ({ flakes: newFlakes(0), born: 0, at: null, mount: null }),
    bytes: (state) => flakesBytes(state.flakes) + 64,
    step(state, v, _, read, draw) {
      const at = read.mount.toPicture(v.place),
        born = newborn(v, read as Read, draw, state, at),
        older = state.flakes.count > 0,
        flakes = moveFlakes(state.flakes, { ...air(v, draw), stirred: outside(state.flakes, v, read.smallMatte) }, draw.pictures, born);
      if (older) steer(flakes, flakes.count - born.count, v, draw, at, state.mount, read.mount);
      return { flakes, born: state.born + born.count, at, mount: read.mount };
    },
  },
  render(draw, v, { drawn }, state) {
    const { flakes } = state;
    if (!flakes.count) return {};
    const sheet = stampsOf(v.sprite, drawn),
      other = v.other === 'none' ? null : stampsOf(v.other, drawn);
    if (!sheet) return {};
    const { width, height, pictures } = draw,
      layers = drawSprites(arrange(flakes, v, draw, sheet, other, 'first'), sheet, width, height, pictures);
    if (other) {
      const more = drawSprites(arrange(flakes, v, draw, sheet, other, 'other'), other, width, height, pictures);
      for (const side of ['front', 'behind'] as const) {
        const under = layers[side],
          over = more[side];
        if (under && over) {
          blendOver(over, under, 'normal', 1, pictures, under);
          pictures.give(over);
        } else layers[side] = (under ?? over)!;
      }
    }
    if (v.liquid > 0)
      for (const layer of [layers.front, layers.behind]) if (layer) gatherLiquid(layer, v.liquid, v.gather, v.shine, pictures);
    return { layer: layers.front, behind: layers.behind };
  },
  handles: [
    { shape: 'point', moves: 'place' },
    { shape: 'radius', sets: 'reach', about: 'place' },
  ],
  checks: [
    {
      id: 'empty-source',
      find: ({ matte, name, values }) =>
        (values.from === 'matte area' || values.from === 'matte edge') && !matte
          ? { text: `${name} emits from a matte, and there is none.`, fix: 'Choose a matte, or let it emit from a point or an ellipse.' }
          : null,
    },
    {
      id: 'nothing-born',
      find: ({ name, values }) =>
        values.rate <= 0 && values.burst <= 0
          ? { text: `${name} emits no particles: rate and burst are both 0.`, fix: 'Raise the rate or the burst.' }
          : null,
    },
    {
      id: 'no-drawn-picture',
      find: ({ element, name, values }) =>
        !element && (values.sprite === 'drawn' || values.other === 'drawn')
          ? { text: `${name} draws pictures of a clip, and has none.`, fix: 'Choose an element, or another shape.' }
          : null,
    },
  ],
});
