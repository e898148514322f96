import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { drawings, type Drawing } from './drawings';
import { foxTruth } from './fox';

const media = join(process.cwd(), 'packages', 'demo', 'media');
const picture = async (name: string) => sharp(name).ensureAlpha().toColourspace('srgb').raw().toBuffer();
const small = async (name: string) => sharp(name).ensureAlpha().toColourspace('srgb').resize(160).raw().toBuffer();
const filesOf = async (drawing: Drawing) => (await readdir(join(media, drawing.name))).sort().map((f) => join(media, drawing.name, f));
/** Mean difference of two pictures laid on grey. */
function apart(a: Uint8Array, b: Uint8Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i += 4)
    for (let c = 0; c < 3; c++) {
      const on = (p: Uint8Array) => (p[i + c]! * p[i + 3]! + 96 * (255 - p[i + 3]!)) / 255;
      sum += Math.abs(on(a) - on(b));
    }
  return sum / (a.length * 0.75);
}

test.each(drawings.map((d) => [d.name, d] as const))(
  '%s: numbered without gaps, and as the program draws it today',
  async (_, drawing) => {
    const files = await filesOf(drawing);
    expect(files).toHaveLength(drawing.frames);
    const frame = Math.floor(drawing.frames / 3),
      kept = await picture(files[frame]!),
      today = drawing.draw(frame);
    expect(today.length).toBe(drawing.width * drawing.height * 4);
    expect(kept.length).toBe(today.length);
    // Drawings of few colours are kept with a palette, and elements as WebP, which moves their colours a little.
    if (drawing.shelf) expect(apart(kept, today)).toBeLessThan(1);
    else if (drawing.kind) expect(apart(kept, today)).toBeLessThan(0.35);
    else expect(Buffer.compare(kept, Buffer.from(today))).toBe(0);
  },
  60_000,
);

test.each(drawings.filter((d) => d.loops).map((d) => [d.name, d] as const))(
  '%s: after the last frame comes the first',
  async (_, drawing) => {
    // Small: a jump is seen there too.
    const all = await Promise.all((await filesOf(drawing)).map(small)),
      steps = all.map((p, i) => apart(p, all[(i + 1) % all.length]!)),
      closing = steps[steps.length - 1]!;
    expect(Math.min(...steps)).toBeGreaterThan(0);
    expect(closing).toBeLessThanOrEqual(1.25 * Math.max(...steps.slice(0, -1)));
  },
);

test.each(['forked-bolt', 'ember-drift', 'spark', 'compass-ring', 'tide-ring', 'strike'])(
  '%s is light: nowhere is black mixed in',
  async (name) => {
    const drawing = drawings.find((d) => d.name === `stockroom/${name}`)!;
    let darkest = 255;
    for (const file of (await filesOf(drawing)).filter((__, i) => i % 6 === 0)) {
      const p = await picture(file);
      for (let i = 0; i < p.length; i += 4) if (p[i + 3]! > 8) darkest = Math.min(darkest, Math.max(p[i]!, p[i + 1]!, p[i + 2]!));
    }
    expect(darkest).toBeGreaterThan(180);
  },
);

test('the fox is drawn on twos; its eyes have one colour of their own, and none while it blinks', async () => {
  const files = await filesOf(drawings.find((d) => d.name === 'TW_030/performance')!),
    truth = foxTruth() as { eyes: [number, number][][]; blink: number[] },
    all = await Promise.all(files.map(picture));
  for (let f = 0; f < all.length; f += 2) expect(Buffer.compare(all[f]!, all[f + 1]!)).toBe(0);
  const yellow = (p: Uint8Array) => {
    let n = 0,
      sx = 0,
      sy = 0;
    for (let i = 0, k = 0; i < p.length; i += 4, k++)
      if (p[i + 3] === 255 && Math.abs(p[i]! - 0xd9) < 6 && Math.abs(p[i + 1]! - 0xf0) < 6 && Math.abs(p[i + 2]! - 0x6a) < 8) {
        n++;
        sx += k % 1280;
        sy += Math.floor(k / 1280);
      }
    return { n, x: sx / n, y: sy / n };
  };
  for (const f of [0, 20, 40]) {
    const found = yellow(all[f]!),
      [x, y] = truth.eyes[f]![0]!;
    expect(found.n).toBeGreaterThan(120);
    expect(Math.hypot(found.x - x, found.y - y)).toBeLessThan(8);
  }
  const shut = truth.blink.findIndex((b) => b > 0.95);
  expect(shut).toBeGreaterThan(0);
  expect(yellow(all[shut]!).n).toBe(0);
  expect(yellow(all[59]!).n).toBeGreaterThan(200);
});
