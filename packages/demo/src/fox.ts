import { createCanvas, type SKRSContext2D } from '@napi-rs/canvas';
import { exactMath, uniform } from '@wraithos/core/image';
import type { Place } from './filmed';

const { atan2, clamp, cos, mix, PI, sin, smoothstep } = exactMath;

/** TW_030: a fox folded from paper, drawn on twos. */
export const FOX = { width: 1280, height: 720, frames: 60 };
const INK = '#2b1c1a',
  PAPER = { light: '#f08a4b', main: '#e2703a', dark: '#b9502a', far: '#93402a', cream: '#f7ead2', shade: '#e2cfb0', sock: '#43302c' },
  EYE = '#d9f06a';
const GROUND = 590;

type P = readonly [number, number];
const lerp = (a: P, b: P, t: number): P => [mix(a[0], b[0], t), mix(a[1], b[1], t)];
/** A value by keys (drawing, value), eased between them. */
function key(d: number, keys: readonly (readonly [number, number])[]): number {
  let i = 0;
  while (i < keys.length - 2 && d >= keys[i + 1]![0]) i++;
  const [t0, v0] = keys[i]!,
    [t1, v1] = keys[i + 1]!;
  return mix(v0, v1, smoothstep(0, 1, clamp((d - t0) / (t1 - t0), 0, 1)));
}

interface Pose {
  /** Middle of the body, its pitch (radians, nose down), squash, turn and nod of the head, share of the blink, height in the air. */
  x: number;
  y: number;
  pitch: number;
  squash: number;
  turn: number;
  nod: number;
  blink: number;
  air: number;
  ears: number;
  tail: number;
  /** Paws: near and far hind, near and far fore. */
  paws: P[];
}

const STRIDE = 52;
/** A trotting paw at a phase 0..1 of its cycle, from where its leg begins: on the ground it goes back, in the air forward. */
function trot(phase: number): { along: number; up: number } {
  const p = phase - Math.floor(phase);
  if (p < 0.56) return { along: STRIDE * (1 - (2 * p) / 0.56), up: 0 };
  const s = (p - 0.56) / 0.44;
  return { along: STRIDE * (2 * smoothstep(0, 1, s) - 1), up: 40 * sin(PI * s) };
}

/** The fox at drawing 0 to 29: it trots in, gathers itself, jumps, lands, turns its head to us and blinks. */
function poseAt(d: number): Pose {
  const running = clamp(d, 0, 10.6),
    x =
      d < 10.6
        ? 170 + running * 35
        : key(d, [
            [10.6, 541],
            [12.5, 560],
            [18, 850],
            [20, 872],
            [30, 876],
          ]),
    cycle = d / 6.2;
  const air = d > 12.4 && d < 18.1 ? ((d - 12.4) / 5.7) * (1 - (d - 12.4) / 5.7) * 4 : 0,
    bob = d < 10.6 ? 7 * cos(cycle * 4 * PI) : 0,
    squash = key(d, [
      [0, 0],
      [10.4, 0],
      [12, 0.3],
      [13, -0.16],
      [15, -0.06],
      [17.6, -0.08],
      [18.6, 0.34],
      [20.4, -0.07],
      [22, 0.02],
      [23.2, 0],
    ]);
  const pitch = key(d, [
    [0, 0.02],
    [11, 0.02],
    [12.2, 0.1],
    [13.2, -0.42],
    [15.2, 0.02],
    [17.4, 0.36],
    [18.8, 0.1],
    [21, -0.03],
    [23, 0],
  ]);
  const y = GROUND - 142 - air * 165 + bob + 46 * Math.max(0, squash);
  const legs: P[] = [0, 1, 2, 3].map((leg) => {
    const fore = leg >= 2,
      base = x + (fore ? 84 : -86),
      step = trot(cycle + (leg === 0 || leg === 3 ? 0 : 0.5) + (fore ? 0.04 : 0)),
      trotting = smoothstep(11.2, 9.8, d),
      spread = leg & 1 ? 16 : -4;
    const stand: P = [base + spread + 6, GROUND],
      moving: P = [base + step.along + (leg & 1 ? 10 : 0), GROUND - step.up];
    // In the air: stretched out on the way up, gathered on top, reaching down before the landing.
    const reach = key(d, [
        [12.4, 0],
        [13.3, 1],
        [15, -0.5],
        [17, 0.8],
        [18.1, 0],
      ]),
      flying: P = fore
        ? [x + 84 + 74 * reach + 10 * (leg & 1), y + 92 + (d < 15 ? -34 : 24) * Math.abs(reach) - 30 * (1 - Math.abs(reach))]
        : [x - 86 - 84 * (d < 15 ? Math.max(0, reach) : -0.25) + 10 * (leg & 1), y + 108 - 26 * (1 - Math.abs(reach))];
    return lerp(lerp(stand, moving, trotting), flying, smoothstep(0, 0.16, air));
  });
  return {
    x,
    y,
    pitch,
    squash,
    turn: key(d, [
      [0, 0],
      [22, 0],
      [25, 1],
      [30, 1],
    ]),
    nod:
      key(d, [
        [0, 0.04],
        [11, 0.06],
        [12.4, 0.34],
        [14, -0.22],
        [17, 0.3],
        [19, 0.4],
        [21.5, -0.05],
        [23, 0.05],
        [25.4, -0.05],
        [30, -0.02],
      ]) + (d < 10.6 ? 0.05 * cos(cycle * 4 * PI + 1) : 0),
    blink: key(d, [
      [25.4, 0],
      [26, 1],
      [27.4, 1],
      [28.2, 0],
    ]),
    air,
    ears: key(d, [
      [0, 0.12],
      [12, 0.5],
      [15, 0.75],
      [18.4, 0.2],
      [20, -0.2],
      [22, 0],
      [28, 0],
      [28.8, 0.3],
      [29.6, 0],
    ]),
    tail: d,
    paws: legs,
  };
}

/** Draws one of the thirty drawings; lines tremble by less than a pixel from one to the next, as hands do. */
class Sheet {
  private line = 0;
  constructor(
    private readonly c: SKRSContext2D,
    private readonly drawing: number,
  ) {}
  private hand(p: P): P {
    const k = this.line++;
    return [p[0] + (uniform(k, this.drawing, 31) - 0.5) * 1.3, p[1] + (uniform(k, this.drawing, 32) - 0.5) * 1.3];
  }
  shape(points: readonly P[], fill: string, ink = 4.2): void {
    const { c } = this,
      held = points.map((p) => this.hand(p));
    c.beginPath();
    held.forEach(([x, y], i) => (i ? c.lineTo(x, y) : c.moveTo(x, y)));
    c.closePath();
    c.fillStyle = fill;
    c.fill();
    if (!ink) return;
    c.strokeStyle = INK;
    c.lineWidth = ink;
    c.lineJoin = c.lineCap = 'round';
    c.stroke();
  }
  fold(a: P, b: P, width = 2.2): void {
    const { c } = this,
      from = this.hand(a),
      to = this.hand(b);
    c.beginPath();
    c.moveTo(...from);
    c.lineTo(...to);
    c.strokeStyle = INK;
    c.lineWidth = width;
    c.lineCap = 'round';
    c.stroke();
  }
}

const turnedBy = (p: P, angle: number): P => [p[0] * cos(angle) - p[1] * sin(angle), p[0] * sin(angle) + p[1] * cos(angle)];

/** A leg folded of three pieces: thigh, shank and sock. */
function leg(s: Sheet, from: P, paw: P, fore: boolean, colour: string, shade: string): void {
  const dx = paw[0] - from[0],
    dy = paw[1] - 12 - from[1],
    far = Math.sqrt(dx * dx + dy * dy),
    one = 62,
    two = 66,
    d = Math.min(far, one + two - 1),
    a = (one * one - two * two + d * d) / (2 * d),
    h = Math.sqrt(Math.max(0, one * one - a * a)) * (fore ? 1 : -1) * 0.8,
    ux = dx / far,
    uy = dy / far;
  const knee: P = [from[0] + ux * a - uy * h, from[1] + uy * a + ux * h],
    end: P = [from[0] + ux * d, from[1] + uy * d];
  const across = (p: P, q: P, w: number): P => {
    const l = Math.max(1, Math.sqrt((q[0] - p[0]) * (q[0] - p[0]) + (q[1] - p[1]) * (q[1] - p[1])));
    return [(-(q[1] - p[1]) / l) * w, ((q[0] - p[0]) / l) * w];
  };
  const up = across(from, knee, fore ? 20 : 30),
    mid = across(from, knee, 12),
    low = across(knee, end, 10);
  s.shape(
    [
      [from[0] - up[0], from[1] - up[1]],
      [from[0] + up[0], from[1] + up[1]],
      [knee[0] + mid[0], knee[1] + mid[1]],
      [knee[0] - mid[0], knee[1] - mid[1]],
    ],
    colour,
  );
  const socks = lerp(knee, end, 0.45);
  s.shape(
    [
      [knee[0] - mid[0], knee[1] - mid[1]],
      [knee[0] + mid[0], knee[1] + mid[1]],
      [socks[0] + low[0], socks[1] + low[1]],
      [socks[0] - low[0], socks[1] - low[1]],
    ],
    shade,
  );
  s.shape(
    [
      [socks[0] - low[0], socks[1] - low[1]],
      [socks[0] + low[0], socks[1] + low[1]],
      [end[0] - 9, end[1] + 12],
      [end[0] + 24, end[1] + 12],
      [end[0] + 12, end[1] - 4],
    ],
    PAPER.sock,
  );
}

/** Points of the head from its middle: seen from the side, and from before. */
const HEAD: Record<string, readonly [P, P]> = {
  crown: [
    [-14, -44],
    [0, -42],
  ],
  forehead: [
    [24, -28],
    [0, -14],
  ],
  cheekL: [
    [-50, 14],
    [-66, 8],
  ],
  cheekR: [
    [44, -16],
    [66, 8],
  ],
  nose: [
    [92, 22],
    [0, 50],
  ],
  chin: [
    [8, 42],
    [0, 62],
  ],
  jawL: [
    [-20, 40],
    [-40, 38],
  ],
  jawR: [
    [60, 34],
    [40, 38],
  ],
  earLa: [
    [-44, -26],
    [-58, -24],
  ],
  earLt: [
    [-36, -112],
    [-64, -112],
  ],
  earLb: [
    [0, -44],
    [-12, -44],
  ],
  earRa: [
    [6, -44],
    [12, -44],
  ],
  earRt: [
    [20, -106],
    [64, -112],
  ],
  earRb: [
    [34, -30],
    [58, -24],
  ],
  eyeL: [
    [22, -8],
    [-27, -4],
  ],
  eyeR: [
    [52, -8],
    [27, -4],
  ],
};

function drawHead(s: Sheet, at: P, p: Pose): { eyes: P[]; nose: P } {
  const angle = p.pitch * 0.5 + p.nod,
    place = (name: string): P => {
      const [side, front] = HEAD[name]!;
      let q = lerp(side, front, p.turn);
      // Ears fold back against the wind.
      if (name.endsWith('t'))
        q = [q[0] - 34 * p.ears * (1 - 0.6 * p.turn) - (name === 'earRt' && p.turn > 0.5 ? -14 * p.ears : 0), q[1] + 22 * Math.abs(p.ears)];
      const t = turnedBy(q, angle * (1 - 0.5 * p.turn));
      return [at[0] + t[0], at[1] + t[1]];
    };
  const g = place;
  const ear = (side: 'L' | 'R', colour: string) => {
    const a = g(`ear${side}a`),
      t = g(`ear${side}t`),
      b = g(`ear${side}b`),
      base = lerp(a, b, 0.5);
    s.shape([a, t, b], colour);
    s.shape([lerp(a, base, 0.4), lerp(base, t, 0.72), lerp(b, base, 0.4)], PAPER.sock, 0);
    const tip = lerp(t, base, 0.22);
    s.fold(tip, lerp(tip, base, 0.3));
  };
  ear('R', p.turn > 0.5 ? PAPER.main : PAPER.dark);
  // Cheeks of cream paper below, the red mask folded over them.
  s.shape([g('cheekL'), g('jawL'), g('chin'), g('nose')], PAPER.cream);
  s.shape([g('cheekR'), g('jawR'), g('chin'), g('nose')], PAPER.shade);
  s.shape([g('crown'), g('cheekL'), g('nose'), g('forehead')], PAPER.light);
  s.shape([g('crown'), g('forehead'), g('nose'), g('cheekR')], PAPER.main);
  s.fold(g('forehead'), g('crown'));
  ear('L', PAPER.main);
  const nose = g('nose'),
    bridge = lerp(nose, g('forehead'), 0.2);
  s.shape([lerp(nose, g('cheekL'), 0.12), bridge, lerp(nose, g('cheekR'), 0.16), lerp(nose, g('chin'), 0.2)], INK, 2);
  const eyes: P[] = [];
  for (const side of ['L', 'R'] as const) {
    const e = g(`eye${side}`);
    // Seen from the side the far eye is behind the bridge of the nose.
    const wide = side === 'R' ? smoothstep(0.25, 0.8, p.turn) : 1;
    if (wide <= 0.05) continue;
    const w = 17 * (side === 'R' ? wide : mix(0.92, 1, p.turn)),
      h = 12.5 * (1 - p.blink),
      lean = mix(0.22, side === 'L' ? 0.2 : -0.2, p.turn) + angle * 0.6,
      at2 = (x: number, y: number): P => {
        const t = turnedBy([x, y], lean);
        return [e[0] + t[0], e[1] + t[1]];
      };
    eyes.push(e);
    if (p.blink > 0.85) {
      s.fold(at2(-w, 1), at2(0, 6), 4);
      s.fold(at2(0, 6), at2(w, 1), 4);
      continue;
    }
    s.shape([at2(-w, 2), at2(-w * 0.35, -h), at2(w * 0.5, -h * 0.8), at2(w, 1), at2(w * 0.3, h * 0.85), at2(-w * 0.5, h * 0.7)], EYE, 3.4);
    const look = mix(5, 0, p.turn);
    s.shape(
      [
        at2(look - 3.2, -h * 0.75),
        at2(look + 3.2, -h * 0.75),
        at2(look + 4.4, 0),
        at2(look + 2.6, h * 0.74),
        at2(look - 2.6, h * 0.74),
        at2(look - 4.4, 0),
      ],
      INK,
      0,
    );
  }
  return { eyes, nose };
}

function drawTail(s: Sheet, root: P, p: Pose): void {
  const sway = sin(p.tail * 0.95) * 0.2,
    lift = -0.55 - 0.5 * p.air + 0.5 * Math.max(0, p.squash) + p.pitch * 0.6,
    spine: P[] = [root];
  let angle = PI + lift * -1 + 0.15;
  for (let i = 0; i < 4; i++) {
    angle += 0.24 + sway * (0.4 + 0.3 * i);
    const last = spine[i]!,
      l = [38, 56, 56, 44][i]!;
    spine.push([last[0] + cos(angle) * l, last[1] + sin(angle) * l]);
  }
  const wide = [9, 24, 35, 29, 0],
    edge = (i: number, sign: number): P => {
      const a = spine[Math.max(0, i - 1)]!,
        b = spine[Math.min(4, i + 1)]!,
        n = atan2(b[1] - a[1], b[0] - a[0]) + (PI / 2) * sign;
      return [spine[i]![0] + cos(n) * wide[i]!, spine[i]![1] + sin(n) * wide[i]!];
    };
  s.shape([edge(0, 1), edge(1, 1), edge(2, 1), edge(3, 1), edge(3, -1), edge(2, -1), edge(1, -1), edge(0, -1)], PAPER.main);
  s.shape([edge(2, 1), edge(3, 1), spine[4]!, edge(3, -1), edge(2, -1), lerp(spine[2]!, spine[3]!, 0.7)], PAPER.cream);
  s.shape([spine[0]!, edge(1, -1), edge(2, -1), lerp(spine[2]!, spine[3]!, 0.7), spine[1]!], PAPER.dark, 2.6);
}

function paintFox(c: SKRSContext2D, drawing: number): { eyes: P[]; nose: P; paws: P[]; blink: number } {
  const p = poseAt(drawing),
    s = new Sheet(c, drawing),
    squashX = 1 + 0.32 * p.squash,
    squashY = 1 - 0.42 * p.squash;
  const body = (x: number, y: number): P => {
    const t = turnedBy([x * squashX, y * squashY], p.pitch);
    return [p.x + t[0], p.y + t[1]];
  };
  const hip = body(-92, 16),
    shoulder = body(84, 14);
  drawTail(s, body(-124, -16), p);
  leg(s, [hip[0] + 10, hip[1] + 4], p.paws[1]!, false, PAPER.far, PAPER.far);
  leg(s, [shoulder[0] + 10, shoulder[1] + 6], p.paws[3]!, true, PAPER.far, PAPER.far);
  // Back, flank and belly are three folds of one sheet.
  s.shape(
    [
      body(-134, -20),
      body(-60, -46),
      body(20, -38),
      body(92, -62),
      body(128, -8),
      body(104, 48),
      body(6, 40),
      body(-84, 52),
      body(-130, 18),
    ],
    PAPER.main,
  );
  s.shape([body(-134, -20), body(-60, -46), body(20, -38), body(92, -62), body(40, 0), body(-70, -2)], PAPER.light, 2.6);
  s.shape([body(-84, 52), body(-20, 14), body(66, 20), body(104, 48), body(6, 40)], PAPER.dark, 2.6);
  s.shape([body(92, -62), body(128, -8), body(112, 52), body(74, 28), body(78, -16)], PAPER.cream);
  leg(s, [hip[0] - 4, hip[1]], p.paws[0]!, false, PAPER.main, PAPER.dark);
  leg(s, [shoulder[0] - 8, shoulder[1] + 4], p.paws[2]!, true, PAPER.main, PAPER.dark);
  // The neck goes up to the head, which stays level while the body works.
  const head: P = lerp(body(142, -96), [p.x + 142 - 14 * p.turn, p.y - 96 + 34 * Math.max(0, p.squash)], 0.45),
    throat = body(112, 10);
  s.shape([body(70, -50), [head[0] - 34, head[1] - 14], [head[0] - 8, head[1] + 30], throat, body(92, -18)], PAPER.main);
  s.shape([[head[0] - 20, head[1] + 22], [head[0] + 8, head[1] + 32], throat, body(96, -14)], PAPER.cream, 2.6);
  const { eyes, nose } = drawHead(s, head, p);
  return { eyes, nose, paws: p.paws, blink: p.blink };
}

/** Frame 0 to 59, RGBA with straight alpha. */
export function drawFox(frame: number): Uint8Array {
  const canvas = createCanvas(FOX.width, FOX.height),
    c = canvas.getContext('2d');
  paintFox(c, frame >> 1);
  return new Uint8Array(c.getImageData(0, 0, FOX.width, FOX.height).data);
}

const places = (list: readonly P[]): Place[] => list.map(([x, y]) => [Math.round(x * 100) / 100, Math.round(y * 100) / 100]);
export function foxTruth(): Record<string, unknown> {
  const c = createCanvas(FOX.width, FOX.height).getContext('2d'),
    all = Array.from({ length: FOX.frames }, (_, f) => paintFox(c, f >> 1));
  return {
    about:
      'TW_030: places of the drawing for frames 0 to 59 (each drawing stands for two): eyes (near one first, the far one only while it is seen), nose, paws (near and far hind, near and far fore).',
    drawnOn: 2,
    colours: { eye: EYE, ink: INK },
    eyes: all.map(({ eyes }) => places(eyes)),
    nose: places(all.map(({ nose }) => nose)),
    paws: all.map(({ paws }) => places(paws)),
    blink: all.map(({ blink }) => Math.round(blink * 100) / 100),
    cues: { jumps: 25, lands: 36, looks: 48, blinks: 52 },
  };
}
