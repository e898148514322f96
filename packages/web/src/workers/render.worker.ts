import { encodeCodes, lumaOfCodes, newPlane, type Picture } from '@wraithos/core/image';
import { PointTracker } from '@wraithos/core/motion';
import { Cancelled, FrameRenderer } from '@wraithos/core/render';
import { NetSources } from './netSources';
import type { WorkerAnswer, WorkerRequest } from './protocol';

const sources = new NetSources(),
  cancelled = new Set<number>();
let renderer: { key: string; it: FrameRenderer } | null = null,
  chain: Promise<void> = Promise.resolve();
const answer = (message: WorkerAnswer, transfer: Transferable[] = []) => (self as unknown as Worker).postMessage(message, transfer);

function rendererFor(shot: { width: number; height: number }): FrameRenderer {
  const key = `${shot.width}x${shot.height}`;
  if (renderer?.key !== key) renderer = { key, it: new FrameRenderer(sources, shot, 384 * 2 ** 20, () => performance.now()) };
  return renderer.it;
}

async function draw(request: Extract<WorkerRequest, { kind: 'frame' }>): Promise<void> {
  const begun = performance.now();
  await rendererFor(request.shot).renderFrame({ ...request, cancelled: () => cancelled.has(request.id) }, (picture: Picture, report) => {
    const pixels = new Uint8ClampedArray(encodeCodes(picture, { bits: 8, channels: 4, frame: request.frame }).buffer as ArrayBuffer);
    answer(
      {
        kind: 'frame',
        id: request.id,
        drawn: { width: picture.width, height: picture.height, pixels, milliseconds: performance.now() - begun, cost: report.cost },
      },
      [pixels.buffer],
    );
  });
}

async function track(request: Extract<WorkerRequest, { kind: 'track' }>): Promise<void> {
  const luma = async (frame: number) => {
    const codes = await sources.frame(request.clip, frame);
    return lumaOfCodes(codes, newPlane(codes.width, codes.height));
  };
  const step = request.to >= request.from ? 1 : -1,
    tracker = new PointTracker(await luma(request.from), request.from, request.at, {
      pattern: request.pattern,
      search: request.search,
      policy: request.policy,
    });
  answer({ kind: 'sample', id: request.id, sample: tracker.start });
  for (let f = request.from + step; step > 0 ? f <= request.to : f >= request.to; f += step) {
    // A short breath lets a stop come in between frames.
    await new Promise((resolve) => setTimeout(resolve));
    if (cancelled.has(request.id)) break;
    answer({ kind: 'sample', id: request.id, sample: tracker.step(await luma(f), f) });
  }
  answer({ kind: 'tracked', id: request.id });
}

async function codes(request: Extract<WorkerRequest, { kind: 'codes' }>): Promise<void> {
  await rendererFor(request.shot).renderFrame({ shot: request.shot, frame: request.frame }, (picture: Picture) => {
    const values = encodeCodes(picture, { bits: 16, channels: 3, frame: request.frame }) as Uint16Array;
    answer({ kind: 'codes', id: request.id, width: picture.width, height: picture.height, codes: values }, [values.buffer as ArrayBuffer]);
  });
}

self.onmessage = (event: MessageEvent<WorkerRequest>) => {
  const request = event.data;
  if (request.kind === 'cancel') {
    cancelled.add(request.id);
    return;
  }
  chain = chain
    .then(async () => {
      if (cancelled.has(request.id)) throw new Cancelled();
      await (request.kind === 'frame' ? draw(request) : request.kind === 'codes' ? codes(request) : track(request));
    })
    .catch((error: unknown) =>
      answer({ kind: 'failed', id: request.id, message: (error as Error).message, cancelled: error instanceof Cancelled }),
    )
    .then(() => {
      cancelled.delete(request.id);
    });
};
