/*
 * Runs the finder of faces or that of persons (@mediapipe/face_mesh, @mediapipe/selfie_segmentation, whose models lie in the packages) beside the page's own
 * thread: half a second a look, where the machine has no graphics card. Each package is a script that expects a page, so this is a classic worker, which can
 * run scripts, with the few things of a page that it asks for; each finder has a worker of its own, since both use the same names. It imports nothing itself: a worker
 * that did would be a module, which cannot. Their embind makes functions from text; the server lets this one worker do that (see `http/app.ts`), and no page.
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
interface Segmenter {
  setOptions(options: object): void;
  onResults(then: (results: { segmentationMask: CanvasImageSource }) => void): void;
  initialize(): Promise<void>;
  send(input: { image: ImageBitmap }): Promise<void>;
}
interface Scope {
  window: unknown;
  document: unknown;
  screen: unknown;
  FaceMesh: new (options: { locateFile(name: string): string }) => Mesh;
  SelfieSegmentation: new (options: { locateFile(name: string): string }) => Segmenter;
  importScripts(address: string): void;
  onmessage: ((event: MessageEvent<FinderRequest>) => void) | null;
  postMessage(message: FinderAnswer, transfer?: Transferable[]): void;
}
export type Finder = 'faces' | 'persons';
/** First which finder it is to be, and the addresses of the package's files, by name; then pictures to look at. */
export type FinderRequest =
  | { kind: 'begin'; finder: Finder; files: Record<string, string> }
  | { kind: 'look'; id: number; width: number; height: number; pixels: Uint8ClampedArray<ArrayBuffer>; mirrored: boolean };
/** Of one picture: faces, each as places in pixels of it, x and y in turns; or how much of each pixel is person, 0..255. */
export type FinderAnswer =
  | { kind: 'ready' }
  | { kind: 'faces'; id: number; faces: Float64Array[] }
  | { kind: 'persons'; id: number; mask: Uint8ClampedArray<ArrayBuffer> }
  | { kind: 'failed'; id: number | null; message: string };

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

type Look = Extract<FinderRequest, { kind: 'look' }>;
/** Looks at a picture and says what is in it. */
type Looker = (image: ImageBitmap, look: Look) => Promise<void>;
let looker: Looker | null = null,
  chain: Promise<void> = Promise.resolve();

async function faces(locateFile: (name: string) => string): Promise<Looker> {
  const mesh = new scope.FaceMesh({ locateFile });
  let found: Landmark[][] = [];
  // Every picture is looked at for itself: what the finder carries over from the one before trails behind.
  mesh.setOptions({ maxNumFaces: FACES, refineLandmarks: true, staticImageMode: true, minDetectionConfidence: SURE, selfieMode: false });
  mesh.onResults((results) => (found = results.multiFaceLandmarks ?? []));
  await mesh.initialize();
  return async (image, { id, width, height }) => {
    found = [];
    await mesh.send({ image });
    scope.postMessage({
      kind: 'faces',
      id,
      faces: found.map((face) => Float64Array.from(face.flatMap(({ x, y }) => [x * width, y * height]))),
    });
  };
}
async function persons(locateFile: (name: string) => string): Promise<Looker> {
  const segmenter = new scope.SelfieSegmentation({ locateFile });
  let found: CanvasImageSource | null = null;
  // The model for pictures as high as they are wide.
  segmenter.setOptions({ modelSelection: 0, selfieMode: false });
  segmenter.onResults((results) => (found = results.segmentationMask));
  await segmenter.initialize();
  return async (image, { id, width, height }) => {
    found = null;
    await segmenter.send({ image });
    const seen = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
    if (found) seen.drawImage(found, 0, 0, width, height);
    const { data } = seen.getImageData(0, 0, width, height),
      mask = new Uint8ClampedArray(width * height);
    for (let p = 0; p < mask.length; p++) mask[p] = data[4 * p + 3]!;
    scope.postMessage({ kind: 'persons', id, mask }, [mask.buffer]);
  };
}

async function begin({ finder, files }: Extract<FinderRequest, { kind: 'begin' }>): Promise<void> {
  const first = files[finder === 'faces' ? 'face_mesh.js' : 'selfie_segmentation.js']!;
  pretendPage(first);
  scope.importScripts(first);
  looker = await { faces, persons }[finder]((name) => files[name] ?? name);
  scope.postMessage({ kind: 'ready' });
}

async function look(request: Look): Promise<void> {
  const { width, height, pixels, mirrored } = request,
    picture = new OffscreenCanvas(width, height);
  picture.getContext('2d')!.putImageData(new ImageData(pixels, width, height), 0, 0);
  let seen = picture;
  if (mirrored) {
    seen = new OffscreenCanvas(width, height);
    const context = seen.getContext('2d')!;
    context.setTransform(-1, 0, 0, 1, width, 0);
    context.drawImage(picture, 0, 0);
  }
  const image = seen.transferToImageBitmap();
  await looker!(image, request);
  image.close();
}

scope.onmessage = ({ data }) => {
  chain = chain
    .then(() => (data.kind === 'begin' ? begin(data) : look(data)))
    .catch((error: unknown) =>
      scope.postMessage({ kind: 'failed', id: data.kind === 'look' ? data.id : null, message: String((error as Error).message ?? error) }),
    );
};
