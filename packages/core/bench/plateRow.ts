import { mkdtempSync, rmSync, writeFileSync, appendFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bandThreads, computingThreads } from '../../runtime/src/bandThreads';
import { Arena, fractal2, uniform } from '../src/image';
import { buildPlate } from '../src/plate';
import type { Work } from './measure';
import { runFfmpeg } from './peers';

const WIDE = 768,
  HIGH = 576,
  FRAMES = 120;

const GRAIN = Float32Array.from({ length: 65_536 }, (_, i) => uniform(i, 5, 1)),
  WALL = Float32Array.from({ length: WIDE * HIGH }, (_, i) => 60 + 110 * fractal2((i % WIDE) / 60, Math.floor(i / WIDE) / 60, 5, 3));

/** A grainy wall past which blocks walk, as bytes of red, green and blue. */
function frameOf(f: number): Uint8Array {
  const out = new Uint8Array(WIDE * HIGH * 3);
  for (let y = 0, i = 0; y < HIGH; y++)
    for (let x = 0; x < WIDE; x++) {
      const walker = (x + 7 * f) % 256 < 40 && y > 200 ? 60 : 0,
        wall = WALL[y * WIDE + x]! - walker;
      for (let c = 0; c < 3; c++, i++) out[i] = wall + 20 * c + 8 * GRAIN[(i * 31 + f * 97_777) & 0xffff]!;
    }
  return out;
}

/** The clean plate of 120 frames, against ffmpeg's median over time of the same ones; both on all threads of the machine. */
export function plateOf120(): Work {
  const folder = mkdtempSync(join(tmpdir(), 'bench-')),
    file = join(folder, 'walk.raw'),
    frames = Array.from({ length: FRAMES }, (_, f) => frameOf(f)),
    helpers = bandThreads(computingThreads() - 1),
    arena = new Arena(256 * 2 ** 20, helpers),
    input = ['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${WIDE}x${HIGH}`, '-i', file];
  writeFileSync(file, frames[0]!);
  for (const frame of frames.slice(1)) appendFileSync(file, frame);
  return {
    work: 'plate-120',
    width: WIDE,
    height: HIGH,
    peer: 'ffmpeg tmedian',
    async run() {
      const built = await buildPlate(
        {
          width: WIDE,
          height: HIGH,
          channels: 3,
          bits: 8,
          count: FRAMES,
          rows: (f, y0, y1) => Promise.resolve(frames[f]!.subarray(y0 * WIDE * 3, y1 * WIDE * 3)),
        },
        { transfer: 'srgb' },
        arena,
      );
      return built.frame(0);
    },
    async timePeer() {
      const half = FRAMES / 2,
        less = await runFfmpeg([...input, '-f', 'null', '-']),
        all = await runFfmpeg([...input, '-vf', `tmedian=radius=${half - 1}`, '-frames:v', '1', '-f', 'null', '-'], computingThreads());
      return Math.max(0, all - less);
    },
    samples: 1,
    close: async () => {
      rmSync(folder, { recursive: true, force: true });
      await helpers.close();
    },
  };
}
