import { exactMath } from '@wraithos/core/image';
import { LANTERN_DROP } from './lantern';
import type { Arm, Leg, Stance } from './stance';
import { add, bend, cross, place, sub, times, turned, unit, type Frame, type V3 } from './vector';

const { cos, mix, PI, sin, smoothstep } = exactMath;

export interface Foot {
  /** Where the ankle stands, without its height. */
  at: V3;
  lift: number;
  /** Radians, toes down. */
  pitch: number;
}
/** What she means to do at a moment; what follows from weight and cloth comes on top. Radians; hands from the ground below her pelvis (side, up, ahead). */
export interface Intent {
  feet: [Foot, Foot];
  heading: number;
  chestTurn: number;
  lean: number;
  crouch: number;
  headTurn: number;
  headPitch: number;
  hands: [V3, V3];
  blink: number;
  /** From the hand to the head of what she swings, in the same directions as the hands. */
  mallet?: V3;
}
export interface Act {
  frames: number;
  /** Frames before 0 that are shown too: a run-in, at times below 0. */
  runIn?: number;
  carries: boolean;
  /** Metres a second² of wind on loose cloth. */
  wind: V3;
  intend(t: number): Intent;
}

/** One foot's way: it stands, or is on its way from one place to the next. */
export interface Step {
  foot: 0 | 1;
  from: number;
  to: number;
  at: V3;
}
/** Where both feet are at a time, beginning at `start`. */
export function stepping(start: [V3, V3], steps: readonly Step[], t: number): [Foot, Foot] {
  return start.map((begun, foot) => {
    let at = begun;
    for (const step of steps) {
      if (step.foot !== foot) continue;
      if (t >= step.to) at = step.at;
      else if (t > step.from) {
        const s = (t - step.from) / (step.to - step.from),
          way = s * s * s * (s * (s * 6 - 15) + 10);
        return {
          at: add(at, times(sub(step.at, at), way)),
          lift: 0.085 * sin(PI * s) * (1 - 0.35 * s),
          pitch: 0.75 * sin(PI * Math.min(1, s * 1.7)) * (1 - s) - 0.42 * smoothstep(0.6, 0.9, s) * smoothstep(1.02, 0.93, s),
        };
      }
    }
    return { at, lift: 0, pitch: 0 };
  }) as [Foot, Foot];
}

const THIGH = 0.43,
  SHIN = 0.43,
  ANKLE = 0.075,
  HIP = 0.92;
const PER_FRAME = 4,
  SETTLES = 30,
  GRAVITY = 9.81 / 576; // metres a frame²
const LINKS = 4;
// Places in a moment's row of numbers.
const PELVIS = 0,
  SWAY = 3,
  HEM = 5,
  SWING = 7,
  HEAD = 9,
  TAIL = 11,
  WIDTH = TAIL + 3 * LINKS;

const aheadOf = (heading: number): V3 => [sin(heading), 0, -cos(heading)];
const sideOf = (heading: number): V3 => [cos(heading), 0, sin(heading)];

/**
 * An act played through once: her weight, chest and head follow what she means with springs, coat, scarf and lantern follow those. Any moment,
 * also between frames, can then be asked for.
 */
export class Performance {
  private readonly rows: Float64Array;
  private readonly count: number;
  /** Frames before 0 that are played, so that everything hangs at rest in the first that is shown. */
  private readonly before: number;

  constructor(private readonly act: Act) {
    this.before = SETTLES + (act.runIn ?? 0);
    this.count = (act.frames + this.before + 3) * PER_FRAME;
    this.rows = new Float64Array(this.count * WIDTH);
    this.play();
  }

  private play(): void {
    const { act } = this,
      now = new Float64Array(WIDTH),
      speed = new Float64Array(WIDTH),
      dt = 1 / PER_FRAME;
    /** A damped spring towards `to`; `stiff` in radians a frame. */
    const follow = (i: number, to: number, stiff: number, damp: number) => {
      speed[i]! += (stiff * stiff * (to - now[i]!) - 2 * damp * stiff * speed[i]!) * dt;
      now[i]! += speed[i]! * dt;
    };
    const first = this.wanted(-this.before);
    now.set(first, PELVIS);
    now[HEM] = first[0]!;
    now[HEM + 1] = first[2]!;
    let hand: V3 | null = null,
      handSpeed: V3 = [0, 0, 0];
    for (let k = 0; k < this.count; k++) {
      const t = k / PER_FRAME - this.before,
        want = this.wanted(t),
        { heading } = act.intend(t);
      const vx = speed[PELVIS]!,
        vz = speed[PELVIS + 2]!;
      follow(PELVIS, want[0], 0.62, 0.85);
      follow(PELVIS + 1, want[1], 0.9, 0.8);
      follow(PELVIS + 2, want[2], 0.62, 0.85);
      // The chest stays behind where the pelvis is pushed, and comes after.
      const ax = (speed[PELVIS]! - vx) / dt,
        az = (speed[PELVIS + 2]! - vz) / dt,
        ahead = aheadOf(heading),
        side = sideOf(heading);
      follow(SWAY, -5 * (ax * side[0] + az * side[2]), 0.4, 0.5);
      follow(SWAY + 1, -5 * (ax * ahead[0] + az * ahead[2]), 0.4, 0.5);
      // The hem hangs from the pelvis like a slow bell.
      follow(HEM, now[PELVIS]! + 0.012 * sin(t * 0.21) * act.wind[0], 0.42, 0.28);
      follow(HEM + 1, now[PELVIS + 2]!, 0.42, 0.28);
      const { headTurn, headPitch } = act.intend(t);
      follow(HEAD, headTurn, 0.38, 0.75);
      follow(HEAD + 1, headPitch, 0.34, 0.7);
      const stance = this.stand(t, now),
        palm = stance.arms[0].hand;
      if (hand) {
        const v = times(sub(palm, hand), 1 / dt);
        if (k > 1)
          for (const [i, axis] of [
            [SWING, 0],
            [SWING + 1, 2],
          ] as const) {
            // Her wrist gives way to the side, and less towards the camera.
            const pushed = ((v[axis] - handSpeed[axis]) / dt) * (axis === 0 ? 0.8 : 0.15),
              drop = LANTERN_DROP;
            speed[i]! += (-(GRAVITY / drop) * sin(now[i]!) - pushed / drop - 0.34 * speed[i]!) * dt;
            now[i]! = Math.max(-0.5, Math.min(0.5, now[i]! + speed[i]! * dt));
          }
        handSpeed = v;
      }
      hand = palm;
      // The end of the scarf lies on her front, each part slower than the one above it.
      const { chest, pelvis } = stance,
        blown = 0.5 + 0.5 * sin(t * 0.13) * sin(t * 0.057 + 1),
        rest = [
          place(chest, 0.042, -0.015, 0.146),
          place(chest, 0.046, -0.12, 0.158),
          place(pelvis, 0.052, 0.175, 0.165),
          place(pelvis, 0.056, 0.075, 0.172),
        ];
      rest.forEach((place, i) => {
        const flutter = 0.006 * i * sin(t * 0.31 - 0.9 * i);
        for (let c = 0; c < 3; c++) {
          const to = place[c]! + (0.002 * act.wind[c]! * blown + flutter * chest.side[c]!) * (i + 1);
          if (k === 0) now[TAIL + 3 * i + c] = to;
          follow(TAIL + 3 * i + c, to, 1.15 - 0.13 * i, 0.4);
        }
        // It does not go into her.
        const f = i < 2 ? chest : pelvis,
          at = TAIL + 3 * i,
          deep = (now[at]! - f.at[0]) * f.ahead[0] + (now[at + 1]! - f.at[1]) * f.ahead[1] + (now[at + 2]! - f.at[2]) * f.ahead[2],
          least = 0.14 + 0.008 * i;
        if (deep < least) for (let c = 0; c < 3; c++) now[at + c]! += (least - deep) * f.ahead[c]!;
      });
      this.rows.set(now, k * WIDTH);
    }
  }

  /** Where her pelvis wants to be: between her feet, over the one that carries, as high as her legs reach. */
  private wanted(t: number): V3 {
    const { feet, crouch } = this.act.intend(t),
      loads = feet.map((f) => 1 / (1 + 22 * f.lift)),
      sum = loads[0]! + loads[1]!,
      x = (feet[0].at[0] * loads[0]! + feet[1].at[0] * loads[1]!) / sum,
      z = (feet[0].at[2] * loads[0]! + feet[1].at[2] * loads[1]!) / sum;
    let y = 2;
    for (const f of feet) {
      if (f.lift > 0.02) continue;
      const dx = x - f.at[0],
        dz = z - f.at[2],
        reach = THIGH + SHIN - 0.012;
      y = Math.min(y, ANKLE + Math.sqrt(Math.max(0.3, reach * reach - dx * dx - dz * dz)) + 0.02);
    }
    return [x, Math.min(y, HIP + 0.02) - crouch, z];
  }

  private stand(t: number, row: Float64Array): Stance {
    const intent = this.act.intend(t),
      { heading } = intent,
      ahead = aheadOf(heading),
      side = sideOf(heading),
      up: V3 = [0, 1, 0];
    const at: V3 = [row[PELVIS]!, row[PELVIS + 1]!, row[PELVIS + 2]!],
      pelvis: Frame = { at, side, up, ahead };
    const breath = sin((2 * PI * t) / 66),
      lean = intent.lean + row[SWAY + 1]!,
      tilt = row[SWAY]!;
    const turnedBy = (f: Omit<Frame, 'at'>, yaw: number, pitch: number, roll: number): Omit<Frame, 'at'> => {
      const yawed = {
        side: turned(f.side, f.up, sin(-yaw), cos(yaw)),
        up: f.up,
        ahead: turned(f.ahead, f.up, sin(-yaw), cos(yaw)),
      };
      const pitched = {
        side: yawed.side,
        up: turned(yawed.up, yawed.side, sin(-pitch), cos(pitch)),
        ahead: turned(yawed.ahead, yawed.side, sin(-pitch), cos(pitch)),
      };
      return {
        side: turned(pitched.side, pitched.ahead, sin(roll), cos(roll)),
        up: turned(pitched.up, pitched.ahead, sin(roll), cos(roll)),
        ahead: pitched.ahead,
      };
    };
    const trunk = turnedBy({ side, up, ahead }, intent.chestTurn, lean, tilt);
    const chestAt = add(at, add(times(trunk.up, 0.4 + 0.004 * breath), times(trunk.ahead, 0.012))),
      chest: Frame = { at: chestAt, ...trunk },
      skull = turnedBy(trunk, row[HEAD]! - 0.6 * tilt, row[HEAD + 1]! - 0.6 * lean, -0.5 * tilt),
      neck = place(chest, 0, 0.17, 0.005),
      skullFrame: Frame = { at: add(neck, add(times(skull.up, 0.135), times(skull.ahead, 0.028))), ...skull };
    const ground: Frame = { at: [at[0], 0, at[2]], side, up, ahead };
    const legs = intent.feet.map((foot, i): Leg => {
      const hip = place(pelvis, i ? 0.085 : -0.085, 0, 0),
        back = sin(foot.pitch) * 0.12,
        ankle: V3 = [foot.at[0], ANKLE + foot.lift + Math.max(0, back), foot.at[2]],
        toeWay = add(times(ahead, cos(foot.pitch)), [0, -sin(foot.pitch), 0]),
        { joint, end } = bend(hip, ankle, THIGH, SHIN, add(ahead, times(side, i ? 0.12 : -0.12)));
      return { hip, knee: joint, ankle: end, toe: add(add(end, times(toeWay, 0.165)), [0, -0.04, 0]) };
    }) as [Leg, Leg];
    const arms = intent.hands.map((h, i): Arm => {
      const shoulder = place(chest, i ? 0.175 : -0.175, 0.095 + 0.05 * smoothstep(1.35, 1.75, h[1]), -0.005),
        wanted = place(ground, h[0], h[1] + (at[1] - HIP) + 0.006 * breath, h[2]),
        pole = add(add(times(side, i ? 0.45 : -0.45), [0, -0.8, 0]), times(ahead, -0.45)),
        { joint, end } = bend(shoulder, wanted, 0.29, 0.27, pole);
      return { shoulder, elbow: joint, hand: end };
    }) as [Arm, Arm];
    const palm = add(arms[0].hand, times(unit(sub(arms[0].hand, arms[0].elbow)), 0.05)),
      fall: V3 = unit([sin(row[SWING]!), -1, sin(row[SWING + 1]!)]),
      lampUp = times(fall, -1),
      // A hook lets it keep its face to the camera, however she turns.
      lampSide = unit(cross(lampUp, cross(unit([palm[2], 0, -palm[0]]), lampUp)));
    const m = intent.mallet,
      grip = add(arms[0].hand, times(unit(sub(arms[0].hand, arms[0].elbow)), 0.05));
    return {
      pelvis,
      chest,
      head: skullFrame,
      legs,
      arms,
      hem: [row[HEM]!, at[1] - 0.6, row[HEM + 1]!],
      tail: Array.from({ length: LINKS }, (_, i): V3 => [row[TAIL + 3 * i]!, row[TAIL + 3 * i + 1]!, row[TAIL + 3 * i + 2]!]),
      lantern: this.act.carries ? { at: palm, side: lampSide, up: lampUp, ahead: cross(lampSide, lampUp) } : null,
      mallet: m ? { hand: grip, head: add(grip, add(add(times(side, m[0]), [0, m[1], 0]), times(ahead, m[2]))) } : null,
      blink: intent.blink,
      breath,
    };
  }

  /** How she stands at a time in frames, also between them. */
  at(t: number): Stance {
    const place = Math.max(0, Math.min(this.count - 1.001, (t + this.before) * PER_FRAME)),
      k = Math.floor(place),
      share = place - k,
      row = new Float64Array(WIDTH);
    for (let i = 0; i < WIDTH; i++) row[i] = mix(this.rows[k * WIDTH + i]!, this.rows[(k + 1) * WIDTH + i]!, share);
    return this.stand(t, row);
  }
}
