import { existsSync } from 'node:fs';
import { mkdir, readdir, rename, rm } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { needProblem } from '@wraithos/core/render';
import { frameName } from '@wraithos/runtime';
import type { DrawTask, Drawn } from './jobs/drawFrames';
import { jobMemory, STALL_MS } from './jobs/limits';
import type { Services } from './services';
import type { ShotEntry } from './shots';

/**
 * Small pictures of shots, drawn by the same core: one file a revision, one at a time, in the background. Nobody waits for one on an
 * open connection: a browser has only a few of these, and an edit that is being saved must not queue behind pictures.
 */
export class Thumbnails {
  private readonly wanted = new Map<string, ShotEntry>();
  private readonly failed = new Set<string>();
  private busy = false;
  constructor(private readonly services: Pick<Services, 'folders' | 'sketching' | 'shots' | 'disk'>) {}

  private folder(entry: ShotEntry): string {
    return join(this.services.folders.thumbnails, entry.id);
  }

  /** The file of a shot's thumbnail; `drawing` where it has to be asked for again, `none` where it cannot be drawn. */
  find(entry: ShotEntry): { file: string } | 'drawing' | 'none' {
    const file = join(this.folder(entry), `${entry.revision}.png`);
    if (existsSync(file)) return { file };
    if (this.failed.has(file) || this.services.disk.closed) return 'none';
    // Only the newest revision of a shot is worth drawing.
    this.wanted.set(entry.id, entry);
    void this.next();
    return 'drawing';
  }

  private async next(): Promise<void> {
    if (this.busy) return;
    const next = this.wanted.entries().next();
    if (next.done) return;
    const [id, entry] = next.value;
    this.wanted.delete(id);
    this.busy = true;
    await this.draw(entry).catch(() => this.failed.add(join(this.folder(entry), `${entry.revision}.png`)));
    this.busy = false;
    void this.next();
  }

  private async draw(entry: ShotEntry): Promise<void> {
    const { shot, entry: newest } = await this.services.shots.document(entry.id),
      { sketching, folders } = this.services;
    if (needProblem(shot, jobMemory())) throw new Error('too costly');
    const frame = Math.floor(shot.first + (shot.last - shot.first) * 0.66),
      folder = this.folder(entry),
      part = join(folder, `part-${randomUUID()}`),
      name = `${newest.revision}.png`;
    await mkdir(part, { recursive: true });
    try {
      const task: DrawTask = {
        kind: 'draw',
        shot,
        frames: [frame],
        folder: part,
        bits: 8,
        alpha: 'none',
        only: 'all',
        burn: null,
        factor: 4,
        framesFolder: folders.frames,
        blobsFolder: folders.blobs,
        helpers: 0,
      };
      await sketching.run<Drawn>(task, { memory: jobMemory(), stall: STALL_MS.thumbnail });
      await rename(join(part, frameName(frame)), join(folder, name));
      for (const old of await readdir(folder)) if (old.endsWith('.png') && old !== name) await rm(join(folder, old), { force: true });
    } finally {
      await rm(part, { recursive: true, force: true });
    }
  }
}
