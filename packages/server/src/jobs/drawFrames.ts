import { FrameRenderer, type AlphaMode, type Factor } from '@wraithos/core/render';
import type { Shot } from '@wraithos/core/shot';
import { bandThreads, BlobStore, Explained, FrameStore, readAhead, renderRun } from '@wraithos/runtime';

/** Neighbouring frames of a shot, to be drawn into numbered files. */
export interface DrawTask {
  kind: 'draw';
  shot: Shot;
  frames: number[];
  folder: string;
  bits: 8 | 16 | 'half';
  alpha: AlphaMode;
  only: string;
  factor: Factor;
  /** What is burnt in before and after each frame's number; null where nothing is. */
  burn: { before: string; after: string } | null;
  framesFolder: string;
  blobsFolder: string;
  /** Threads that help with every kernel. */
  helpers: number;
}
export interface Drawn {
  drawn: number;
  kept: number;
  milliseconds: number;
  cost: Record<string, number>;
}

let kept: { key: string; renderer: FrameRenderer; close(): Promise<void> } | null = null;

/** Draws one run of frames. The renderer stays for the next run of the same size, with what it remembers. */
export async function drawFrames(task: DrawTask, progress: (frame: number) => void): Promise<Drawn> {
  const frames = new FrameStore(task.framesFolder),
    blobs = new BlobStore(task.blobsFolder);
  const sources = {
    frame: (clip: { media: object; name: string }, frame: number) => {
      if (!('hash' in clip.media)) throw new Explained(`The clip "${clip.name}" is not in the store.`);
      return frames.codes(clip.media.hash as string, frame).catch((error: Error) => {
        throw new Explained(
          `The clip "${clip.name}" cannot be read: ${error instanceof Explained ? error.message : 'its files are damaged'}.`,
        );
      });
    },
    samples: (hash: string) => blobs.get(hash),
  };
  const key = `${task.shot.width}x${task.shot.height} ${task.framesFolder} ${task.helpers}`;
  if (kept?.key !== key) {
    await kept?.close();
    const helpers = bandThreads(task.helpers);
    kept = {
      key,
      renderer: new FrameRenderer(readAhead(sources), task.shot, 512 * 2 ** 20, () => performance.now(), false, helpers),
      close: () => helpers.close(),
    };
  }
  return renderRun(task.shot, sources, task.frames, task.folder, {
    bits: task.bits,
    alpha: task.alpha,
    only: task.only,
    factor: task.factor,
    burn: task.burn ? (frame) => `${task.burn!.before}${frame}${task.burn!.after}` : undefined,
    resume: true,
    renderer: kept.renderer,
    onFrame: progress,
  });
}
