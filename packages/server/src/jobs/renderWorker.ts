import type { MessagePort } from 'node:worker_threads';
import { FrameRenderer } from '@wraithos/core/render';
import { BlobStore, FrameStore, readAhead, renderRun } from '@wraithos/runtime';
import type { RenderTask } from './renderPool';

let kept: { key: string; renderer: FrameRenderer } | null = null;

/** Draws one run of frames. The renderer stays for the next run of the same size, with what it remembers. */
export default async function draw(task: RenderTask & { port: MessagePort }) {
  const frames = new FrameStore(task.framesFolder),
    blobs = new BlobStore(task.blobsFolder),
    flag = new Int32Array(task.cancel);
  const sources = {
    frame: (clip: { media: object; name: string }, frame: number) => {
      if (!('hash' in clip.media)) throw new Error(`The clip "${clip.name}" is not in the store.`);
      return frames.codes(clip.media.hash as string, frame).catch((error: Error) => {
        throw new Error(`The clip "${clip.name}" cannot be read: ${error.message}.`);
      });
    },
    samples: (hash: string) => blobs.get(hash),
  };
  const key = `${task.shot.width}x${task.shot.height} ${task.framesFolder}`;
  if (kept?.key !== key)
    kept = { key, renderer: new FrameRenderer(readAhead(sources), task.shot, 512 * 2 ** 20, () => performance.now(), false) };
  try {
    return await renderRun(task.shot, sources, task.frames, task.folder, {
      bits: task.bits,
      factor: task.factor,
      resume: true,
      renderer: kept.renderer,
      onFrame: (frame) => task.port.postMessage(frame),
      cancelled: () => Atomics.load(flag, 0) === 1,
    });
  } catch (error) {
    if ((error as Error).message === 'cancelled') return { drawn: 0, kept: 0, milliseconds: 0, cost: {} };
    throw error;
  }
}
