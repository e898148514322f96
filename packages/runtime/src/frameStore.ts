import { mkdir, open, readdir, readFile, rename, rm, stat, statfs, utimes, writeFile, type FileHandle } from 'node:fs/promises';
import { createHash, randomUUID } from 'node:crypto';
import { join } from 'node:path';
import type { Bits, Codes } from '@wraithos/core/image';
import { AlphaKind } from './alphaKind';
import { decode, decodeFilm } from './decode';
import { MediaError } from './ffmpeg';
import type { MediaInfo } from './probe';

/** A name for what is being written; it never reads as that of a finished clip. */
export const partName = (): string => `part-${randomUUID()}`;
const gigabytes = (bytes: number): string => `${(bytes / 2 ** 30).toFixed(1)} GiB`;
const DAMAGED = 'its stored frames are damaged; bring the file in again';
/** Every so many frames of a clip with alpha are looked at for what kind it is. */
const LOOKED = 8;
/** Frames in one chunk file. */
const CHUNK = 24;
export interface StoredInfo extends MediaInfo {
  channels: 1 | 3 | 4;
}

/** A frame on its way to the disk: its bytes, in one piece or several. */
interface Written {
  channels: 1 | 3 | 4;
  pieces: Uint8Array[];
}
const written = ({ channels, data }: Codes): Written => ({
  channels,
  pieces: [new Uint8Array(data.buffer, data.byteOffset, data.byteLength)],
});
/** Bytes as the codes that they are. */
const asCodes = ({ buffer, byteOffset, byteLength }: Buffer, bits: Bits): Codes['data'] =>
  bits === 32
    ? new Float32Array(buffer, byteOffset, byteLength / 4)
    : bits === 16
      ? new Uint16Array(buffer, byteOffset, byteLength / 2)
      : new Uint8Array(buffer, byteOffset, byteLength);

/**
 * Source codes of clips on disk, by content hash: `HASH/info.json` and chunk files of raw frames. A clip appears whole, by one
 * rename, or not at all.
 */
export class FrameStore {
  constructor(private readonly folder: string) {}
  private path(hash: string): string {
    if (!/^[0-9a-f]{64}$/.test(hash)) throw new MediaError('that is not the name of a medium');
    return join(this.folder, hash);
  }
  async has(hash: string): Promise<boolean> {
    return (await stat(join(this.path(hash), 'info.json')).catch(() => null)) !== null;
  }
  async list(): Promise<string[]> {
    return (await readdir(this.folder).catch(() => [])).filter((n) => /^[0-9a-f]{64}$/.test(n));
  }
  async remove(hash: string): Promise<void> {
    this.infos.delete(hash);
    await rm(this.path(hash), { recursive: true, force: true });
  }
  /** Marks a clip as just used, for `limitTo`. */
  async touch(hash: string): Promise<void> {
    const now = new Date();
    await utimes(join(this.path(hash), 'info.json'), now, now).catch(() => undefined);
  }
  /** Throws away the clips that were used least recently, until the others take no more than so many bytes; never the ones in `but`. */
  async limitTo(bytes: number, but: ReadonlySet<string>): Promise<void> {
    const clips: { hash: string; size: number; used: number }[] = [];
    for (const hash of await this.list()) {
      const used = (await stat(join(this.path(hash), 'info.json')).catch(() => null))?.mtimeMs ?? 0;
      let size = 0;
      for (const name of await readdir(this.path(hash)).catch(() => []))
        size += (await stat(join(this.path(hash), name)).catch(() => null))?.size ?? 0;
      clips.push({ hash, size, used });
    }
    let all = clips.reduce((n, clip) => n + clip.size, 0);
    for (const { hash, size } of clips.sort((a, b) => a.used - b.used)) {
      if (all <= bytes) return;
      if (but.has(hash)) continue;
      await this.remove(hash);
      all -= size;
    }
  }
  /** Throws away what unfinished imports left. */
  async tidy(): Promise<void> {
    for (const name of await readdir(this.folder).catch(() => []))
      if (name.startsWith('part-')) await rm(join(this.folder, name), { recursive: true, force: true });
  }

  /** Decodes a medium into the store. Nothing is left behind where it fails or is cancelled. */
  async add(
    hash: string,
    source: string,
    info: MediaInfo,
    onFrame?: (done: number) => void,
    signal?: AbortSignal,
    part = partName(),
  ): Promise<StoredInfo> {
    const kind = new AlphaKind();
    async function* looked(): AsyncGenerator<Written> {
      let count = 0;
      // Only what has alpha is looked at; the frames of other films are written in the pieces in which they come.
      if (info.kind === 'video' && !info.alpha) for await (const pieces of decodeFilm(source, info, signal)) yield { channels: 3, pieces };
      else
        for await (const frame of decode(source, info, signal)) {
          if (info.alpha && count++ % LOOKED === 0) kind.look(frame);
          yield written(frame);
        }
    }
    const told = (stored: StoredInfo): StoredInfo =>
      kind.premultiplied
        ? {
            ...stored,
            premultiplied: true,
            notes: [...(stored.notes ?? []), 'Its colours look multiplied with their alpha and are read so; its settings can change that.'],
          }
        : stored;
    return (await this.write(info, looked(), () => hash, onFrame, part, told)).info;
  }

  /**
   * Keeps frames that were made here, under the hash of their codes: the same frames are kept once. Nothing is left behind where making them fails.
   * @param info what they are; `frames` is how many are to come.
   */
  async keep(
    info: MediaInfo,
    frames: AsyncIterable<Codes>,
    onFrame?: (done: number) => void,
    part = partName(),
  ): Promise<{ hash: string; info: StoredInfo }> {
    const hash = createHash('sha256').update(
      `${info.width} ${info.height} ${info.bitDepth} ${info.alpha} ${JSON.stringify(info.frameRate)} `,
    );
    const heard = async function* () {
      for await (const frame of frames) {
        const bytes = written(frame);
        hash.update(bytes.pieces[0]!);
        yield bytes;
      }
    };
    return this.write(info, heard(), () => hash.digest('hex'), onFrame, part);
  }

  private async write(
    info: MediaInfo,
    frames: AsyncIterable<Written>,
    nameOf: () => string,
    onFrame: ((done: number) => void) | undefined,
    part: string,
    told = (stored: StoredInfo): StoredInfo => stored,
  ): Promise<{ hash: string; info: StoredInfo }> {
    await mkdir(this.folder, { recursive: true });
    const need = info.width * info.height * (info.alpha ? 4 : 3) * (info.bitDepth / 8) * info.frames,
      disk = await statfs(this.folder),
      free = disk.bavail * disk.bsize;
    if (need > free * 0.8) throw new MediaError(`its frames need ${gigabytes(need)}, and ${gigabytes(free)} are free on the disk`);
    const place = join(this.folder, part);
    await rm(place, { recursive: true, force: true });
    await mkdir(place);
    try {
      let count = 0,
        chunk: FileHandle | null = null,
        writing: Promise<unknown> = Promise.resolve(),
        channels: 1 | 3 | 4 = 3;
      for await (const frame of frames) {
        await writing;
        if (count) onFrame?.(count);
        if (count % CHUNK === 0) {
          await chunk?.close();
          chunk = await open(join(place, `${count / CHUNK}.raw`), 'w');
        }
        channels = frame.channels;
        // The next frame is decoded while this one is written.
        writing = chunk!.writev(frame.pieces);
        writing.catch(() => undefined);
        count++;
      }
      await writing;
      if (count) onFrame?.(count);
      await chunk?.close();
      const stored = told({ ...info, frames: count, channels }),
        hash = nameOf();
      await writeFile(join(place, 'info.json'), JSON.stringify(stored));
      await rename(place, this.path(hash)).catch(async (error: NodeJS.ErrnoException) => {
        if (!(await this.has(hash))) throw error;
      });
      return { hash, info: stored };
    } finally {
      await rm(place, { recursive: true, force: true });
    }
  }

  private readonly infos = new Map<string, StoredInfo>();
  /** @throws MediaError where the store does not hold it. */
  async info(hash: string): Promise<StoredInfo> {
    const known = this.infos.get(hash);
    if (known) return known;
    const text = await readFile(join(this.path(hash), 'info.json'), 'utf8').catch(() => {
      throw new MediaError('its frames are not in the store; bring the file in again');
    });
    const info = JSON.parse(text) as StoredInfo;
    this.infos.set(hash, info);
    return info;
  }

  /** Clips that another process is writing, by the name that they will have. */
  private readonly underway = new Map<string, { part: string; info: StoredInfo; count: number }>();
  /** Lets frames of a clip be read while another process writes it. Gives what is to be told how many are there. */
  expect(hash: string, part: string, info: MediaInfo): (count: number) => void {
    const coming = { part, info: { ...info, channels: info.alpha ? 4 : 3 } as StoredInfo, count: 0 };
    this.underway.set(hash, coming);
    return (count) => (coming.count = count);
  }
  expectNoMore(part: string): void {
    for (const [hash, coming] of this.underway) if (coming.part === part) this.underway.delete(hash);
  }

  /** Bytes of one frame as stored, or of some of its rows. @throws MediaError outside the clip. */
  async raw(hash: string, frame: number, y0 = 0, y1?: number): Promise<{ info: StoredInfo; bytes: Buffer }> {
    let coming = this.underway.get(hash);
    if (coming && (await this.has(hash))) coming = undefined;
    const info = coming?.info ?? (await this.info(hash));
    if (coming && frame >= coming.count) throw new MediaError(`its frame ${frame} has not come yet`);
    if (!Number.isInteger(frame) || frame < 0 || frame >= info.frames)
      throw new MediaError(`it has no frame ${frame}; it ends at ${info.frames - 1}`);
    const line = info.width * info.channels * (info.bitDepth / 8),
      size = ((y1 ?? info.height) - y0) * line,
      file = await open(join(coming ? join(this.folder, coming.part) : this.path(hash), `${Math.floor(frame / CHUNK)}.raw`)).catch(() => {
        throw new MediaError(DAMAGED);
      });
    try {
      const bytes = Buffer.allocUnsafeSlow(size),
        { bytesRead } = await file.read(bytes, 0, size, ((frame % CHUNK) * info.height + y0) * line);
      if (bytesRead !== size) throw new MediaError(DAMAGED);
      return { info, bytes };
    } finally {
      await file.close();
    }
  }
  /** Codes of some rows of a frame. */
  async rows(hash: string, frame: number, y0: number, y1: number): Promise<Codes['data']> {
    const { info, bytes } = await this.raw(hash, frame, y0, y1);
    return asCodes(bytes, info.bitDepth);
  }

  async codes(hash: string, frame: number): Promise<Codes> {
    const { info, bytes } = await this.raw(hash, frame);
    return {
      width: info.width,
      height: info.height,
      channels: info.channels,
      bits: info.bitDepth,
      data: asCodes(bytes, info.bitDepth),
    };
  }
}
