import { encodeCodes, lumaOfCodes, newPlane, type BandThread, type Picture, type Plane } from '@wraithos/core/image';
import {
  AffineFrame,
  findMoments,
  followTrack,
  LikenessMeter,
  MatteMeter,
  lookAtFrame,
  patchAt,
  patchPicture,
  type FrameLook,
  type PatchPicture,
} from '@wraithos/core/motion';
import {
  bestOffset,
  Cancelled,
  contrastOf,
  FrameRenderer,
  framesOf,
  isOpaque,
  lightAgainst,
  loadTracks,
  lookedAt,
  meanOf,
  measuredChecks,
  placeAgainst,
  scopeOf,
  type Factor,
} from '@wraithos/core/render';
import {
  areaOfStrokes,
  BodyFollower,
  brighterThan,
  edgeCosts,
  linesAround,
  measureMatte,
  OutlineCarrier,
  type FollowedBody,
  type MatteMeasure,
} from '@wraithos/core/matte';
import { clipStart, clipWithRole, matteClip, type Clip, type Shot } from '@wraithos/core/shot';
import { shownPixels } from './shownPixels';
import { NetSources } from './netSources';
import type { DrawnPixels, FoundMatte, WorkerAnswer, WorkerRequest } from './protocol';
import { thumbOf } from './thumb';

/** What may be remembered until the page says how much: enough to follow points. */
let limits = { steps: 128 * 2 ** 20, sources: 64 * 2 ** 20 };

const sources = new NetSources(limits.sources),
  cancelled = new Set<number>(),
  /** Keys of the pictures that the display has. */
  shown = new Set<string>();
let renderer: { key: string; it: FrameRenderer } | null = null,
  chain: Promise<void> = Promise.resolve(),
  cells: Int32Array | null = null,
  display: MessagePort | null = null,
  helpers = 0,
  bands: Worker[] = [];
const answer = (message: WorkerAnswer, transfer: Transferable[] = []) => (self as unknown as Worker).postMessage(message, transfer);
/** Polled between steps. A cell is seen at once; a message only when a step waits for something. */
const isCancelled = (id: number) => cancelled.has(id) || (cells !== null && Atomics.load(cells, id % cells.length) === id);

function rendererFor(shot: { width: number; height: number }): FrameRenderer {
  const key = `${shot.width}x${shot.height}`;
  if (renderer?.key !== key) {
    for (const worker of bands) worker.terminate();
    bands = [];
    const start = (thread: BandThread) => {
      const worker = new Worker(new URL('./band.worker.ts', import.meta.url), { type: 'module' });
      worker.postMessage(thread);
      bands.push(worker);
    };
    renderer = {
      key,
      it: new FrameRenderer(sources, shot, limits.steps, () => performance.now(), true, { count: helpers, start }),
    };
  }
  return renderer.it;
}

/** The last document that was sent. */
let document: Shot | null = null;

async function draw(request: Extract<WorkerRequest, { kind: 'frame' }>, shot: Shot): Promise<void> {
  const begun = performance.now(),
    it = rendererFor(shot),
    step = await it.plan({ ...request, shot }),
    key = `${step.key} ${request.frame} ${request.backdrop ?? 'black'} ${request.look ? JSON.stringify(request.look) : ''}`;
  // The display may have it with a smaller small picture.
  if (shown.has(key) && !request.thumb) {
    display?.postMessage({ key, ticket: request.ticket, picture: null } satisfies DrawnPixels);
    answer({ kind: 'frame', id: request.id, key, drawn: null });
    return;
  }
  await it.evaluator.evaluate(
    step,
    (picture: Picture, report, arena) => {
      const { width, height } = picture,
        seen = request.look ? lookedAt(picture, request.look, arena) : picture,
        pixels = shownPixels(seen, request.frame, request.backdrop ?? 'black', isOpaque(shot), arena, request.look?.display),
        thumb = thumbOf(pixels, width, height, request.thumb),
        bytes = pixels.byteLength;
      shown.add(key);
      display?.postMessage({ key, ticket: request.ticket, picture: { width, height, pixels } } satisfies DrawnPixels, [pixels.buffer]);
      const drawn = { key, width, height, bytes, thumb, milliseconds: performance.now() - begun, cost: report.cost };
      answer({ kind: 'frame', id: request.id, key, drawn }, [thumb.pixels.buffer]);
    },
    () => isCancelled(request.id),
    request.playhead,
  );
}

async function track({ id, clip, tracks, from, to }: Extract<WorkerRequest, { kind: 'track' }>): Promise<void> {
  const first = await sources.frame(clip, from),
    step = to >= from ? 1 : -1,
    followed = tracks.map(({ track: one, from: at }) => ({ track: one.id, it: followTrack(one, first, from, at) }));
  for (const { track: name, it } of followed) {
    if (!it) throw new Error('Nothing of this kind of track is measured in the picture.');
    answer({ kind: 'sample', id, track: name, sample: it.start });
  }
  for (let f = from + step; step > 0 ? f <= to : f >= to; f += step) {
    const codes = await sources.frame(clip, f);
    for (const { track: name, it } of followed) {
      // A short breath lets a stop come in between steps.
      await new Promise((resolve) => setTimeout(resolve));
      if (isCancelled(id)) break;
      answer({ kind: 'sample', id, track: name, sample: it!.step(codes, f) });
    }
    if (isCancelled(id)) break;
  }
  answer({ kind: 'tracked', id });
}

/** The brightness of a clip's frame, 0..1, one value a pixel of the clip. */
async function lumaAt(clip: Clip, f: number): Promise<Plane> {
  const codes = await sources.frame(clip, f);
  return lumaOfCodes(codes, newPlane(codes.width, codes.height));
}
async function likeness({ id, clip, track: name, along, frame, side }: Extract<WorkerRequest, { kind: 'likeness' }>): Promise<void> {
  const luma = (f: number) => lumaAt(clip, f),
    meter = new LikenessMeter(along, await luma(frame), frame, side);
  for (let f = 0; f < clip.frames && !isCancelled(id); f++) answer({ kind: 'sample', id, track: name, sample: meter.at(await luma(f), f) });
  answer({ kind: 'tracked', id });
}

async function carry({ id, clip, vertices, from, to }: Extract<WorkerRequest, { kind: 'carry' }>): Promise<void> {
  const luma = (f: number) => lumaAt(clip, f),
    carrier = new OutlineCarrier(await luma(from), from, vertices),
    step = to >= from ? 1 : -1;
  answer({ kind: 'carried', id, shape: carrier.start });
  for (let f = from + step; step > 0 ? f <= to : f >= to; f += step) {
    const plane = await luma(f);
    // A short breath lets a stop come in between steps.
    await new Promise((resolve) => setTimeout(resolve));
    if (isCancelled(id)) break;
    answer({ kind: 'carried', id, shape: carrier.step(plane, f) });
  }
  answer({ kind: 'tracked', id });
}

/** Bodies are followed in mattes of about this width at the least: smaller ones join who walks close beside another. */
const BODY_WIDTH = 640;
/** The share of a body that may be lost where its shadow is dropped: dark clothes look like the background in shadow. */
const LOST = 0.05;
/** Where a clip's frame is brighter than the clean plate that goes with it; null where that is of another size. */
async function litAt(shot: Shot, clip: Clip, f: number, factor: number): Promise<Plane | null> {
  const clean = clipWithRole(shot, 'clean');
  if (!clean || clean.width !== clip.width || clean.height !== clip.height) return null;
  const there = f + clipStart(shot, clip) - clipStart(shot, clean);
  return brighterThan(await lumaAt(clip, f), await lumaAt(clean, Math.max(0, Math.min(clean.frames - 1, there))), factor);
}
async function isolate({ id, shot, mattes: ids, at, frame }: Extract<WorkerRequest, { kind: 'isolate' }>): Promise<void> {
  const clip = matteClip(shot, shot.mattes[ids.kept]!)!,
    factor = clip.width >= 4 * BODY_WIDTH ? 4 : clip.width >= 2 * BODY_WIDTH ? 2 : 1,
    renderer = rendererFor(shot),
    bodies: FollowedBody[] = [],
    on = <R>(name: string, f: number, use: (plane: Plane) => R) => renderer.renderClipMatte(shot, name, f, factor, use),
    // With all the light that it throws it may be more than a body.
    whole = await on(ids.kept, frame, (plane) => new BodyFollower(factor, plane, at)).catch(() => null),
    lit = await litAt(shot, clip, frame, factor),
    own = await on(ids.dropped, frame, (plane) => new BodyFollower(factor, plane, at)).catch(() => null),
    lost = whole && (own ? await on(ids.dropped, frame, (plane) => whole.lostWith(own, plane, lit)) : 1),
    shadow = lost === null || lost <= LOST ? 'dropped' : 'kept',
    begin = () => on(ids[shadow], frame, (plane) => new BodyFollower(factor, plane, at)),
    go = async (follower: BodyFollower, f: number) => {
      // A short breath lets a stop come in between steps.
      await new Promise((resolve) => setTimeout(resolve));
      if (isCancelled(id)) throw new Cancelled();
      bodies.push(await on(ids[shadow], f, (plane) => follower.at(plane, f)));
      answer({ kind: 'share', id, share: bodies.length / clip.frames });
    };
  const there = await begin(),
    back = await begin();
  await go(there, frame);
  for (let f = frame + 1; f < clip.frames; f++) await go(there, f);
  await on(ids[shadow], frame, (plane) => back.at(plane, frame));
  for (let f = frame - 1; f >= 0; f--) await go(back, f);
  answer({ kind: 'isolated', id, bodies: bodies.sort((a, b) => a.frame - b.frame), shadow });
}

/** Mattes are measured this small: a middle is found to a tenth of a pixel all the same. */
const METER_FACTOR = 2;
async function matteFrames({ id, shot, track: name }: Extract<WorkerRequest, { kind: 'matte frames' }>): Promise<void> {
  const track = shot.tracks[name];
  if (track?.kind !== 'matte' || !track.matte) throw new Error('Choose the matte that the track stands on.');
  const clip = shot.clips[track.clip]!,
    meter = new MatteMeter(track.spot, METER_FACTOR);
  for (let f = 0; f < clip.frames && !isCancelled(id); f++) {
    const sample = await rendererFor(shot).renderClipMatte(shot, track.matte, f, METER_FACTOR, (plane) => meter.at(plane, f));
    answer({ kind: 'sample', id, track: name, sample });
  }
  answer({ kind: 'tracked', id });
}

/** The draft at which a shot is no wider than this by much. */
const factorFor = ({ width }: Shot, most: number): Factor => (width > 2 * most ? 4 : width > most ? 2 : 1);
/** Strokes are looked at this large at the most, pixels across: finer than a brush, and an answer in well under a second. */
const STROKE_WIDTH = 960;
/** Ways along edges are found this exactly at the most, pixels across: no hand points better. */
const EDGE_WIDTH = 1400;
async function costsOfEdges({ id, shot, clip, frame }: Extract<WorkerRequest, { kind: 'edge costs' }>): Promise<void> {
  const factor = factorFor(shot, EDGE_WIDTH);
  answer({
    kind: 'edge costs',
    id,
    factor,
    costs: await rendererFor(shot).renderFrame({ shot, frame, factor, plain: clip ?? true }, edgeCosts),
  });
}
async function strokesMean({ id, shot, clip, frame, strokes }: Extract<WorkerRequest, { kind: 'strokes' }>): Promise<void> {
  const factor = factorFor(shot, STROKE_WIDTH),
    small = strokes.map((s) => ({ ...s, radius: s.radius / factor, points: s.points.map(([x, y]) => [x / factor, y / factor] as const) })),
    lines = await rendererFor(shot).renderFrame({ shot, frame, factor, plain: clip ?? true }, (picture, _, arena) => {
      const area = areaOfStrokes(picture, small, arena),
        around = linesAround(area.data, picture.width, picture.height);
      arena.give(area);
      return around;
    });
  answer({
    kind: 'strokes',
    id,
    lines: lines.map((l) => ({
      ...l,
      area: l.area * factor * factor,
      points: l.points.map(([x, y]): [number, number] => [x * factor, y * factor]),
    })),
  });
}

/** Doubtful frames are looked for this small: what is wrong there is larger. */
const DOUBT_FACTOR = 4;
async function matteDoubts({ id, shot, matte }: Extract<WorkerRequest, { kind: 'matte doubts' }>): Promise<void> {
  const renderer = rendererFor(shot),
    whole = shot.mattes[matte]!.part,
    subject = whole ? shot.subjects[whole]!.matte : null,
    planes: Plane[] = [],
    within: (Plane | null)[] = [],
    measures: MatteMeasure[] = [],
    small = (id: string, frame: number) =>
      renderer.renderMatte(shot, id, frame, DOUBT_FACTOR, (plane) => ({
        ...newPlane(plane.width, plane.height),
        data: Float32Array.from(plane.data),
      })),
    measured = (frame: number) => {
      const at = frame - shot.first;
      measures.push(measureMatte(frame, planes[at]!, planes[at - 1] ?? null, planes[at + 1] ?? null, within[at] ?? null));
    };
  for (let frame = shot.first; frame <= shot.last; frame++) {
    // A short breath lets a stop come in between frames.
    await new Promise((resolve) => setTimeout(resolve));
    if (isCancelled(id)) throw new Cancelled();
    planes.push(await small(matte, frame));
    within.push(subject && subject !== matte ? await small(subject, frame) : null);
    if (frame > shot.first) measured(frame - 1);
    answer({ kind: 'share', id, share: planes.length / (shot.last - shot.first + 1) });
  }
  measured(shot.last);
  answer({ kind: 'matte doubts', id, measures });
}

async function patches({ id, shot, track, frames, side, size }: Extract<WorkerRequest, { kind: 'patches' }>): Promise<void> {
  const clip = shot.clips[shot.tracks[track]!.clip]!,
    mounts = framesOf(shot, await loadTracks(shot, sources)),
    cut: (PatchPicture | null)[] = [];
  for (const f of frames) {
    if (isCancelled(id)) break;
    const there = mounts.ofTrack(track, f);
    cut.push(there && !there.lost ? patchPicture(await sources.frame(clip, f), there, side, size) : null);
  }
  answer({ kind: 'patches', id, patches: cut });
}

async function square({ id, clip, frame, at, side, size }: Extract<WorkerRequest, { kind: 'square' }>): Promise<void> {
  const picture = patchPicture(await sources.frame(clip, frame), new AffineFrame(at[0], at[1]), side, size);
  answer({ kind: 'square', id, picture }, [picture.pixels.buffer]);
}

async function moments({ id, clip, tracks }: Extract<WorkerRequest, { kind: 'moments' }>): Promise<void> {
  const looks: FrameLook[] = [],
    seen = tracks.map(({ name, samples }) => ({ name, samples, patches: [] as (Float32Array | null)[] })),
    at = tracks.map(({ samples }) => new Map(samples.map((s) => [s.frame, s])));
  for (let f = 0; f < clip.frames; f++) {
    if (isCancelled(id)) throw new Cancelled();
    const luma = await lumaAt(clip, f);
    looks.push(lookAtFrame(luma));
    tracks.forEach(({ pattern }, i) => {
      const sample = at[i]!.get(f);
      seen[i]!.patches.push(sample && sample.x !== null && sample.y !== null ? patchAt(luma, sample.x, sample.y, pattern) : null);
    });
    if (f % 4 === 0) answer({ kind: 'share', id, share: f / clip.frames });
  }
  answer({ kind: 'moments', id, found: findMoments(looks, seen) });
}

async function codes(request: Extract<WorkerRequest, { kind: 'codes' }>): Promise<void> {
  await rendererFor(request.shot).renderFrame(
    { shot: request.shot, frame: request.frame, plain: request.plain },
    (picture: Picture, _, arena) => {
      const values = encodeCodes(picture, { bits: 16, channels: 3, frame: request.frame }, arena) as Uint16Array;
      answer({ kind: 'codes', id: request.id, width: picture.width, height: picture.height, codes: values }, [
        values.buffer as ArrayBuffer,
      ]);
    },
  );
}

/** The picture that was measured last. */
let measured: Picture | null = null;
async function measure({ id, ...request }: Extract<WorkerRequest, { kind: 'measure' }>): Promise<void> {
  await rendererFor(request.shot).renderFrame({ ...request, cancelled: () => isCancelled(id) }, (picture: Picture) => {
    measured = { ...picture, address: undefined, data: Float32Array.from(picture.data) };
    answer({ kind: 'measure', id, scope: scopeOf(picture) });
  });
}
function values({ id, box: [left, top, right, bottom] }: Extract<WorkerRequest, { kind: 'values' }>): void {
  const { width, height } = measured ?? { width: 0, height: 0 };
  answer({ kind: 'values', id, value: measured && meanOf(measured, [left * width, top * height, right * width, bottom * height]) });
}

/** Mattes are looked at this small. */
const MATTE_FACTOR = 4;
async function mattes({ id, shot, frame, mattes: ids, at }: Extract<WorkerRequest, { kind: 'mattes' }>): Promise<void> {
  const found: FoundMatte[] = [];
  for (const matte of ids)
    await rendererFor(shot).renderMatte(shot, matte, frame, MATTE_FACTOR, ({ data, width, height }) => {
      let [left, top, right, bottom] = [width, height, -1, -1];
      for (let y = 0, p = 0; y < height; y++)
        for (let x = 0; x < width; x++, p++)
          if (data[p]! > 0.5) {
            left = Math.min(left, x);
            right = Math.max(right, x);
            top = Math.min(top, y);
            bottom = Math.max(bottom, y);
          }
      const [x, y] = at ? at.map((v) => Math.floor(v / MATTE_FACTOR)) : [-1, -1],
        inside = x! >= 0 && y! >= 0 && x! < width && y! < height;
      found.push({
        id: matte,
        box: right < 0 ? null : [left * MATTE_FACTOR, top * MATTE_FACTOR, (right + 1) * MATTE_FACTOR, (bottom + 1) * MATTE_FACTOR],
        value: inside ? data[y! * width + x!]! : 0,
      });
    });
  answer({ kind: 'mattes', id, found });
}

async function frontLines({ id, shot, row, frame, frames }: Extract<WorkerRequest, { kind: 'front lines' }>): Promise<void> {
  answer({ kind: 'front lines', id, lines: await rendererFor(shot).frontLines(shot, row, frame, frames) });
}
async function contrast(request: Extract<WorkerRequest, { kind: 'contrast' }>): Promise<void> {
  const { shot, row, frame, id } = request;
  answer({ kind: 'contrast', id, contrast: await contrastOf(rendererFor(shot), shot, row, frame) });
}

/** Ends long work that nobody waits for any more. */
const stopper = (id: number) => () => {
  if (isCancelled(id)) throw new Cancelled();
};
async function takes({ id, shot, clip, other, frame, what }: Extract<WorkerRequest, { kind: 'takes' }>): Promise<void> {
  const it = rendererFor(shot),
    [own, against] = [shot.clips[clip]!, shot.clips[other]!],
    stop = stopper(id);
  answer({
    kind: 'takes',
    id,
    ...(what === 'offset'
      ? { offset: await bestOffset(it, shot, own, against, stop) }
      : what === 'place'
        ? { place: await placeAgainst(it, shot, own, against, frame) }
        : { light: await lightAgainst(it, shot, own, against, frame) }),
  });
}

self.onmessage = (event: MessageEvent<WorkerRequest>) => {
  const request = event.data;
  if (request.kind === 'begin') {
    cells = request.cancel && new Int32Array(request.cancel);
    display = request.display;
    helpers = request.helpers;
    return;
  }
  if (request.kind === 'limit') {
    limits = { steps: request.steps, sources: request.sources };
    sources.limitTo(limits.sources);
    renderer?.it.evaluator.store.limitTo(limits.steps);
    return;
  }
  if (request.kind === 'memory') {
    const { store, arena } = renderer?.it.evaluator ?? {};
    answer({
      kind: 'memory',
      id: request.id,
      steps: store?.bytes ?? 0,
      sources: sources.bytesKept,
      working: arena?.memory.buffer.byteLength ?? 0,
    });
    return;
  }
  if (request.kind === 'values') {
    values(request);
    return;
  }
  if (request.kind === 'forget') {
    for (const key of request.keys) shown.delete(key);
    return;
  }
  if (request.kind === 'cancel') {
    cancelled.add(request.id);
    return;
  }
  if (request.kind === 'frame' && request.shot) document = request.shot;
  const shot = document;
  chain = chain
    .then(async () => {
      if (isCancelled(request.id)) throw new Cancelled();
      if (request.kind === 'frame') await draw(request, shot!);
      else if (request.kind === 'codes') await codes(request);
      else if (request.kind === 'measure') await measure(request);
      else if (request.kind === 'contrast') await contrast(request);
      else if (request.kind === 'front lines') await frontLines(request);
      else if (request.kind === 'measured checks')
        answer({
          kind: 'measured checks',
          id: request.id,
          checks: await measuredChecks(rendererFor(request.shot), request.shot, stopper(request.id)),
        });
      else if (request.kind === 'mattes') await mattes(request);
      else if (request.kind === 'takes') await takes(request);
      else if (request.kind === 'moments') await moments(request);
      else if (request.kind === 'patches') await patches(request);
      else if (request.kind === 'square') await square(request);
      else if (request.kind === 'likeness') await likeness(request);
      else if (request.kind === 'isolate') await isolate(request);
      else if (request.kind === 'strokes') await strokesMean(request);
      else if (request.kind === 'edge costs') await costsOfEdges(request);
      else if (request.kind === 'matte doubts') await matteDoubts(request);
      else if (request.kind === 'carry') await carry(request);
      else if (request.kind === 'matte frames') await matteFrames(request);
      else await track(request);
    })
    .catch((error: unknown) =>
      answer({ kind: 'failed', id: request.id, message: (error as Error).message, cancelled: error instanceof Cancelled }),
    )
    .then(() => {
      cancelled.delete(request.id);
    });
};
