/** One thing to time, and what it is held against. Both give back what they computed, so that nothing can be left out. */
export interface Work {
  work: string;
  width: number;
  height: number;
  peer: string;
  run(): unknown;
  runPeer?(): unknown;
  /** In place of `runPeer`, for a peer that is a program of its own: its milliseconds for one piece of the work, without its start. */
  timePeer?(): Promise<number>;
  /** Calls in one sample: enough for a clock of a millisecond. */
  calls?: number;
  /** Samples in a round; 7 where nothing is said. */
  samples?: number;
  close?(): unknown;
}
export interface Row {
  work: string;
  width: number;
  height: number;
  ms: number;
  peer: string;
  peerMs: number;
  ratio: number;
}

const median = (values: number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1]!;
const round = (n: number): number => Number(n.toPrecision(4));

async function sample(run: () => unknown, calls: number): Promise<number> {
  const begun = performance.now();
  for (let i = 0; i < calls; i++) await run();
  return (performance.now() - begun) / calls;
}

/** Times work and peer in turn: `samples` each in every one of three rounds; the median of the rounds' medians counts. */
export async function measure(work: Work): Promise<Row> {
  const calls = work.calls ?? 1,
    own: number[] = [],
    peers: number[] = [],
    peer = () => (work.timePeer ? work.timePeer() : sample(work.runPeer!, calls));
  for (let warm = 0; warm < (work.timePeer ? 1 : 3); warm++) {
    for (let i = 0; i < 3; i++) await sample(work.run, calls);
    await peer();
  }
  for (let round = 0; round < 3; round++) {
    const a: number[] = [],
      b: number[] = [];
    for (let i = 0; i < (work.samples ?? 7); i++) {
      a.push(await sample(work.run, calls));
      b.push(await peer());
    }
    own.push(median(a));
    peers.push(median(b));
  }
  await work.close?.();
  const ms = median(own),
    peerMs = median(peers);
  return {
    work: work.work,
    width: work.width,
    height: work.height,
    ms: round(ms),
    peer: work.peer,
    peerMs: round(peerMs),
    ratio: round(ms / peerMs),
  };
}
