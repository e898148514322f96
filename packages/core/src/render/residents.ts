import type { Arena } from '../image/arena';
import { bytesOf, type Raster } from '../image/picture';

/** Part of the arena that remembered rasters may fill. */
const SHARE = 1 / 6;

/**
 * Rasters that many frames use (a clean plate, a matte that stands still), remembered where they were made: in the arena, so that no frame copies
 * them in again. The least recently used leave first, never one that the frame in work has asked for.
 */
export class Residents {
  private readonly entries = new Map<string, { raster: Raster; frame: number }>();
  private frame = 0;
  private bytes = 0;
  private readonly limit: number;
  constructor(private readonly arena: Arena) {
    this.limit = arena.capacity * SHARE;
  }

  /** A new frame begins: what the last one used may leave. */
  begin(): void {
    this.frame++;
  }
  get(key: string): Raster | undefined {
    const entry = this.entries.get(key);
    if (!entry) return undefined;
    this.entries.delete(key);
    this.entries.set(key, { raster: entry.raster, frame: this.frame });
    return entry.raster;
  }
  /** Remembers a raster of the arena. False where there is no room for it beside what this frame uses. */
  keep(key: string, raster: Raster): boolean {
    const bytes = bytesOf(raster);
    for (const [old, entry] of this.entries) {
      if (this.bytes + bytes <= this.limit) break;
      if (entry.frame === this.frame) continue;
      this.entries.delete(old);
      this.bytes -= bytesOf(entry.raster);
      this.arena.letGo(entry.raster);
    }
    if (this.bytes + bytes > this.limit) return false;
    this.arena.pin(raster);
    this.entries.set(key, { raster, frame: this.frame });
    this.bytes += bytes;
    return true;
  }
}
