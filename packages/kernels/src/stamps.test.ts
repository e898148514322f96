import { testMemory } from './testMemory';
import { stampTwin } from './twins';

const { kernels, fresh, random, floats } = testMemory(99);
beforeEach(fresh);

describe.each([
  [1, 1],
  [37, 41],
  [70, 33],
])('drawStamps at %i x %i', (width, height) => {
  test('lays turned, stretched stamps on both sides as the plain twin does, however its tiles are divided', () => {
    const sides = [10, 18],
      starts = [0, 10 * 10 * 4],
      sheet = floats(10 * 10 * 4 + 18 * 18 * 4, () => 0);
    // Premultiplied colours with an empty rim.
    sides.forEach((side, k) => {
      for (let y = 1; y < side - 1; y++)
        for (let x = 1; x < side - 1; x++) {
          const alpha = random();
          for (let c = 0; c < 4; c++) sheet.data[starts[k]! + (y * side + x) * 4 + c] = c === 3 ? alpha : alpha * random();
        }
    });
    const count = 60,
      shapes = floats(count * 16, () => 0),
      whole = new Int32Array(shapes.data.buffer, shapes.data.byteOffset, count * 16);
    for (let i = 0; i < count; i++) {
      const turn = random() * 6.28,
        half = 1 + random() * 14,
        thin = half * (0.2 + 0.8 * random()),
        pick = random() < 0.5 ? 0 : 1,
        at = i * 16,
        c = Math.cos(turn),
        s = Math.sin(turn);
      // Some lie partly or wholly beside the picture, some show nothing.
      shapes.data.set(
        [
          random() * (width + 20) - 10,
          random() * (height + 20) - 10,
          ...[(c * (sides[pick]! - 2)) / (2 * half), (s * (sides[pick]! - 2)) / (2 * half)],
          ...[(-s * (sides[pick]! - 2)) / (2 * thin), (c * (sides[pick]! - 2)) / (2 * thin)],
        ],
        at,
      );
      whole[at + 6] = starts[pick]! * 4;
      whole[at + 7] = sides[pick]!;
      const rx = Math.abs(c) * half + Math.abs(s) * thin + 1,
        ry = Math.abs(s) * half + Math.abs(c) * thin + 1;
      shapes.data.set(
        [i % 9 === 0 ? 0 : random(), random() < 0.4 ? -rx : rx, ry, 0, random() * 2, random(), random(), random() < 0.5 ? 0 : 1],
        at + 8,
      );
    }
    const rows = Math.ceil(height / 32),
      tiles = Math.ceil(width / 32) * rows,
      begins = floats(2 * tiles + 1);
    const ranges = floats(2 * count);
    kernels.tileRanges(shapes.at, ranges.at, width, height, 0, count);
    kernels.countInTiles(ranges.at, count, begins.at, 1, width, height, 0, 1);
    const entries = floats(kernels.sumStarts(begins.at, 2 * tiles) + 1),
      out = floats(width * height * 4);
    kernels.sortIntoTiles(ranges.at, count, begins.at, entries.at, 1, width, height, 0, 1);
    for (const behind of [false, true]) {
      out.data.fill(-5);
      for (let r = rows - 1; r >= 0; r--)
        kernels.drawStamps(shapes.at, sheet.at, begins.at, entries.at, behind, false, out.at, width, height, r, r + 1);
      const twin = new Float32Array(width * height * 4);
      stampTwin(shapes.data, sheet.data, behind, twin, width, height);
      let worst = 0;
      for (let i = 0; i < twin.length; i++) worst = Math.max(worst, Math.abs(twin[i]! - out.data[i]!));
      expect(worst).toBeLessThan(1e-3);
      if (width > 1) expect(twin.some((v) => v > 0.1)).toBe(true);
      // Onto what is there already: light without cover adds to it.
      out.data.fill(0.25);
      kernels.drawStamps(shapes.at, sheet.at, begins.at, entries.at, behind, true, out.at, width, height, 0, rows);
      const onto = new Float32Array(width * height * 4).fill(0.25);
      stampTwin(shapes.data, sheet.data, behind, onto, width, height);
      for (let i = 0; i < onto.length; i++) expect(Math.abs(onto[i]! - out.data[i]!)).toBeLessThan(1e-3);
    }
  });
});
