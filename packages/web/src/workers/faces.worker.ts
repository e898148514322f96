/*
 * Runs the face finder (@mediapipe/face_mesh, whose models lie in the package) beside the page's own thread: half a second a look, where the machine
 * has no graphics card. The package is a script that expects a page, so this is a classic worker, which can run scripts, with the few things of a page
 * that it asks for. It imports nothing itself: a worker that did would be a module, which cannot. Its embind makes functions from text; the server
 * lets this one worker do that (see `http/app.ts`), and no page.
 */
interface Landmark {
  x: number;
  y: number;
}
interface Mesh {
  setOptions(options: object): void;
  onResults(then: (results: { multiFaceLandmarks?: Landmark[][] }) => void): void;
  initialize(): Promise<void>;
  send(input: { image: ImageBitmap }): Promise<void>;
}
interface Scope {
  window: unknown;
  document: unknown;
  screen: unknown;
  FaceMesh: new (options: { locateFile(name: string): string }) => Mesh;
  importScripts(address: string): void;
  onmessage: ((event: MessageEvent<FacesRequest>) => void) | null;
  postMessage(message: FacesAnswer): void;
}
/** First the addresses of the package's files, by name; then pictures to look at. */
export type FacesRequest =
  | { kind: 'begin'; files: Record<string, string> }
  | { kind: 'look'; id: number; width: number; height: number; pixels: Uint8ClampedArray<ArrayBuffer>; mirrored: boolean };
/** Faces of one picture, each as places in pixels of it, x and y in turns. */
export type FacesAnswer =
  { kind: 'ready' } | { kind: 'faces'; id: number; faces: Float64Array[] } | { kind: 'failed'; id: number | null; message: string };

const scope = self as unknown as Scope;
/** Faces that are looked for in one picture: the wanted one and those about it. */
const FACES = 4;
/** How sure the finder must be of a face, 0..1. */
const SURE = 0.4;

/** What the package asks a page for. */
function pretendPage(first: string): void {
  const element = (name: string): object => {
    if (name === 'canvas') return new OffscreenCanvas(1, 1);
    const made: Record<string, unknown> = { style: {} };
    made.setAttribute = (key: string, value: unknown) => (made[key] = value);
    made.addEventListener = (type: string, then: unknown) => (made[`on${type}`] = then);
    return made;
  };
  const run = (script: { src: string; onload?(event: object): void; onerror?(error: unknown): void }): void => {
    try {
      scope.importScripts(script.src);
      script.onload?.({});
    } catch (error) {
      script.onerror?.(error);
    }
  };
  scope.window = self;
  scope.screen = { width: 1280, height: 720 };
  scope.document = {
    ...{ createElement: element, body: { appendChild: run }, currentScript: { src: first } },
    ...{ getElementById: () => null, querySelector: () => null, addEventListener: () => undefined },
  };
}

let mesh: Mesh | null = null,
  found: Landmark[][] = [],
  chain: Promise<void> = Promise.resolve();

async function begin(files: Record<string, string>): Promise<void> {
  const first = files['face_mesh.js']!;
  pretendPage(first);
  scope.importScripts(first);
  mesh = new scope.FaceMesh({ locateFile: (name) => files[name] ?? name });
  // Every picture is looked at for itself: what the finder carries over from the one before trails behind.
  mesh.setOptions({ maxNumFaces: FACES, refineLandmarks: true, staticImageMode: true, minDetectionConfidence: SURE, selfieMode: false });
  mesh.onResults((results) => (found = results.multiFaceLandmarks ?? []));
  await mesh.initialize();
  scope.postMessage({ kind: 'ready' });
}

async function look({ id, width, height, pixels, mirrored }: Extract<FacesRequest, { kind: 'look' }>): Promise<void> {
  const picture = new OffscreenCanvas(width, height);
  picture.getContext('2d')!.putImageData(new ImageData(pixels, width, height), 0, 0);
  let seen = picture;
  if (mirrored) {
    seen = new OffscreenCanvas(width, height);
    const context = seen.getContext('2d')!;
    context.setTransform(-1, 0, 0, 1, width, 0);
    context.drawImage(picture, 0, 0);
  }
  found = [];
  const image = seen.transferToImageBitmap();
  await mesh!.send({ image });
  image.close();
  scope.postMessage({
    kind: 'faces',
    id,
    faces: found.map((face) => Float64Array.from(face.flatMap(({ x, y }) => [x * width, y * height]))),
  });
}

scope.onmessage = ({ data }) => {
  chain = chain
    .then(() => (data.kind === 'begin' ? begin(data.files) : look(data)))
    .catch((error: unknown) =>
      scope.postMessage({ kind: 'failed', id: data.kind === 'look' ? data.id : null, message: String((error as Error).message ?? error) }),
    );
};
