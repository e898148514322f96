import { newShot } from '@wraithos/core/shot';
import { Dropped, WorkerPool } from './pool';
import type { DrawnFrame, WorkerAnswer, WorkerRequest } from './protocol';

const shot = newShot({ code: 'HT_010', width: 64, height: 36, rate: { num: 24, den: 1 }, frames: 50 });
const ask = (frame: number) => ({
  shot,
  frame,
  factor: 2 as const,
  upTo: null,
  plain: false,
  matte: null,
  playhead: true,
  document: '',
  ticket: '',
});
const drawn = (milliseconds: number): DrawnFrame => ({
  key: `k${milliseconds}`,
  width: 1,
  height: 1,
  bytes: 4,
  thumb: { width: 1, height: 1, pixels: new Uint8ClampedArray(4) },
  milliseconds,
  cost: {},
});

/** A worker that is told by the test when to answer. */
class FakeWorker {
  static all: FakeWorker[] = [];
  onmessage: ((event: { data: WorkerAnswer }) => void) | null = null;
  onerror: ((event: { message: string }) => void) | null = null;
  got: WorkerRequest[] = [];
  constructor() {
    FakeWorker.all.push(this);
  }
  postMessage(request: WorkerRequest): void {
    this.got.push(request);
  }
  get current(): Extract<WorkerRequest, { kind: 'frame' }> {
    return this.got.filter((r) => r.kind === 'frame').at(-1) as Extract<WorkerRequest, { kind: 'frame' }>;
  }
  finish(frame = this.current.frame): void {
    const { id } = this.got.findLast((r) => r.kind === 'frame' && r.frame === frame) as Extract<WorkerRequest, { kind: 'frame' }>;
    this.onmessage?.({ data: { kind: 'frame', id, key: `k${frame}`, drawn: drawn(frame) } });
  }
}
beforeEach(() => {
  FakeWorker.all = [];
  (globalThis as { Worker?: unknown }).Worker = FakeWorker;
});
const frames = (worker: FakeWorker) => worker.got.filter((r) => r.kind === 'frame').map((r) => (r as { frame: number }).frame);

test('the most urgent request goes first, however late it came; equal ones by how near they are to the last', async () => {
  const pool = new WorkerPool(),
    [worker] = FakeWorker.all as [FakeWorker];
  const answers = [pool.frame(ask(1010), 2), pool.frame(ask(1040), 2), pool.frame(ask(1011), 2), pool.frame(ask(1020), 10)];
  for (let i = 0; i < 4; i++) worker.finish();
  expect((await Promise.all(answers)).map((a) => a.drawn!.milliseconds)).toEqual([1010, 1040, 1011, 1020]);
  expect(frames(worker)).toEqual([1010, 1020, 1011, 1040]);
  expect(pool.idle).toBe(true);
});

test('a request that is dropped before it starts never reaches a worker; one under way is cancelled there', async () => {
  const pool = new WorkerPool(),
    [worker] = FakeWorker.all as [FakeWorker],
    control = new AbortController(),
    first = pool.frame(ask(1001), 2, control.signal),
    second = pool.frame(ask(1002), 2, control.signal);
  control.abort();
  await expect(second).rejects.toBeInstanceOf(Dropped);
  expect(worker.got.at(-1)).toEqual({ kind: 'cancel', id: worker.current.id });
  worker.onmessage?.({ data: { kind: 'failed', id: worker.current.id, message: 'cancelled', cancelled: true } });
  await expect(first).rejects.toBeInstanceOf(Dropped);
  expect(frames(worker)).toEqual([1001]);
  const late = new AbortController();
  late.abort();
  await expect(pool.frame(ask(1003), 2, late.signal)).rejects.toBeInstanceOf(Dropped);
});

test('what is asked for after a request under way was dropped is sent at once, and both answers are heard', async () => {
  const pool = new WorkerPool(),
    [worker] = FakeWorker.all as [FakeWorker],
    control = new AbortController(),
    ahead = pool.frame(ask(1001), 2, control.signal),
    waiting = pool.frame(ask(1002), 2, control.signal),
    id = worker.current.id;
  control.abort();
  const wanted = pool.frame(ask(1030), 10),
    last = pool.frame(ask(1031), 10);
  await expect(waiting).rejects.toBeInstanceOf(Dropped);
  // Without a word from the worker, with the sharp picture behind the draft; others wait for an answer.
  expect(frames(worker)).toEqual([1001, 1030, 1031]);
  expect(worker.got.map((r) => r.kind)).toEqual(['frame', 'cancel', 'frame', 'frame']);
  const third = pool.frame(ask(1032), 10);
  worker.onmessage?.({ data: { kind: 'failed', id, message: 'cancelled', cancelled: true } });
  await expect(ahead).rejects.toBeInstanceOf(Dropped);
  expect(frames(worker)).toEqual([1001, 1030, 1031]);
  worker.finish(1030);
  expect((await wanted).drawn!.milliseconds).toBe(1030);
  expect(frames(worker)).toEqual([1001, 1030, 1031, 1032]);
  worker.finish(1031);
  worker.finish(1032);
  expect((await last).drawn!.milliseconds).toBe(1031);
  expect((await third).drawn!.milliseconds).toBe(1032);
  expect(pool.idle).toBe(true);
});

test('a document is sent once, and again after another one', async () => {
  const pool = new WorkerPool(),
    [worker] = FakeWorker.all as [FakeWorker];
  for (const document of ['a', 'a', 'b', 'a', 'a']) {
    const answer = pool.frame({ ...ask(1001), document }, 2);
    worker.finish();
    await answer;
  }
  expect(worker.got.map((r) => r.kind === 'frame' && r.shot === shot)).toEqual([true, false, true, true, false]);
});

test('all workers are used, a failure is told in its own words, and a worker that stops does not stop the others', async () => {
  const pool = new WorkerPool({ size: 2 }),
    [a, b] = FakeWorker.all as [FakeWorker, FakeWorker],
    first = pool.frame(ask(1001), 2),
    second = pool.frame(ask(1002), 2),
    third = pool.frame(ask(1003), 2);
  expect([frames(a), frames(b)]).toEqual([[1001], [1002]]);
  b.onmessage?.({ data: { kind: 'failed', id: b.current.id, message: 'the clip is gone', cancelled: false } });
  await expect(second).rejects.toThrow('the clip is gone');
  a.onerror?.({ message: 'out of memory' });
  await expect(first).rejects.toThrow('out of memory');
  b.finish();
  await expect(third).resolves.toMatchObject({ key: 'k1003' });
});

test('samples of a track come as they are found', async () => {
  const pool = new WorkerPool(),
    [worker] = FakeWorker.all as [FakeWorker],
    seen: string[] = [];
  const done = pool.ask({ kind: 'track', clip: {} as never, tracks: [], from: 0, to: 2 }, 20, undefined, (s, track) =>
    seen.push(`${track} ${s.frame}`),
  );
  const { id } = worker.got[0] as { id: number };
  for (const frame of [0, 1, 2])
    worker.onmessage?.({
      data: { kind: 'sample', id, track: 't1', sample: { frame, x: 1, y: 1, rotation: 0, scale: 1, confidence: 1, state: 'good' } },
    });
  worker.onmessage?.({ data: { kind: 'tracked', id } });
  await done;
  expect(seen).toEqual(['t1 0', 't1 1', 't1 2']);
});
