import type { Codes } from '@wraithos/core/image';
import type { TrackSample } from '@wraithos/core/motion';
import type { Sources } from '@wraithos/core/render';

const MAGIC = 0x31465257;
/** Frames as raw codes from the server; never through the browser's own picture decoding, which changes values. */
export class NetSources implements Sources {
  /** @param limit bytes of recent frames that are kept: scrubbing back must not fetch again. */
  constructor(private limit: number) {}
  get bytesKept(): number {
    return this.bytes;
  }
  limitTo(bytes: number): void {
    this.limit = bytes;
    this.shrink('');
  }
  private readonly frames = new Map<string, Promise<Codes>>();
  private readonly tracks = new Map<string, Promise<TrackSample[]>>();
  private readonly sizes = new Map<string, number>();
  private bytes = 0;

  frame(clip: { media: object; name: string }, frame: number): Promise<Codes> {
    if (!('hash' in clip.media)) return Promise.reject(new Error(`The clip "${clip.name}" is not on this server.`));
    const path = `/api/media/${String(clip.media.hash)}/frames/${frame}`,
      kept = this.frames.get(path);
    if (kept) {
      this.frames.delete(path);
      this.frames.set(path, kept);
      return kept;
    }
    const loading = this.load(path, clip.name);
    this.frames.set(path, loading);
    loading.then(
      (codes) => {
        this.bytes += codes.data.byteLength;
        this.sizes.set(path, codes.data.byteLength);
        this.shrink(path);
      },
      () => this.frames.delete(path),
    );
    return loading;
  }
  private shrink(but: string): void {
    for (const old of this.frames.keys()) {
      if (this.bytes <= this.limit || old === but) break;
      const size = this.sizes.get(old);
      // One that is still on its way counts for nothing yet.
      if (size === undefined) continue;
      this.frames.delete(old);
      this.sizes.delete(old);
      this.bytes -= size;
    }
  }
  private async load(path: string, name: string): Promise<Codes> {
    const response = await fetch(path).catch(() => {
      throw new Error('The server does not answer.');
    });
    if (!response.ok) {
      const problem = (await response.json().catch(() => ({}))) as { detail?: string };
      throw new Error(`${name}: ${problem.detail ?? 'its frames cannot be read.'}`);
    }
    const buffer = await response.arrayBuffer(),
      [magic, width, height, channels, bits] = new Uint32Array(buffer, 0, 5);
    if (magic !== MAGIC) throw new Error(`${name}: the server sent no frame.`);
    return {
      width: width!,
      height: height!,
      channels: channels as 1 | 3 | 4,
      bits: bits as 8 | 16,
      data: bits === 16 ? new Uint16Array(buffer, 20) : new Uint8Array(buffer, 20),
    };
  }
  samples(hash: string): Promise<TrackSample[]> {
    let loading = this.tracks.get(hash);
    if (!loading) {
      loading = fetch(`/api/samples/${hash}`).then((r) => {
        if (!r.ok) throw new Error('Track samples are missing on the server; track again.');
        return r.json() as Promise<TrackSample[]>;
      });
      this.tracks.set(hash, loading);
      loading.catch(() => this.tracks.delete(hash));
    }
    return loading;
  }
}
