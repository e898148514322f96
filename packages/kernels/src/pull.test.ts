import { testMemory } from './testMemory';
import { coreNoiseTwin } from './twins';

const { kernels, fresh, random, floats } = testMemory(77);
beforeEach(fresh);

const [left, top, size, phase, risen, ragged, leant, time, seed] = [31, 12, 7.5, 17.3, 3.2, 0.8, 0.7, 1.6, 9],
  teeth = (x: number) => Math.abs(2 * (x - Math.floor(x)) - 1);
/** Length and lean of the tongue at a place of the picture. */
function tongueAt(kind: number, x: number, y: number): [number, number] {
  const [u, v] = [x / size, y / size],
    lean = leant * (coreNoiseTwin(u / 1.7 + phase, v / 1.7 + risen, seed + 2) - 0.5);
  if (kind === 2) return [1 - 0.6 * ragged * coreNoiseTwin(u + phase, v * 0.5 + risen * 0.6, seed), lean];
  const n =
    kind === 1
      ? teeth(u + phase + 0.15 * coreNoiseTwin(time * 2, u / 3, seed + 5)) * (0.75 + 0.5 * coreNoiseTwin(u / 2, time * 1.7, seed + 6))
      : 0.65 * coreNoiseTwin(u + phase, v + risen, seed) + 0.35 * coreNoiseTwin(u * 2.3, v * 2.3 + risen * 1.8, seed + 1);
  return [Math.max(0.02, 1 - ragged + 2.1 * ragged * n * n), lean];
}

test.each([
  ['flames', 0],
  ['teeth', 1],
  ['a veil', 2],
])('tonguesAt: length and lean of %s follow the noise of the picture', (_, kind) => {
  const [width, height] = [13, 9],
    params = floats(12, (i) => [left, top, size, phase, risen, ragged, leant, kind, time, seed][i] ?? 0),
    [lengths, leans] = [floats(width * height), floats(width * height)];
  kernels.tonguesAt(params.at, lengths.at, leans.at, width, 4, height);
  kernels.tonguesAt(params.at, lengths.at, leans.at, width, 0, 4);
  for (let p = 0; p < width * height; p++) {
    const [length, lean] = tongueAt(kind, left + (p % width), top + Math.floor(p / width));
    expect(lengths.data[p]).toBeCloseTo(length, 3);
    expect(leans.data[p]).toBeCloseTo(lean, 4);
  }
});

test.each([
  ['up', 0, -1],
  ['down', 0, 1],
  ['to the left', -1, 0],
  ['to the right', 1, 0],
])('pullAlong: a body pulled %s falls off with the way, leans, and never takes from what is there', (_, dx, dy) => {
  const [width, height, reach] = [12, 10, 6],
    body = floats(width * height, (p) => (((p % width) - 6) ** 2 + (Math.floor(p / width) - 5) ** 2 < 5 ? 0.9 : 0)),
    lengths = floats(width * height, () => 0.2 + random()),
    leans = floats(width * height, () => 2 * random() - 1),
    out = floats(width * height, (p) => (p % 5 ? 0 : 0.3)),
    expected = Float64Array.from(out.data),
    [along, across] = dy ? [height, width] : [width, height],
    at = (i: number, j: number) => (dy ? i * width + j : j * width + i);
  let before = new Float64Array(across);
  for (let k = 0; k < along; k++) {
    const i = dx + dy < 0 ? along - 1 - k : k,
      now = new Float64Array(across);
    for (let j = 0; j < across; j++) {
      const p = at(i, j),
        near = Math.max(before[Math.max(0, j - 1)]!, before[j]!, before[Math.min(across - 1, j + 1)]!),
        from = Math.min(across - 1, Math.max(0, j + leans.data[p]!)),
        whole = Math.floor(from),
        mixed = before[whole]! + (before[Math.min(across - 1, whole + 1)]! - before[whole]!) * (from - whole),
        // (1 - x / 16)^16
        falls = Math.max(0, 1 - 1 / (reach * lengths.data[p]!) / 16) ** 16;
      now[j] = Math.max(body.data[p]!, near > 0.01 ? mixed * falls : 0);
      expected[p] = Math.max(expected[p]!, now[j]!);
    }
    before = now;
  }
  kernels.pullAlong(body.at, lengths.at, leans.at, reach, dx, dy, out.at, width, height);
  expected.forEach((v, p) => expect(out.data[p]).toBeCloseTo(v, 5));
});
