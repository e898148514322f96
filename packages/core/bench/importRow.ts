import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { FrameStore } from '../../runtime/src/frameStore';
import { hashMedium, probe } from '../../runtime/src/probe';
import type { Work } from './measure';

const WIDE = 1280,
  HIGH = 720,
  FRAMES = 240;

/**
 * Ten seconds of a grainy film brought in (looked at, hashed, decoded with exact colours, kept on the disk), against ffmpeg's own decoding of it to
 * raw codes in a file, with the same exact conversion; both on all threads of the machine.
 */
export function importOf240(): Work {
  const folder = mkdtempSync(join(tmpdir(), 'bench-')),
    film = join(folder, 'film.mp4');
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-y', '-f', 'lavfi', '-i', `testsrc2=s=${WIDE}x${HIGH}:r=24`, '-frames:v', String(FRAMES)],
    ...['-vf', 'noise=alls=4:allf=t', '-c:v', 'libx264', '-preset', 'fast', '-crf', '20', '-pix_fmt', 'yuv420p', film],
  ]);
  return {
    work: 'import-240',
    width: WIDE,
    height: HIGH,
    peer: 'ffmpeg to a raw file',
    async run() {
      const store = join(folder, 'store');
      rmSync(store, { recursive: true, force: true });
      return new FrameStore(store).add(await hashMedium(film), film, await probe(film));
    },
    timePeer() {
      const raw = join(folder, 'film.raw');
      rmSync(raw, { force: true });
      const begun = performance.now();
      execFileSync('ffmpeg', [
        ...['-v', 'error', '-y', '-i', film, '-sws_flags', 'bitexact+accurate_rnd+full_chroma_int+full_chroma_inp'],
        ...['-vf', 'scale=in_range=auto:out_range=pc,format=rgb24', '-f', 'rawvideo', raw],
      ]);
      return Promise.resolve(performance.now() - begun);
    },
    samples: 1,
    close: () => {
      rmSync(folder, { recursive: true, force: true });
      return Promise.resolve();
    },
  };
}
