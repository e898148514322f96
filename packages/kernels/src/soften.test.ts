import { testMemory } from './testMemory';

const { kernels, fresh, random, floats } = testMemory(92);
beforeEach(fresh);
const [width, height] = [37, 22],
  taps = [0.4, 0.2, 0.08, 0.02];

test.each([
  ['in the middle', (x: number, y: number) => x > 12 && x < 20 && y > 8 && y < 12],
  ['at the edges', (x: number, y: number) => (x < 3 && y < 4) || (x > 34 && y > 20)],
  ['everywhere', () => true],
  ['nowhere', () => false],
] as const)('softenDrawn with spans of rows is blurRows and blurColumns, for what is drawn %s', (_, drawn) => {
  const picture = floats(width * height * 4, (i) => (drawn((i >> 2) % width, Math.floor((i >> 2) / width)) ? random() : 0)),
    weights = floats(taps.length, (i) => taps[i]!),
    between = floats(width * height * 4),
    expected = floats(width * height * 4),
    soft = floats(width * height * 4),
    spans = floats(2 * height),
    found = new Int32Array(spans.data.buffer, spans.at, 2 * height);
  kernels.blurRows(picture.at, between.at, width, 4, weights.at, taps.length - 1, 0, height);
  kernels.blurColumns(between.at, expected.at, width * 4, height, weights.at, taps.length - 1, 0, height);
  kernels.rowSpans(picture.at, spans.at, width, 9, height);
  kernels.rowSpans(picture.at, spans.at, width, 0, 9);
  for (let y = 0; y < height; y++) {
    const columns = Array.from({ length: width }, (__, x) => x).filter((x) => drawn(x, y));
    expect([...found.slice(2 * y, 2 * y + 2)]).toEqual(columns.length ? [columns[0], columns.at(-1)! + 1] : [0, 0]);
  }
  kernels.softenDrawn(picture.at, soft.at, spans.at, width, height, weights.at, taps.length - 1, 13, height);
  kernels.softenDrawn(picture.at, soft.at, spans.at, width, height, weights.at, taps.length - 1, 0, 13);
  for (let i = 0; i < expected.data.length; i++) expect(soft.data[i]).toBeCloseTo(expected.data[i]!, 6);
});
