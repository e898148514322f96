import binary from '@mediapipe/face_mesh/face_mesh.binarypb?url&no-inline';
import script from '@mediapipe/face_mesh/face_mesh.js?url&no-inline';
import assets from '@mediapipe/face_mesh/face_mesh_solution_packed_assets.data?url&no-inline';
import loader from '@mediapipe/face_mesh/face_mesh_solution_packed_assets_loader.js?url&no-inline';
import simdScript from '@mediapipe/face_mesh/face_mesh_solution_simd_wasm_bin.js?url&no-inline';
import simdWasm from '@mediapipe/face_mesh/face_mesh_solution_simd_wasm_bin.wasm?url&no-inline';
import personBinary from '@mediapipe/selfie_segmentation/selfie_segmentation.binarypb?url&no-inline';
import personScript from '@mediapipe/selfie_segmentation/selfie_segmentation.js?url&no-inline';
import personModel from '@mediapipe/selfie_segmentation/selfie_segmentation.tflite?url&no-inline';
import personSimdScript from '@mediapipe/selfie_segmentation/selfie_segmentation_solution_simd_wasm_bin.js?url&no-inline';
import personSimdWasm from '@mediapipe/selfie_segmentation/selfie_segmentation_solution_simd_wasm_bin.wasm?url&no-inline';
import type { PersonFinder } from '@wraithos/core/matte';
import type { FaceFinder, PatchPicture } from '@wraithos/core/motion';
import type { Finder, FinderAnswer, FinderRequest } from '../workers/finders.worker';

/** The files that each finder asks for. */
const files: Record<Finder, Record<string, string>> = {
  faces: {
    'face_mesh.binarypb': binary,
    'face_mesh.js': script,
    'face_mesh_solution_packed_assets.data': assets,
    'face_mesh_solution_packed_assets_loader.js': loader,
    'face_mesh_solution_simd_wasm_bin.js': simdScript,
    'face_mesh_solution_simd_wasm_bin.wasm': simdWasm,
  },
  persons: {
    'selfie_segmentation.binarypb': personBinary,
    'selfie_segmentation.js': personScript,
    'selfie_segmentation.tflite': personModel,
    'selfie_segmentation_solution_simd_wasm_bin.js': personSimdScript,
    'selfie_segmentation_solution_simd_wasm_bin.wasm': personSimdWasm,
  },
};
/** A finder, and what to do instead where it does not start. */
const words: Record<Finder, [name: string, instead: string]> = {
  faces: ['face finder', 'Follow the eyes with Point or Area instead.'],
  persons: ['person finder', 'Isolate the body against a clean plate, or draw an outline and carry it on.'],
};

/** The page's side of a finder: pictures in, what was found out, one after another. */
class PageFinder {
  private readonly worker = new Worker(new URL('../workers/finders.worker.ts', import.meta.url));
  private readonly waiting = new Map<number, { resolve(answer: FinderAnswer): void; reject(error: Error): void }>();
  private next = 1;
  private broken: Error | null = null;

  constructor(private readonly finder: Finder) {
    this.worker.onmessage = ({ data }: MessageEvent<FinderAnswer>) => {
      if (data.kind === 'ready') return;
      if (data.kind === 'failed' && data.id === null) this.fail(data.message);
      else if (data.kind === 'failed') this.take(data.id!)?.reject(new Error(`The ${words[finder][0]} stopped: ${data.message}`));
      else this.take(data.id)?.resolve(data);
    };
    this.worker.onerror = (event) => this.fail(event.message);
    this.post({
      kind: 'begin',
      finder,
      files: Object.fromEntries(Object.entries(files[finder]).map(([name, at]) => [name, new URL(at, location.href).href])),
    });
  }
  private take(id: number) {
    const waiting = this.waiting.get(id);
    this.waiting.delete(id);
    return waiting;
  }
  private fail(why: string): void {
    const [name, instead] = words[this.finder];
    this.broken = new Error(`The ${name} does not start in this browser (${why}). ${instead}`);
    for (const { reject } of this.waiting.values()) reject(this.broken);
    this.waiting.clear();
    this.worker.terminate();
    open.delete(this.finder);
  }
  private post(request: FinderRequest, transfer: Transferable[] = []): void {
    this.worker.postMessage(request, transfer);
  }
  look({ width, height, pixels }: PatchPicture, mirrored: boolean): Promise<FinderAnswer> {
    if (this.broken) return Promise.reject(this.broken);
    const id = this.next++,
      copy = pixels.slice();
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject });
      this.post({ kind: 'look', id, width, height, pixels: copy, mirrored }, [copy.buffer]);
    });
  }
}
const open = new Map<Finder, PageFinder>();
/** The one finder of its kind of the page; its models are loaded when it is asked for first. */
function finderOf(finder: Finder): PageFinder {
  let one = open.get(finder);
  if (!one) open.set(finder, (one = new PageFinder(finder)));
  return one;
}
export const faceFinder = (): FaceFinder => ({
  async look(picture, mirrored) {
    const found = await finderOf('faces').look(picture, mirrored);
    return found.kind === 'faces' ? found.faces : [];
  },
});
export const personFinder = (): PersonFinder => ({
  async look(picture) {
    const found = await finderOf('persons').look(picture, false);
    return found.kind === 'persons' ? Float32Array.from(found.mask, (v) => v / 255) : new Float32Array(picture.width * picture.height);
  },
});
