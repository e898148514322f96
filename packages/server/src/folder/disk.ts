import { access, constants, open, rm, stat, statfs } from 'node:fs/promises';
import { join } from 'node:path';
import { Problem } from '../http/problem';

const MIB = 2 ** 20,
  GIB = 2 ** 30;

/** What of the disk is left, from the best to the worst. */
export type DiskLevel = 'fine' | 'low' | 'very low' | 'full' | 'read-only';
export interface DiskState {
  level: DiskLevel;
  /** Bytes. */
  free: number;
  total: number;
}
export interface DiskOptions {
  /** Fewer free bytes than this is full: no new work begins. Half of it is given back to edits from the reserve. */
  fullBelow?: number;
  /** Bytes that are kept from everything but edits. */
  reserve?: number;
  /** Milliseconds between looks. */
  everyMs?: number;
}

/** `7.3 GiB`, `120 MiB`: sizes as people read them. */
export const sizeWords = (bytes: number): string =>
  bytes >= GIB ? `${(bytes / GIB).toFixed(1)} GiB` : `${Math.max(0, Math.round(bytes / MIB))} MiB`;

/**
 * Watches the disk of the data folder. While it is full or cannot be written, new work is refused, running work waits, and a reserve that
 * was kept for it is given to the database, so that edits go on. Everything goes on by itself when there is room again.
 */
export class Disk {
  state: DiskState = { level: 'fine', free: 0, total: 0 };
  private readonly listeners = new Set<(level: DiskLevel) => void>();
  private timer: ReturnType<typeof setInterval> | null = null;
  private readonly file: string;
  private readonly fullBelow: number;
  private readonly reserve: number;
  private reserved = 0;
  private looking: Promise<DiskState> | null = null;

  constructor(
    private readonly folder: string,
    private readonly options: DiskOptions = {},
  ) {
    this.file = join(folder, 'reserve');
    this.fullBelow = options.fullBelow ?? 192 * MIB;
    this.reserve = options.reserve ?? 128 * MIB;
  }

  async start(): Promise<void> {
    this.reserved = (await stat(this.file).catch(() => null))?.size ?? 0;
    await this.look();
    this.timer = setInterval(() => void this.look().catch(() => undefined), this.options.everyMs ?? 1000);
    this.timer.unref();
  }
  close(): void {
    if (this.timer) clearInterval(this.timer);
  }
  /** Full or read-only: no work may write. */
  get closed(): boolean {
    return this.state.level === 'full' || this.state.level === 'read-only';
  }

  /** Looks at the disk now. */
  look(): Promise<DiskState> {
    return (this.looking ??= this.measure().finally(() => (this.looking = null)));
  }
  private async measure(): Promise<DiskState> {
    const { bavail, blocks, bsize } = await statfs(this.folder),
      total = blocks * bsize,
      writable = await access(this.folder, constants.W_OK).then(
        () => true,
        (error: NodeJS.ErrnoException) => error.code !== 'EROFS',
      );
    let free = bavail * bsize;
    // Once full it stays so until the reserve fits in again: work that stops and frees a little must not go on and stop at once.
    const full = free < this.fullBelow + (this.state.level === 'full' ? this.reserve : 0);
    if (!writable) return this.set({ level: 'read-only', free, total });
    if (full) free += await this.giveReserve();
    else if (this.reserved < this.reserve && free > this.fullBelow + 1.25 * this.reserve) await this.takeReserve();
    // The reserve is not room that work may use.
    const usable = full ? free - this.reserve : free;
    return this.set({
      level: full ? 'full' : usable < 2 * GIB ? 'very low' : usable < total / 10 ? 'low' : 'fine',
      free,
      total,
    });
  }
  private set(state: DiskState): DiskState {
    const before = this.state.level;
    this.state = state;
    if (before !== state.level) for (const listener of this.listeners) listener(state.level);
    return state;
  }
  private async giveReserve(): Promise<number> {
    const had = this.reserved;
    if (had) await rm(this.file, { force: true }).catch(() => undefined);
    this.reserved = 0;
    return had;
  }
  private async takeReserve(): Promise<void> {
    try {
      const file = await open(this.file, 'w');
      try {
        // Written, not only sized: a file with holes reserves nothing.
        const block = Buffer.alloc(4 * MIB, 1);
        for (let at = 0; at < this.reserve; at += block.length) await file.write(block, 0, block.length, at);
      } finally {
        await file.close();
      }
      this.reserved = this.reserve;
    } catch {
      await rm(this.file, { force: true }).catch(() => undefined);
    }
  }

  /** Hears when the level changes; gives what ends it. */
  listen(listener: (level: DiskLevel) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }
  /** Why nothing new can be written now, in words; null where it can. */
  trouble(): string | null {
    const { level, free } = this.state;
    if (level === 'read-only') return 'The disk of the data folder is read-only. Make it writable; work goes on by itself then.';
    if (level === 'full')
      return `The disk is full: ${sizeWords(free)} are left. Make room (Room on the shots page shows what uses it); work goes on by itself then.`;
    return null;
  }
  /**
   * Refuses new work before it begins.
   * @param need bytes that it will write, where that is known.
   * @throws Problem 507 in words.
   */
  async admit(need = 0): Promise<void> {
    const { free } = await this.look(),
      trouble = this.trouble();
    if (trouble) throw new Problem(507, 'disk', `${trouble} Nothing was begun.`);
    if (need > free - this.fullBelow)
      throw new Problem(
        507,
        'disk',
        `This needs ${sizeWords(need)} on the disk, and ${sizeWords(free - this.fullBelow)} may be used. Nothing was begun.`,
      );
  }
  /** Waits until there is room. @throws where the signal ends first. */
  async room(signal: AbortSignal): Promise<void> {
    await this.look();
    while (this.closed) {
      signal.throwIfAborted();
      await new Promise<void>((resolve) => {
        const over = () => {
          stop();
          signal.removeEventListener('abort', over);
          resolve();
        };
        const stop = this.listen(over);
        signal.addEventListener('abort', over, { once: true });
      });
    }
  }
}
