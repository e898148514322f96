import { existsSync } from 'node:fs';
import { mkdir, readdir, rename, rm } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { frameName } from '@wraithos/runtime';
import type { ShotRow } from './database/entities';
import type { Services } from './services';

/**
 * Small pictures of shots, drawn by the same core: one file a revision, one at a time, in the background. Nobody waits for one on an
 * open connection: a browser has only a few of these, and an edit that is being saved must not queue behind pictures.
 */
export class Thumbnails {
  private readonly wanted = new Map<string, ShotRow>();
  private readonly failed = new Set<string>();
  private busy = false;
  constructor(private readonly services: Pick<Services, 'folders' | 'pool'>) {}

  private folder(row: ShotRow): string {
    return join(this.services.folders.thumbnails, row.id);
  }

  /** The file of a shot's thumbnail; `drawing` where it has to be asked for again, `none` where it cannot be drawn. */
  find(row: ShotRow): { file: string } | 'drawing' | 'none' {
    const file = join(this.folder(row), `${row.revision}.png`);
    if (existsSync(file)) return { file };
    if (this.failed.has(file)) return 'none';
    // Only the newest revision of a shot is worth drawing.
    this.wanted.set(row.id, row);
    void this.next();
    return 'drawing';
  }

  private async next(): Promise<void> {
    if (this.busy) return;
    const entry = this.wanted.entries().next();
    if (entry.done) return;
    const [id, row] = entry.value;
    this.wanted.delete(id);
    this.busy = true;
    await this.draw(row).catch(() => this.failed.add(join(this.folder(row), `${row.revision}.png`)));
    this.busy = false;
    void this.next();
  }

  private async draw(row: ShotRow): Promise<void> {
    const shot = row.document,
      frame = Math.floor(shot.first + (shot.last - shot.first) * 0.66),
      folder = this.folder(row),
      part = join(folder, randomUUID()),
      name = `${row.revision}.png`,
      { pool, folders } = this.services;
    await mkdir(part, { recursive: true });
    try {
      await pool.run({
        shot,
        frames: [frame],
        folder: part,
        bits: 8,
        factor: 4,
        framesFolder: folders.frames,
        blobsFolder: folders.blobs,
        cancel: new SharedArrayBuffer(4),
      });
      await rename(join(part, frameName(frame)), join(folder, name));
      for (const old of await readdir(folder)) if (old.endsWith('.png') && old !== name) await rm(join(folder, old), { force: true });
    } finally {
      await rm(part, { recursive: true, force: true });
    }
  }
}
