import { exactMath } from '@wraithos/core/image';
import { closeHead, closeHeadwear } from './closeHead';
import { head, headwear, HEAD_SIZE } from './head';
import { lantern, LANTERN_DROP } from './lantern';
import type { Arm, Stance } from './stance';
import { around, join, noise3, Rod, Solid, take, wave, type Near, type Part, type Stuff } from './solid';
import { add, cross, dot, place, sub, times, unit, type V3 } from './vector';

const { atan2, clamp, mix, smoothstep } = exactMath;

/** A part of rods of one stuff that flow together; u is metres along, v the angle about the rod. */
function rods(stuff: Stuff, list: Rod[], k: number, cloth = 0): Part {
  const starts: number[] = [];
  let sum = 0;
  for (const r of list) {
    starts.push(sum);
    sum += Math.sqrt(sub(r.b, r.a).reduce((n, c) => n + c * c, 0));
  }
  const bounds = around(
    list.flatMap((r) => [r.a, r.b]),
    Math.max(...list.map((r) => Math.max(r.ra, r.rb))) + 0.02,
  );
  return {
    ...bounds,
    look(x, y, z, near) {
      let d = 1e9,
        best = 1e9,
        u = 0,
        v = 0;
      for (let i = 0; i < list.length; i++) {
        const r = list[i]!,
          one = r.distance(x, y, z);
        if (one < best) {
          best = one;
          u = starts[i]! + r.t * (i + 1 < starts.length ? starts[i + 1]! - starts[i]! : 0.05);
          v = i;
        }
        d = d > 1e8 ? one : join(d, one, k);
      }
      if (cloth && near.fine && d < 0.03) d -= cloth * (noise3(u * 30 + v * 9, (x - z) * 26, y * 22, 31) - 0.5);
      take(near, d, stuff, u, x, z);
    },
  };
}

/** Waist to hem as a soft cone with folds; the sleeves and the upper body flow into it. */
function coat(s: Stance): Part {
  const { pelvis, chest, hem, arms, legs } = s,
    breath = 0.003 * s.breath,
    waist = place(pelvis, 0, 0.1, 0),
    belly = new Rod(place(pelvis, 0, 0.05, -0.005), place(chest, 0, -0.06, 0), 0.15, 0.155 + breath, chest.ahead, 1.22),
    ribs = new Rod(place(chest, -0.075, -0.02, 0.005), place(chest, 0.075, -0.02, 0.005), 0.13 + breath, 0.13 + breath, chest.ahead, 1.12),
    shoulders = new Rod(place(chest, -0.135, 0.075, -0.01), place(chest, 0.135, 0.075, -0.01), 0.064, 0.064),
    nape = new Rod(place(chest, 0, 0.08, -0.02), place(chest, 0, 0.15, -0.015), 0.085, 0.07);
  const thighs = legs.flatMap(({ hip, knee, ankle }) => [
      new Rod(hip, knee, 0.1, 0.076),
      new Rod(knee, add(knee, times(sub(ankle, knee), 0.45)), 0.076, 0.07),
    ]),
    sleeves = arms.flatMap(({ shoulder, elbow, hand }) => {
      const wrist = add(hand, times(unit(sub(elbow, hand)), 0.06));
      return [new Rod(shoulder, elbow, 0.068, 0.058), new Rod(elbow, wrist, 0.058, 0.05)];
    }),
    cuffs = arms.map(({ elbow, hand }) => {
      const back = unit(sub(elbow, hand));
      return new Rod(add(hand, times(back, 0.055)), add(hand, times(back, 0.1)), 0.056, 0.056);
    });
  const buttons = [
    place(chest, -0.055, 0.03, 0.118),
    place(chest, 0.05, 0.03, 0.122),
    place(chest, -0.055, -0.08, 0.13),
    place(chest, 0.05, -0.08, 0.134),
  ];
  const bounds = around([waist, hem, chest.at, ...arms.flatMap((a) => [a.shoulder, a.elbow, a.hand])], 0.36);
  return {
    ...bounds,
    look(x, y, z, near: Near) {
      const t = clamp((waist[1] - y) / (waist[1] - hem[1]), -0.2, 1.1),
        inside = clamp(t, 0, 1);
      const px = x - mix(waist[0], hem[0], inside),
        pz = z - mix(waist[2], hem[2], inside);
      const du = px * pelvis.side[0] + pz * pelvis.side[2],
        dv = px * pelvis.ahead[0] + pz * pelvis.ahead[2];
      const a = mix(0.172, 0.285, inside * (1.25 - 0.25 * inside)),
        b = mix(0.14, 0.235, inside * (1.2 - 0.2 * inside));
      const q = Math.sqrt((du * du) / (a * a) + (dv * dv) / (b * b)),
        deep = inside * inside * (3 - 2 * inside);
      let d = (q - 1) * Math.min(a, b) * 0.85,
        angle = 0,
        edge = hem[1];
      if (d < 0.08) {
        angle = atan2(dv / b, du / a);
        edge += 0.012 * wave(3 * angle + 1) + 0.01 * wave(7 * angle);
        d -=
          deep *
          (0.019 * wave(5 * angle + 1.1 + 0.6 * inside) +
            0.014 * wave(9 * angle - 0.7) +
            0.008 * wave(15 * angle + 1.5 * inside) +
            (near.fine ? 0.022 * (noise3(angle * 2.2 + 7, inside * 1.4, 3, 17) - 0.5) : 0));
        // The overlap of the two fronts, a step that runs down a little beside the middle.
        d -= 0.008 * smoothstep(-0.03, 0.03, angle - 1.75 - 0.05 * inside) * smoothstep(2.6, 1.9, angle);
      } else d -= 0.03;
      d = Math.max(d, edge - y, y - waist[1] - 0.02);
      let best = 0,
        body = join(belly.distance(x, y, z), ribs.distance(x, y, z), 0.05);
      body = join(body, shoulders.distance(x, y, z), 0.07);
      body = join(body, nape.distance(x, y, z), 0.05);
      d = join(d, body, 0.05);
      for (let i = 0; i < 4; i++) d = join(d, Math.max(thighs[i]!.distance(x, y, z), edge - y), 0.09);
      let arm = 1e9,
        along = 0;
      for (let i = 0; i < 4; i++) {
        const rod = sleeves[i]!,
          one = rod.distance(x, y, z);
        if (one < arm) along = (i & 1) + rod.t;
        arm = i & 1 ? join(arm, one, 0.02) : Math.min(arm, one);
      }
      arm = Math.min(arm, cuffs[0]!.distance(x, y, z), cuffs[1]!.distance(x, y, z));
      if (near.fine && arm < 0.04) {
        // Cloth gathers at the inside of the elbow and below the shoulder.
        const creases = noise3(along * 7, y * 16, (x + z) * 16, 23) - 0.5;
        arm -= 0.02 * creases * smoothstep(0.2, 0.9, along) * smoothstep(2, 1.3, along);
      }
      if (arm < d) best = 1;
      d = join(d, arm, 0.035);
      // Belt and collar stand out a little.
      const belt = best === 0 ? smoothstep(0.035, 0.025, Math.abs(y - waist[1] + 0.01)) : 0;
      d -= 0.006 * belt;
      if (near.fine && d < 0.03 && best === 0) d -= 0.014 * (noise3(angle * 3.1, y * 9, x * 3, 29) - 0.5) * (1 - deep);
      take(near, d, belt > 0.5 ? 'boots' : 'coat', angle, y - hem[1], best ? 9 : dv);
      if (d > 0.03) return;
      // Two rows of buttons on the chest, one below the belt.
      for (let i = 0; i < 4; i++) {
        const c = buttons[i]!;
        take(near, Math.sqrt((x - c[0]) * (x - c[0]) + (y - c[1]) * (y - c[1]) + (z - c[2]) * (z - c[2])) - 0.013, 'brass', 0, 0, 0);
      }
    },
  };
}

/**
 * A hand of four fingers and a thumb. Closed, its fingers go once round what it holds; open, they hang a little bent.
 * @param facing where its palm looks: towards the body.
 * @param inner 1 for her left hand, -1 for her right one: so that the thumb is ahead.
 */
function hand({ elbow, hand: at }: Arm, closed: boolean, facing: V3, inner: number): Part {
  const way = unit(sub(at, elbow)),
    across = unit(cross(way, facing)),
    palmward = unit(cross(across, way));
  const put = (along: number, over: number, deep: number): V3 =>
    add(add(at, times(way, along)), add(times(across, over * inner), times(palmward, deep)));
  const fingers = [-1.5, -0.5, 0.5, 1.5].flatMap((f) => {
    const over = f * 0.0165,
      reach = 0.07 - 0.005 * Math.abs(f - 0.5),
      root = put(0.055, over, 0);
    const bends = closed
      ? [root, put(0.085, over, 0.012), put(0.07, over, 0.038), put(0.045, over, 0.03)]
      : [root, put(0.055 + reach * 0.5, over * 1.04, 0.006), put(0.055 + reach, over * 0.95, 0.022)];
    return bends.slice(1).map((b, i) => new Rod(bends[i]!, b, 0.0095 - 0.0006 * i, 0.0088 - 0.0008 * i));
  });
  const thumb = closed
    ? [
        new Rod(put(0.015, 0.03, 0.008), put(0.05, 0.034, 0.034), 0.012, 0.0105),
        new Rod(put(0.05, 0.034, 0.034), put(0.062, 0.016, 0.044), 0.0105, 0.009),
      ]
    : [
        new Rod(put(0.012, 0.028, 0.006), put(0.05, 0.044, 0.022), 0.0125, 0.0105),
        new Rod(put(0.05, 0.044, 0.022), put(0.077, 0.043, 0.03), 0.0105, 0.0085),
      ];
  return rods(
    'skin',
    [
      new Rod(put(-0.05, 0, 0), put(0.005, 0, 0), 0.027, 0.028),
      new Rod(put(0.012, -0.013, 0), put(0.052, -0.016, 0), 0.021, 0.0165),
      new Rod(put(0.012, 0.013, 0), put(0.052, 0.016, 0), 0.021, 0.0165),
      ...fingers,
      ...thumb,
    ],
    0.008,
  );
}

/** Two turns about the neck, a knot with the pin on it, and the end that hangs. */
function scarf(s: Stance): Part[] {
  const { chest } = s,
    middle = place(chest, 0, 0.15, 0.012);
  const turns: Part = {
    middle,
    radius: 0.19,
    look(x, y, z, near) {
      const p = sub([x, y, z], middle),
        side = p[0] * chest.side[0] + p[1] * chest.side[1] + p[2] * chest.side[2],
        up = p[0] * chest.up[0] + p[1] * chest.up[1] + p[2] * chest.up[2],
        ahead = p[0] * chest.ahead[0] + p[1] * chest.ahead[1] + p[2] * chest.ahead[2];
      const angle = atan2(ahead, side),
        flat = Math.sqrt(side * side + ahead * ahead),
        ripple = 0.006 * wave(7 * angle + 0.8) + 0.004 * wave(13 * angle);
      const tilted = up + 0.22 * ahead,
        low = Math.sqrt((flat - 0.092) * (flat - 0.092) + (tilted + 0.022) * (tilted + 0.022) * 0.8) - 0.041 - ripple,
        leaning = up + 0.1 * ahead + 0.14 * side,
        high = Math.sqrt((flat - 0.074) * (flat - 0.074) + (leaning - 0.032) * (leaning - 0.032) * 0.8) - 0.034 + ripple;
      const d = join(low, high, 0.008) * 0.92;
      const round = low < high ? atan2(tilted + 0.022, flat - 0.092) * 0.041 : atan2(leaning - 0.032, flat - 0.074) * 0.036 + 0.4;
      take(near, d, 'scarf', angle * 0.092, round, 0);
    },
  };
  const knot = place(chest, 0.035, 0.085, 0.125),
    chain = [knot, ...s.tail],
    ends = chain.slice(1).map((to, i) => new Rod(chain[i]!, to, 0.05 + 0.004 * i, 0.054 + 0.004 * i, chest.ahead, 2.3)),
    bounds = around(chain, 0.09);
  const tail: Part = {
    ...bounds,
    look(x, y, z, near) {
      let d = 1e9,
        along = 0;
      for (let i = 0; i < ends.length; i++) {
        const rod = ends[i]!,
          one = rod.distance(x, y, z);
        if (one < d + 0.01) along = i + rod.t;
        d = d > 1e8 ? one : join(d, one, 0.03);
      }
      const across = (x - knot[0]) * chest.side[0] + (z - knot[2]) * chest.side[2];
      if (d < 0.03) d -= 0.007 * wave(across * 90 + along) * smoothstep(0, 1.5, along);
      take(near, d * 0.9, 'scarf', along * 0.105, across, 1);
    },
  };
  // White enamel, a whole ball so that it is a round spot from every side, before a dark iron plate with a rim.
  const at = pinOf(s),
    plate = add(at, times(chest.ahead, -0.016));
  const pin: Part = {
    middle: at,
    radius: 0.055,
    look(x, y, z, near) {
      const p = sub([x, y, z], plate),
        deep = dot(p, chest.ahead),
        out = Math.sqrt(Math.max(0, dot(p, p) - deep * deep)),
        rim = Math.sqrt((out - 0.038) * (out - 0.038) + deep * deep) - 0.007,
        d = Math.sqrt((x - at[0]) * (x - at[0]) + (y - at[1]) * (y - at[1]) + (z - at[2]) * (z - at[2])) - 0.021;
      take(near, d, 'pin', x - at[0], y - at[1], 0);
      take(near, Math.min(rim, Math.max(Math.abs(deep) - 0.004, out - 0.038)), 'iron', x - at[0], y - at[1], 0);
    },
  };
  return [turns, tail, pin];
}

/** The middle of the pin on her scarf. */
export const pinOf = ({ chest }: Stance): V3 => place(chest, -0.02, 0.1, 0.172);
/** The middle of the lantern's glass. */
export const glassOf = ({ lantern: l }: Stance): V3 | null => l && place(l, 0, -LANTERN_DROP, 0);
/** The middle of an eyeball: her right one, or her left. */
export const eyeOf = ({ head: h }: Stance, side: -1 | 1): V3 => place(h, side * 0.031 * HEAD_SIZE, 0.004 * HEAD_SIZE, 0.081 * HEAD_SIZE);

/** The same before a long lens: what is in the picture of a head and shoulders. */
export function ilseClose(s: Stance | null): { body: Solid; whole: Solid } {
  if (!s) return { body: new Solid([]), whole: new Solid([]) };
  const head = [closeHead(s), closeHeadwear(s)],
    around = scarf(s);
  // Nothing of the coat stands between a face and its lights.
  return { body: new Solid([...head, around[0]!]), whole: new Solid([...head, ...around, coat(s)]) };
}

/** Ilse at one moment: `whole` is all that is seen, with what stands beside her; `body` is what throws shadows, which her lantern does not. */
export function ilse(s: Stance | null, beside: readonly Part[] = []): { body: Solid; whole: Solid } {
  if (!s) return { body: new Solid(beside), whole: new Solid(beside) };
  const parts: Part[] = [
    coat(s),
    ...scarf(s),
    head(s),
    headwear(s),
    hand(s.arms[0], true, s.chest.side, -1),
    hand(s.arms[1], !!s.mallet, times(s.chest.side, -1), 1),
  ];
  for (const { knee, ankle, toe } of s.legs) {
    const heel = add(ankle, add(times(unit(sub(ankle, toe)), 0.03), [0, -0.045, 0]));
    parts.push(rods('trousers', [new Rod(knee, add(ankle, [0, 0.12, 0]), 0.066, 0.053)], 0.02, 0.012));
    parts.push(
      rods(
        'boots',
        [
          new Rod(add(ankle, times(unit(sub(knee, ankle)), 0.19)), ankle, 0.056, 0.047),
          new Rod(heel, toe, 0.042, 0.038),
          new Rod(ankle, add(heel, [0, 0.01, 0]), 0.05, 0.045),
        ],
        0.03,
        0.006,
      ),
    );
  }
  if (s.mallet) {
    const { hand: from, head: to } = s.mallet,
      way = unit(sub(to, from)),
      out: V3 = unit([way[1], -way[0], 0.2]);
    parts.push(rods('wood', [new Rod(add(from, times(way, -0.12)), to, 0.015, 0.017)], 0.01));
    parts.push(rods('wood', [new Rod(add(to, times(out, -0.09)), add(to, times(out, 0.09)), 0.06, 0.06)], 0.01));
  }
  const carried = s.lantern ? [lantern(s.lantern)] : [];
  return { body: new Solid([...parts, ...beside]), whole: new Solid([...parts, ...beside, ...carried]) };
}
