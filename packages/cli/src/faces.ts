import { existsSync } from 'node:fs';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { createServer } from 'node:http';
import { createRequire } from 'node:module';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Browser } from 'puppeteer-core';
import type { FaceFinder } from '@wraithos/core/motion';

const CHROMIUM = '/usr/bin/chromium',
  kinds: Record<string, string> = { js: 'text/javascript', wasm: 'application/wasm', html: 'text/html' };
/** Files of the face finder's package that it asks for. */
const FILES = [
  ...['face_mesh.js', 'face_mesh.binarypb', 'face_mesh_solution_packed_assets.data', 'face_mesh_solution_packed_assets_loader.js'],
  ...['face_mesh_solution_simd_wasm_bin.js', 'face_mesh_solution_simd_wasm_bin.wasm'],
];
/** The page: it starts the same worker as the interface does, and hands pictures on to it. */
const PAGE = `<!doctype html><script>
const worker = new Worker('/finders.js'), waiting = new Map();
let next = 1, broken = null;
const fail = (message) => {
  broken = new Error(message);
  for (const { no } of waiting.values()) no(broken);
};
worker.onerror = (event) => fail(event.message);
worker.onmessage = ({ data }) => {
  if (data.kind === 'failed') fail(data.message);
  if (data.kind === 'faces') waiting.get(data.id).yes(data.faces.map((face) => Array.from(face)));
};
worker.postMessage({ kind: 'begin', finder: 'faces', files: ${JSON.stringify(Object.fromEntries(FILES.map((name) => [name, `/${name}`])))} });
window.look = (text, width, height, mirrored) => new Promise((yes, no) => {
  if (broken) return no(broken);
  const id = next++;
  waiting.set(id, { yes, no });
  const pixels = Uint8ClampedArray.from(atob(text), (c) => c.charCodeAt(0));
  worker.postMessage({ kind: 'look', id, width, height, pixels, mirrored }, [pixels.buffer]);
});
</script>`;

/**
 * The face finder of the interface in a Chromium of its own: it needs a browser's graphics. Close it when it is no longer needed.
 * @throws an Error for people where Chromium is not installed.
 */
export async function openFaceFinder(): Promise<FaceFinder & { close(): Promise<void> }> {
  if (!existsSync(CHROMIUM))
    throw new Error('Faces are found by a browser, and Chromium is not installed. Install the Debian package chromium.');
  // Only who looks for faces waits for it.
  const { default: puppeteer } = await import('puppeteer-core'),
    finderFolder = dirname(createRequire(import.meta.url).resolve('@mediapipe/face_mesh/package.json')),
    own = dirname(fileURLToPath(import.meta.url)),
    server = createServer((request, response) => {
      const name = basename(request.url ?? ''),
        type = kinds[name.split('.').at(-1)!] ?? 'application/octet-stream';
      if (!name) {
        response.writeHead(200, { 'content-type': 'text/html' }).end(PAGE);
        return;
      }
      readFile(name === 'finders.js' ? join(own, name) : join(finderFolder, name)).then(
        (bytes) => response.writeHead(200, { 'content-type': type }).end(bytes),
        () => response.writeHead(404).end(),
      );
    });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  const profile = await mkdtemp(join(tmpdir(), 'wraithos-faces-'));
  let browser: Browser | null = null;
  const close = async () => {
    await browser?.close();
    server.close();
    await rm(profile, { recursive: true, force: true });
  };
  try {
    browser = await puppeteer.launch({
      ...{ executablePath: CHROMIUM, userDataDir: profile, protocolTimeout: 600_000 },
      args: [
        ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
        ...['--disable-gpu', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
      ],
    });
    const page = await browser.newPage();
    await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
    return {
      close,
      async look({ width, height, pixels }, mirrored) {
        const faces = await page.evaluate(
          (text, w, h, m) =>
            (window as unknown as { look(text: string, w: number, h: number, m: boolean): Promise<number[][]> }).look(text, w, h, m),
          Buffer.from(pixels.buffer, pixels.byteOffset, pixels.byteLength).toString('base64'),
          width,
          height,
          mirrored,
        );
        return faces.map((face) => Float64Array.from(face));
      },
    };
  } catch (error) {
    await close();
    throw error;
  }
}
