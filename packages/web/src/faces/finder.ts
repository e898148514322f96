import binary from '@mediapipe/face_mesh/face_mesh.binarypb?url&no-inline';
import script from '@mediapipe/face_mesh/face_mesh.js?url&no-inline';
import assets from '@mediapipe/face_mesh/face_mesh_solution_packed_assets.data?url&no-inline';
import loader from '@mediapipe/face_mesh/face_mesh_solution_packed_assets_loader.js?url&no-inline';
import simdScript from '@mediapipe/face_mesh/face_mesh_solution_simd_wasm_bin.js?url&no-inline';
import simdWasm from '@mediapipe/face_mesh/face_mesh_solution_simd_wasm_bin.wasm?url&no-inline';
import type { FaceFinder, PatchPicture } from '@wraithos/core/motion';
import type { FacesAnswer, FacesRequest } from '../workers/faces.worker';

const files: Record<string, string> = {
  'face_mesh.binarypb': binary,
  'face_mesh.js': script,
  'face_mesh_solution_packed_assets.data': assets,
  'face_mesh_solution_packed_assets_loader.js': loader,
  'face_mesh_solution_simd_wasm_bin.js': simdScript,
  'face_mesh_solution_simd_wasm_bin.wasm': simdWasm,
};

/** The page's side of the face finder: pictures in, faces out, one after another. */
class PageFinder implements FaceFinder {
  private readonly worker = new Worker(new URL('../workers/faces.worker.ts', import.meta.url));
  private readonly waiting = new Map<number, { resolve(faces: Float64Array[]): void; reject(error: Error): void }>();
  private next = 1;
  private broken: Error | null = null;

  constructor() {
    this.worker.onmessage = ({ data }: MessageEvent<FacesAnswer>) => {
      if (data.kind === 'ready') return;
      if (data.kind === 'failed' && data.id === null) this.fail(data.message);
      else if (data.kind === 'failed') this.take(data.id!)?.reject(new Error(`The face finder stopped: ${data.message}`));
      else this.take(data.id)?.resolve(data.faces);
    };
    this.worker.onerror = (event) => this.fail(event.message);
    this.post({
      kind: 'begin',
      files: Object.fromEntries(Object.entries(files).map(([name, at]) => [name, new URL(at, location.href).href])),
    });
  }
  private take(id: number) {
    const waiting = this.waiting.get(id);
    this.waiting.delete(id);
    return waiting;
  }
  private fail(why: string): void {
    this.broken = new Error(`The face finder does not start in this browser (${why}). Follow the eyes with Point or Area instead.`);
    for (const { reject } of this.waiting.values()) reject(this.broken);
    this.waiting.clear();
    this.worker.terminate();
    if (one === this) one = null;
  }
  private post(request: FacesRequest, transfer: Transferable[] = []): void {
    this.worker.postMessage(request, transfer);
  }
  /** Faces of a picture, or of its mirror image, each as places in pixels of what was looked at. */
  look({ width, height, pixels }: PatchPicture, mirrored: boolean): Promise<Float64Array[]> {
    if (this.broken) return Promise.reject(this.broken);
    const id = this.next++,
      copy = pixels.slice();
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject });
      this.post({ kind: 'look', id, width, height, pixels: copy, mirrored }, [copy.buffer]);
    });
  }
}
let one: PageFinder | null = null;
/** The one finder of the page; its models are loaded when it is asked for first. */
export const faceFinder = (): FaceFinder => (one ??= new PageFinder());
