import type { Codes } from '@wraithos/core/image';
import { addressOf, mediumFrame, problem, readFrame, trackSamples } from '@wraithos/contract';
import { samplesSchema, type TrackSample } from '@wraithos/core/motion';
import type { Sources } from '@wraithos/core/render';

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
    const path = `/api${addressOf(mediumFrame, { hash: String(clip.media.hash), frame: String(frame) })}`,
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
      throw new Error('The server does not answer. Start it again with npm start; the picture then comes by itself.');
    });
    if (!response.ok) {
      const said = problem.safeParse(await response.json().catch(() => ({})));
      throw new Error(`${name}: ${said.success ? said.data.detail : 'its frames cannot be read.'}`);
    }
    const buffer = await response.arrayBuffer();
    try {
      return readFrame(buffer);
    } catch (error) {
      throw new Error(`${name}: ${(error as Error).message}`, { cause: error });
    }
  }
  samples(hash: string): Promise<TrackSample[]> {
    let loading = this.tracks.get(hash);
    if (!loading) {
      loading = fetch(`/api${addressOf(trackSamples, { hash })}`).then(async (r) => {
        if (!r.ok) throw new Error('Track samples are missing on the server; track again.');
        return samplesSchema.parse(await r.json());
      });
      this.tracks.set(hash, loading);
      loading.catch(() => this.tracks.delete(hash));
    }
    return loading;
  }
}
