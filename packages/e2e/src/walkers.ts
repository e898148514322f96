import { execFile } from 'node:child_process';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import sharp, { type Sharp } from 'sharp';
import { mediaOf } from './stage';

export const WIDE = 640,
  HIGH = 360,
  FRAMES = 40;
const run = promisify(execFile);

/** Somebody who crosses the picture: from where to where (0 is outside at the left, 1 outside at the right), how large, and pixels between feet and edge. */
export interface Walker {
  from: number;
  to: number;
  size: number;
  below: number;
  /** Turned about left and right, and in another coat. */
  other?: boolean;
}

/**
 * Makes a film in which figures slide across the clean plate of TW_010, all cut out of its frame 70. `clean` is that plate (8-bit red, green, blue);
 * `truths` are the true mattes of the first walker, 8-bit, one a frame.
 */
export async function walkers(
  folder: string,
  name: string,
  all: readonly Walker[],
): Promise<{ film: string; clean: Buffer; truths: Buffer[] }> {
  const from = mediaOf('TW_010'),
    cut = join(folder, 'figure.png'),
    frames = join(folder, name);
  await mkdir(frames, { recursive: true });
  // Frame 70 through its own matte.
  await run('ffmpeg', [
    ...['-v', 'error', '-y', '-i', join(from, 'performance.mp4'), '-i', join(from, 'truth-matte.mp4')],
    ...['-filter_complex', `[0]select=eq(n\\,70)[a];[1]select=eq(n\\,70),format=gray[m];[a][m]alphamerge,scale=${WIDE}:${HIGH}`],
    ...['-frames:v', '1', cut],
  ]);
  const figure = await sharp(cut)
      .trim({ background: { r: 0, g: 0, b: 0, alpha: 0 }, threshold: 1 })
      .png()
      .toBuffer({ resolveWithObject: true }),
    plate = sharp(join(from, 'clean.png')).resize(WIDE, HIGH).removeAlpha(),
    still = await plate.clone().png().toBuffer(),
    clean = await plate.clone().raw().toBuffer(),
    looks = await Promise.all(
      all.map(async ({ size, other }) => {
        const own = sharp(figure.data).resize({ height: Math.round(figure.info.height * size) }),
          made = await (other ? own.flop().modulate({ hue: 190, saturation: 1.4 }) : own).png().toBuffer({ resolveWithObject: true });
        return { input: made.data, width: made.info.width, height: made.info.height };
      }),
    ),
    room = Math.max(...looks.map((l) => l.width)),
    truths: Buffer[] = [],
    cropped = (image: Sharp) => image.extract({ left: room, top: 0, width: WIDE, height: HIGH });
  for (let f = 0; f < FRAMES; f++) {
    const placed = all.map((w, i) => {
        const look = looks[i]!,
          share = w.from + ((w.to - w.from) * f) / (FRAMES - 1);
        return {
          input: look.input,
          left: room - look.width + Math.round((WIDE + look.width) * share),
          top: HIGH - look.height - w.below,
        };
      }),
      empty = { width: WIDE + 2 * room, height: HIGH, channels: 4 as const, background: { r: 0, g: 0, b: 0, alpha: 0 } },
      stage = await sharp({ create: { ...empty, channels: 3, background: '#000' } })
        .composite([{ input: still, left: room, top: 0 }, ...placed])
        .png()
        .toBuffer(),
      // The matte of the first walker; those later in the list stand before it and hide it.
      alone = await sharp({ create: empty })
        .composite([placed[0]!, ...placed.slice(1).map((p) => ({ ...p, blend: 'dest-out' as const }))])
        .png()
        .toBuffer();
    await cropped(sharp(stage)).toFile(join(frames, `${String(f).padStart(3, '0')}.png`));
    truths.push(await cropped(sharp(alone)).extractChannel('alpha').raw().toBuffer());
  }
  const film = join(folder, `${name}.mp4`);
  await run('ffmpeg', [
    ...['-v', 'error', '-y', '-framerate', '24', '-i', join(frames, '%03d.png'), '-vf', 'noise=alls=5:allf=t'],
    ...['-c:v', 'libx264', '-crf', '14', '-pix_fmt', 'yuv420p', film],
  ]);
  return { film, clean, truths };
}
