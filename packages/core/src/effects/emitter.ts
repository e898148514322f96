import { atan2, clamp, cos, hypot, mix, radians, sin, smoothstep } from '../image/exactMath';
import { blendOver } from '../image/blend';
import { noise2 } from '../image/noise';
import { uniform } from '../image/random';
import type { Picture } from '../image/picture';
import { Drawn, drawSprites, flakesBytes, newFlakes, sheetFrom, sheetOf, type Flakes, type Sheet, type Sprite } from '../particles';
import type { Values } from '../params/describe';
import { effect, type Draw } from './describe';
import { overLife } from './emitterLife';
import { emitterParams } from './emitterParams';
import { frameOn, past, TURN, type Read, type State } from './emitterPast';
import { gatherLiquid } from './liquid';
import { recipes } from './recipes/emitter';

type V = Values<typeof emitterParams>;

/** More particles than this are drawn as a share in a draft, each larger (or brighter) for it. */
const ALL_DRAWN = 4000;
const LEAST_DRAWN = 0.5;

/** How far what is carried along is moved in a frame at a place, the picture's pixels. */
type Drift = (x: number, y: number) => readonly [number, number];
/** How far a particle goes while the shutter is open: by its speed, its round and what carries it. */
function movesBy(
  open: number,
  { x, y, vx, vy }: Flakes,
  i: number,
  scale: number,
  [rx, ry]: readonly [number, number],
  drift: Drift | null,
): [number, number] {
  const [dx, dy] = drift ? drift(x[i]! * scale, y[i]! * scale) : [0, 0];
  return [open * (vx[i]! * scale + rx + dx), open * (vy[i]! * scale + ry + dy)];
}

function arrange(
  flakes: Flakes,
  v: V,
  draw: Draw<'frame' | 'framesPerSecond'>,
  sheet: Sheet,
  otherSheet: Sheet | null,
  wanted: 'first' | 'other',
  drift: Drift | null,
): Drawn {
  const { scale } = draw,
    drawn = new Drawn(wanted === 'other' ? otherSheet! : sheet, flakes.count),
    share = flakes.count > ALL_DRAWN ? Math.max(LEAST_DRAWN, Math.min(1, scale)) : 1,
    asLight = v.paint === 'light',
    larger = asLight ? 1 : 1 / Math.sqrt(share),
    stamps = (wanted === 'other' ? otherSheet! : sheet).stamps.length,
    perFrame = 1 / draw.framesPerSecond,
    open = v.shutter / 360;
  for (let i = 0; i < flakes.count; i++) {
    const id = flakes.id[i]!,
      r = (channel: number) => uniform(v.seed, id, channel);
    if (share < 1 && r(19) > share) continue;
    if (otherSheet && (r(31) < v.otherShare ? 'other' : 'first') !== wanted) continue;
    const age = flakes.age[i]!,
      part = clamp(age / flakes.life[i]!, 0, 1),
      life = overLife(v, part),
      size = 0.5 * v.size * larger * (1 + v.sizeVariation * (2 * r(21) - 1)) * life.size;
    let x = flakes.x[i]! * scale,
      y = flakes.y[i]! * scale,
      behind = v.orbit <= 0 && r(20) < v.behind;
    const rounds: [number, number] = [0, 0];
    if (v.orbit > 0) {
      const turn = TURN * (r(24) + v.orbitTurns * perFrame * age * (0.75 + 0.5 * r(25))),
        radius = v.orbit * (0.6 + 0.4 * r(26)) * (1 - v.orbitCloses * part);
      x += radius * cos(turn);
      y += radius * sin(turn) * (1 - v.orbitFlat);
      const goes = TURN * v.orbitTurns * perFrame * (0.75 + 0.5 * r(25)) * radius;
      rounds[0] = -sin(turn) * goes;
      rounds[1] = cos(turn) * goes * (1 - v.orbitFlat);
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
      strength = v.strength * life.strength,
      cover = fade * (asLight ? (strength / share) * (size / long) : Math.min(1, strength));
    let [red, green, blue] = life.colour;
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
      open > 0 ? movesBy(open, flakes, i, scale, rounds, drift) : undefined,
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
  version: 2,
  // Only streaks were drawn out.
  upgrade: ({ values, curves }) => ({ values: { ...values, shutter: 0 }, curves }),
  title: 'Emitter',
  summary: 'Particles from a mount or a matte that then move in the air: sparks, motes, embers, rain, liquid.',
  recipes,
  shown: { frame: 1092, on: 'lantern' },
  lanes: ['front', 'on', 'behind', 'foreground', 'background', 'whole'],
  sharp: true,
  facts: ['frame', 'framesPerSecond', 'frameInRow', 'subjectPixels', 'subjectMetres'],
  flies: true,
  origin: 'middle',
  params: emitterParams,
  inputs: {
    mount: { kind: 'mount', optional: true, title: 'Mount' },
    smallMatte: { kind: 'matte', size: 'quarter', optional: true, title: 'Source, quarter size' },
    smallPlate: { kind: 'plate', size: 'quarter', optional: true, title: 'Performance, quarter size' },
    drawn: { kind: 'element', optional: true, title: 'Drawn picture' },
    before: { kind: 'mount', at: 'before', optional: true, title: 'Mount a frame earlier' },
  },
  alive(v, { framesPerSecond, frames }) {
    const life = Math.min(frames, Math.ceil(v.life * (1 + v.lifeVariation))),
      bursts = v.burstEvery > 0 ? Math.ceil(life / v.burstEvery) : 1;
    return Math.min(v.total > 0 ? v.total : Infinity, (v.rate / framesPerSecond) * life + v.burst * bursts);
  },
  without: (v) => [
    ...(v.sprite === 'drawn' || v.other === 'drawn' ? [] : (['drawn'] as const)),
    ...(v.shutter > 0 && v.after === 'rides on the mount' ? [] : (['before'] as const)),
  ],
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
    step: (state, v, _, read, draw) => frameOn(state, v, read as Read, draw),
  },
  render(draw, v, { drawn, mount, before }, state) {
    const { flakes } = state;
    if (!flakes.count) return {};
    const rides = v.after === 'rides on the mount' && mount.hung && before.hung && !mount.lost && !before.lost,
      drift: Drift | null = rides
        ? (x, y) => {
            const [bx, by] = before.toPicture(mount.toBody([x, y]));
            return [x - bx, y - by];
          }
        : null;
    const sheet = stampsOf(v.sprite, drawn),
      other = v.other === 'none' ? null : stampsOf(v.other, drawn);
    if (!sheet) return {};
    const { width, height, pictures } = draw,
      layers = drawSprites(arrange(flakes, v, draw, sheet, other, 'first', drift), sheet, width, height, pictures);
    if (other) {
      const more = drawSprites(arrange(flakes, v, draw, sheet, other, 'other', drift), other, width, height, pictures);
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
