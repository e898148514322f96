import { encodeCodes } from '../src/image';
import { bandThreads } from '../../runtime/src/bandThreads';
import { FrameRenderer } from '../src/render';
import { usualShot } from './scene';

/* Where the time of the usual shot goes, kernel by kernel: npm run bench:kernels [-- 2 [1]] (the draft size, helping threads). */
const factor = Number(process.argv[2] ?? 1) as 1 | 2 | 4,
  { shot, sources } = usualShot(),
  helpers = bandThreads(Number(process.argv[3] ?? 0)),
  renderer = new FrameRenderer(sources, shot, 512 * 2 ** 20, () => performance.now(), false, helpers),
  { arena } = renderer.evaluator,
  run = arena.run.bind(arena) as (...given: unknown[]) => void;
let times = new Map<string, number>(),
  calls = new Map<string, number>(),
  total = 0,
  frames = 0;
// On one thread a band's kernel is called within its run: the outer call is the one that counts.
let within = false;
const timed = <T>(name: string, work: () => T): T => {
  if (within) return work();
  within = true;
  const begun = performance.now(),
    made = work();
  within = false;
  times.set(name, (times.get(name) ?? 0) + performance.now() - begun);
  calls.set(name, (calls.get(name) ?? 0) + 1);
  return made;
};
const whole = Object.entries(arena.kernels as unknown as Record<string, unknown>).filter(([, kernel]) => typeof kernel === 'function') as [
  string,
  (...given: unknown[]) => unknown,
][];
Object.assign(arena, {
  run: (name: string, ...rest: unknown[]) => timed(name, () => run(name, ...rest)),
  kernels: Object.fromEntries(whole.map(([name, kernel]) => [name, (...given: unknown[]) => timed(name, () => kernel(...given))])),
});
for (let frame = 1001; frame < 1066; frame++) {
  if (frame === 1046) {
    times = new Map();
    calls = new Map();
    total = frames = 0;
  }
  const begun = performance.now();
  await renderer.renderFrame({ shot, frame, factor }, (picture) => encodeCodes(picture, { bits: 8, channels: 3, frame }, arena));
  total += performance.now() - begun;
  frames++;
}
const each = [...times].sort((a, b) => b[1] - a[1]),
  sum = each.reduce((n, [, ms]) => n + ms, 0);
for (const [name, ms] of each)
  console.log(`${name.padEnd(20)} ${(ms / frames).toFixed(2).padStart(7)} ms a frame in ${+(calls.get(name)! / frames).toFixed(1)} calls`);
console.log(`${'beside kernels'.padEnd(20)} ${((total - sum) / frames).toFixed(2).padStart(7)} ms a frame`);
console.log(
  `${'whole frame'.padEnd(20)} ${(total / frames).toFixed(2).padStart(7)} ms; at most ${(arena.peak / shot.width / shot.height / 16).toFixed(1)} pictures in work`,
);
process.exit(0);
