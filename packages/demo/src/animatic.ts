import { createCanvas } from '@napi-rs/canvas';
import { exactMath, fractal2, uniform } from '@wraithos/core/image';
import { HEIGHT, WIDTH } from './measures';
import type { Place } from './filmed';

const { clamp, cos, hypot, PI, sin, smoothstep } = exactMath;

export const ANIMATIC = { width: WIDTH / 2, height: HEIGHT / 2 };
const PAPER = 236;
/** Frame at which she begins to come apart, and how many frames later nothing is left. */
const BEGINS = 58,
  LASTS = 34;

interface Moth {
  x: number;
  y: number;
  born: number;
  key: number;
}

/**
 * TW_010's reference: the director's pencil animatic of the shot on grey paper, half the size, in which she goes to moths. Drawn from her true
 * coverage; it shows what is wanted, not how.
 * @param mattes coverage of each frame, whole size, codes 0 to 255.
 * @param from where it begins (the lantern), in pixels of the whole picture.
 */
export function animatic(mattes: readonly Uint8Array[], from: Place): Uint8Array[] {
  const { width, height } = ANIMATIC,
    far = 330 / 2;
  const body = mattes[BEGINS]!,
    order = (x: number, y: number) => hypot(x - from[0] / 2, y - from[1] / 2) / far + 0.22 * (fractal2(x / 14, y / 14, 3, 61) - 0.5);
  const moths: Moth[] = [];
  for (let y = 2, k = 0; y < height; y += 4)
    for (let x = 2; x < width; x += 4, k++)
      if (body[2 * y * WIDTH + 2 * x]! > 128 && uniform(k, 71) < 0.42)
        moths.push({ x, y, born: BEGINS + LASTS * Math.max(0, order(x, y)) * 0.86, key: k });
  return mattes.map((matte, f) => {
    const canvas = createCanvas(width, height),
      c = canvas.getContext('2d'),
      sheet = f >> 1, // drawn on twos, too
      reached = (f - BEGINS) / LASTS / 0.86;
    c.fillStyle = `rgb(${PAPER},${PAPER},${PAPER - 5})`;
    c.fillRect(0, 0, width, height);
    c.strokeStyle = 'rgba(60,60,66,0.55)';
    c.lineWidth = 1;
    const line = (x0: number, y0: number, x1: number, y1: number, key: number) => {
      const shake = (i: number) => (uniform(key, sheet, i) - 0.5) * 1.2;
      c.beginPath();
      c.moveTo(x0 + shake(1), y0 + shake(2));
      c.quadraticCurveTo((x0 + x1) / 2 + shake(3) * 2, (y0 + y1) / 2 + shake(4) * 2, x1 + shake(5), y1 + shake(6));
      c.stroke();
    };
    line(0, 191, width, 191, 1);
    for (let i = 0; i < 2; i++) line(330 + (i ? 42 : -42), 209, i ? 660 : 0, 352, 3 + i);
    for (let i = 0; i < 6; i++) {
      const y = 215 + 3.4 * (i + 1) * (i + 1.6),
        half = ((y - 196) / 164) * 380;
      line(330 - half, y, 330 + half, y, 10 + i);
    }
    line(332, 247, 332, 360, 30);
    line(356, 247, 356, 360, 31);
    line(332, 247, 356, 247, 32);
    c.beginPath();
    c.arc(505, 59, 12, 0, 2 * PI);
    c.stroke();
    const image = c.getImageData(0, 0, width, height),
      d = image.data,
      at = (x: number, y: number) => {
        const a = matte[2 * clamp(y, 0, height - 1) * WIDTH + 2 * clamp(x, 0, width - 1)]! / 255;
        return f >= BEGINS ? a * smoothstep(reached - 0.02, reached + 0.03, order(x, y)) : a;
      };
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const a = at(x, y),
          edge = hypot(at(x + 1, y) - at(x - 1, y), at(x, y + 1) - at(x, y - 1)),
          i = (y * width + x) * 4;
        if (a <= 0 && edge <= 0) continue;
        // Hatching leans to the right; the line around her is darker.
        const hatch = 0.5 + 0.5 * sin((x + y * 0.6) * 1.15 + 1.6 * fractal2(x / 22, y / 22, 2, 65 + sheet)),
          tone = a * (0.16 + 0.3 * hatch) + 0.85 * clamp(edge * 1.2 - 0.15, 0, 1);
        for (let k = 0; k < 3; k++) d[i + k] = d[i + k]! * (1 - 0.8 * clamp(tone, 0, 1)) + 38 * 0.8 * clamp(tone, 0, 1);
      }
    c.putImageData(image, 0, 0);
    for (const m of moths) {
      const age = (sheet << 1) - m.born;
      if (age < 0 || age > 44) continue;
      const u = (k: number) => uniform(m.key, k, 73),
        x = m.x + 0.055 * age * age * (0.5 + u(1)) + 5 * sin(age * 0.22 + 6 * u(2)),
        y = m.y - age * (0.5 + 0.9 * u(3)) + 6 * sin(age * 0.17 + 6 * u(4)),
        turn = 2 * PI * u(5) + age * 0.1 * (u(6) - 0.5),
        size = (2 + 3 * u(7)) * smoothstep(44, 30, age),
        beat = 0.35 + 0.65 * Math.abs(sin(age * 0.6 + 6 * u(8)));
      c.strokeStyle = `rgba(40,40,46,${0.5 + 0.4 * u(9)})`;
      c.beginPath();
      c.moveTo(x + cos(turn) * size * beat, y + sin(turn) * size - size * 0.7);
      c.lineTo(x, y);
      c.lineTo(x - cos(turn) * size * beat, y - sin(turn) * size - size * 0.7);
      c.stroke();
    }
    const done = c.getImageData(0, 0, width, height).data,
      out = new Uint8Array(width * height * 3);
    for (let p = 0; p < width * height; p++) {
      const grain = 9 * (uniform(p % width, Math.floor(p / width), 79) - 0.5) + 5 * (fractal2((p % width) / 3, p / width / 3, 2, 83) - 0.5);
      for (let k = 0; k < 3; k++) out[p * 3 + k] = clamp(Math.round(done[p * 4 + k]! + grain), 0, 255);
    }
    return out;
  });
}
