import { drawScene, type SceneMotion, type SceneOptions } from '../../test/texturedScene';
import { PointTracker, type TrackSample } from './pointTracker';

const size = { width: 400, height: 260 };

function run(
  motion: SceneMotion,
  frames: number,
  options: Partial<SceneOptions> = {},
  box = { pattern: 41, search: 81 },
): { samples: TrackSample[]; rms: number; worstGood: number; good: number } {
  const all = { ...size, ...options },
    begin = motion.at(0),
    tracker = new PointTracker(drawScene(motion, 0, all), 0, [begin.x, begin.y], box),
    samples = [tracker.start];
  let squares = 0,
    good = 0,
    worst = 0;
  for (let f = 1; f < frames; f++) {
    const sample = tracker.step(drawScene(motion, f, all), f);
    samples.push(sample);
    if (sample.state !== 'good') continue;
    const truth = motion.at(f),
      error = Math.hypot(sample.x! - truth.x, sample.y! - truth.y);
    squares += error * error;
    good++;
    worst = Math.max(worst, error);
  }
  return { samples, rms: Math.sqrt(squares / Math.max(1, good)), worstGood: worst, good };
}

const drift: SceneMotion = {
  at: (f) => ({ x: 120.3 + 3.37 * f + 6 * Math.sin(f * 0.3), y: 130.7 + 9 * Math.sin(f * 0.21), degrees: 0.5 * f, scale: 1.005 ** f }),
};

test('follows turn and growth on clean frames to 0.1 px', () => {
  const result = run(drift, 50);
  console.info(`clean: rms ${result.rms.toFixed(3)} px, ${result.good} good`);
  expect(result.good).toBeGreaterThanOrEqual(48);
  expect(result.rms).toBeLessThanOrEqual(0.1);
});

test('follows through grain and brightness flicker to 0.3 px', () => {
  const result = run(drift, 50, { grain: 0.025, flicker: 0.12 });
  console.info(`grain and flicker: rms ${result.rms.toFixed(3)} px, ${result.good} good`);
  expect(result.good).toBeGreaterThanOrEqual(45);
  expect(result.rms).toBeLessThanOrEqual(0.3);
  expect(result.worstGood).toBeLessThan(1);
});

test('follows 35 pixels a frame, turning back at once', () => {
  const zigzag: SceneMotion = {
    at: (f) => ({ x: 130 + 35 * (f % 10 < 5 ? f % 5 : 5 - (f % 5)), y: 130 + (f % 2) * 12, degrees: 0.5 * f, scale: 1.005 ** f }),
  };
  const result = run(zigzag, 30, { grain: 0.012 });
  console.info(`35 px a frame: rms ${result.rms.toFixed(3)} px, ${result.good} good`);
  expect(result.good).toBeGreaterThanOrEqual(26);
  expect(result.rms).toBeLessThanOrEqual(0.3);
  expect(result.worstGood).toBeLessThan(1);
});

test('marks frames behind a pole as lost and finds the point again', () => {
  const past: SceneMotion = { at: (f) => ({ x: 100 + 6 * f, y: 130 + 4 * Math.sin(f * 0.4), degrees: 0.5 * f, scale: 1.005 ** f }) };
  const result = run(past, 36, { grain: 0.015, flicker: 0.05, pole: () => [190, 240] });
  console.info(
    `pole: ${result.samples.map((s) => s.state[0]).join('')}, rms of good ${result.rms.toFixed(3)} px, worst ${result.worstGood.toFixed(2)}`,
  );
  expect(result.worstGood).toBeLessThanOrEqual(1);
  expect(result.rms).toBeLessThanOrEqual(0.3);
  expect(result.samples.slice(19, 23).every((s) => s.state === 'lost')).toBe(true);
  expect(result.samples.slice(19, 23).every((s) => s.x === null)).toBe(true);
  expect(result.samples.slice(-6).every((s) => s.state === 'good')).toBe(true);
});

test('a pattern without detail or off the picture is refused or marked, never claimed', () => {
  const plane = { kind: 'plane' as const, width: 200, height: 200, data: new Float32Array(40000).fill(0.4) };
  const tracker = new PointTracker(plane, 0, [100, 100], { pattern: 21, search: 61 });
  expect(tracker.step(plane, 1).state).toBe('lost');
  expect(() => new PointTracker(plane, 0, [300, 10], { pattern: 21, search: 61 })).toThrow('outside the picture');
  expect(() => new PointTracker(plane, 0, [30, 10], { pattern: 20, search: 61 })).toThrow('odd');
});
