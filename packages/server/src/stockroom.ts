import { encodeValue } from '@wraithos/core/image';
import { existsSync } from 'node:fs';
import { mkdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Imported, StockItem } from '@wraithos/contract';
import { hashMedium, probe, writeStrip } from '@wraithos/runtime';
import { Medium, StockEntity } from './database/entities';
import type { Services } from './services';

/** What the index of our own elements says of each. */
interface Shelf {
  id: string;
  name: string;
  about: string;
  loops: boolean;
  light: boolean;
  width: number;
  height: number;
  frames: number;
}

/**
 * Ready-made elements: ours lie as numbered pictures in a folder of the program, and come into the store when somebody first uses them; one's own are
 * clips that were kept by name.
 */
export class Stockroom {
  private readonly hashes = new Map<string, Promise<string>>();
  /** @param folder where ours are; null where there are none. */
  constructor(
    private readonly services: Pick<Services, 'database' | 'disk' | 'frames' | 'folders'>,
    private readonly folder: string | null,
  ) {}

  private async shelf(): Promise<Shelf[]> {
    const index = this.folder && join(this.folder, 'index.json');
    return index && existsSync(index) ? (JSON.parse(await readFile(index, 'utf8')) as Shelf[]) : [];
  }

  async list(): Promise<StockItem[]> {
    const { manager } = this.services.database,
      own = await manager.find(StockEntity, { order: { created: 'ASC' } }),
      info = new Map((await manager.find(Medium)).map((m) => [m.hash, m.info]));
    return [
      ...(await this.shelf()).map((item) => ({ ...item, own: false })),
      ...own.flatMap(({ id, name, hash, loops, light }) => {
        const medium = info.get(hash);
        return medium
          ? [{ id, name, about: '', own: true, loops, light, width: medium.width, height: medium.height, frames: medium.frames }]
          : [];
      }),
    ];
  }

  /**
   * Brings the frames of an element into the store where they are not there yet. Null where there is no such element.
   * @throws as `disk.admit` does where the disk is full.
   */
  async use(id: string): Promise<Imported | null> {
    const { database, frames } = this.services,
      own = await database.manager.findOneBy(StockEntity, { id });
    if (own) {
      const medium = await database.manager.findOneBy(Medium, { hash: own.hash });
      return medium && { hash: own.hash, name: own.name, info: { ...medium.info }, note: '' };
    }
    const item = (await this.shelf()).find((s) => s.id === id);
    if (!item) return null;
    const path = join(this.folder!, id),
      // Read once: an element of the program does not change while it runs.
      hash = await (this.hashes.get(id) ?? this.hashes.set(id, hashMedium(path)).get(id)!);
    if (!(await frames.has(hash))) {
      await this.services.disk.admit();
      await frames.add(hash, path, await probe(path));
    }
    const info = await frames.info(hash);
    if (!(await database.manager.existsBy(Medium, { hash })))
      await database.manager.insert(Medium, { hash, name: item.name, info, created: new Date(), deleted: null, told: false } as never);
    else await database.manager.update(Medium, { hash }, { deleted: null });
    return { hash, name: item.name, info: { ...info }, note: '' };
  }

  /**
   * The moving thumbnail of an element: ours come with the program, those of one's own are made when they are first asked for. Null where there is no
   * such element.
   */
  async strip(id: string): Promise<string | null> {
    const item = (await this.shelf()).find((s) => s.id === id);
    if (item) return join(this.folder!, 'strips', `${id}.png`);
    const folder = join(this.services.folders.thumbnails, 'stockroom'),
      file = join(folder, `${id}.png`);
    if (existsSync(file)) return file;
    const used = await this.use(id);
    if (!used) return null;
    await mkdir(folder, { recursive: true });
    await writeStrip(file, used.info.frames, async (frame) => {
      const { data, width, height, channels, bits } = await this.services.frames.codes(used.hash, frame),
        byte = bits === 32 ? (v: number) => 255 * encodeValue(v) : (v: number) => v >> 8,
        eight = bits === 8 ? data : Uint8Array.from(data, byte);
      return sharp(Buffer.from(eight.buffer, eight.byteOffset, eight.byteLength), { raw: { width, height, channels } });
    });
    return file;
  }
}
