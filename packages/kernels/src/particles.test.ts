import { banded, off, testMemory } from './testMemory';
import { coverTwin, curlTwin, drawTwin, moveTwin, ownTwin, stirTwin } from './twins';

const { memory, kernels, fresh, random, floats } = testMemory(4711);
beforeEach(fresh);

test('the flow that particles follow has no divergence, and about the same strength everywhere', () => {
  const e = 0.01;
  let power = 0;
  for (let i = 0; i < 60; i++) {
    const [x, y] = [random() * 20, random() * 20],
      u = (dx: number) => curlTwin(x + dx, y, 0.3, 1)[0],
      v = (dy: number) => curlTwin(x, y + dy, 0.3, 1)[1];
    expect(Math.abs((u(e) - u(-e) + v(e) - v(-e)) / (2 * e))).toBeLessThan(0.02);
    power += (u(0) * u(0) + v(0) * v(0)) / 60;
  }
  expect(power).toBeGreaterThan(0.2);
  expect(power).toBeLessThan(2);
});

describe('particles', () => {
  const count = 11,
    stride = 12,
    lanes = () => Array.from({ length: 10 }, () => floats(stride));
  test.each([
    ['the air has all of them', [1, 1], false, 0],
    ['it is stronger level than upright, some are out of it, and each has a weight of its own', [1.2, 0.3], true, 0],
    ['turbulence takes hold over 40 frames', [1, 1], false, 1 / 40],
  ] as const)('moveFlakes is the closed step in moving air: %s', (_, [level, upright], some, onset) => {
    const [id, x, y, vx, vy, age] = lanes() as [ReturnType<typeof floats>, ...ReturnType<typeof floats>[]] as never as ReturnType<
        typeof floats
      >[],
      ids = new Uint32Array(memory.buffer, id!.at, stride),
      params = floats(20, (i) => [2, -0.6, 0.85, 0.35, 12, 0.55, 0.008, 26.1, 26.11, 6, 5, level, upright, 0, 0, 0, onset][i] ?? 0),
      stirred = floats(stride, (i) => (i % 3) / 2),
      weighs = floats(stride, (i) => 1 - (i % 4));
    const before = Array.from({ length: stride }, (_, i) => {
      ids[i] = stirTwin(i + 3) >>> 0;
      x!.data[i] = 900 * random();
      y!.data[i] = 500 * random();
      vx!.data[i] = random();
      vy!.data[i] = random();
      age!.data[i] = Math.floor(30 * random());
      return { id: ids[i]!, x: x!.data[i]!, y: y!.data[i]!, vx: vx!.data[i]!, vy: vy!.data[i]!, age: age!.data[i]! };
    });
    banded(stride / 4, (g0, g1) =>
      kernels.moveFlakes(params.at, 0, id!.at, x!.at, y!.at, vx!.at, vy!.at, age!.at, some ? stirred.at : 0, some ? weighs.at : 0, g0, g1),
    );
    before.forEach((flake, i) => {
      const twin = moveTwin(flake, params.data, some ? stirred.data[i] : 1, some ? weighs.data[i] : 1);
      expect(Math.abs(x!.data[i]! - twin.x)).toBeLessThan(5e-3);
      expect(Math.abs(y!.data[i]! - twin.y)).toBeLessThan(5e-3);
      expect(age!.data[i]).toBe(twin.age);
    });
  });
  test('moveFlakes by a lattice gives the bits of the noise itself, in it and where particles leave it', () => {
    const heads = [
        [-1, 0, 8, 5],
        [-2, 2, 20, 9],
      ],
      places = heads.reduce((sum, [, , columns, rows]) => sum + columns! * rows!, 0),
      params = floats(20, (i) => [2, -0.6, 0.85, 0.35, 12, 0.55, 0.008, 26.1, 26.11, 6, 5, 1, 1][i] ?? 0),
      lattice = floats(8 + 4 * places, () => 0),
      start = lanes().slice(0, 6);
    new Int32Array(memory.buffer, lattice.at, 8).set(heads.flat());
    banded(2 * (5 + 9), (r0, r1) => kernels.layLattice(params.at, lattice.at, r0, r1));
    const ids = new Uint32Array(memory.buffer, start[0]!.at, stride);
    for (let i = 0; i < stride; i++) {
      ids[i] = stirTwin(i + 3) >>> 0;
      // Groups inside of both tables, partly outside of the fine one, and far outside of both.
      start[1]!.data[i] = i < 4 ? 100 + 150 * random() : i < 8 ? 900 * random() : -5000;
      start[2]!.data[i] = i < 4 ? 150 + 200 * random() : 700 * random();
      start[3]!.data[i] = start[4]!.data[i] = random();
      start[5]!.data[i] = 30 * random();
    }
    const moved = [0, lattice.at].map((at) => {
      const [id, x, y, vx, vy, age] = start.map((lane) => floats(stride, (i) => lane.data[i]!)) as ReturnType<typeof floats>[];
      new Uint32Array(memory.buffer, id!.at, stride).set(ids);
      banded(stride / 4, (g0, g1) => kernels.moveFlakes(params.at, at, id!.at, x!.at, y!.at, vx!.at, vy!.at, age!.at, 0, 0, g0, g1));
      return [x, y, vx, vy].flatMap((lane) => [...lane!.data]);
    });
    expect(moved[1]).toEqual(moved[0]);
    // Their places in it are those of the noise: what it holds is used.
    lattice.data.fill(0, 8);
    const [id, x, y, vx, vy, age] = start;
    kernels.moveFlakes(params.at, lattice.at, id!.at, x!.at, y!.at, vx!.at, vy!.at, age!.at, 0, 0, 0, 1);
    expect([...x!.data.slice(0, 4)]).not.toEqual(moved[0]!.slice(0, 4));
  });
  test('spanOf is the least and the greatest', () => {
    const lane = floats(stride, () => 200 * random() - 100),
      out = floats(2, () => 0);
    kernels.spanOf(lane.at, stride / 4, out.at);
    expect([...out.data]).toEqual([Math.min(...lane.data), Math.max(...lane.data)]);
  });
  test.each([
    ['they lie there and age slowly', 1],
    ['they lie there for good', 2],
  ] as const)('moveFlakes with a ground: %s', (_, lands) => {
    const [id, x, y, vx, vy, age] = lanes() as ReturnType<typeof floats>[],
      ids = new Uint32Array(memory.buffer, id!.at, stride),
      params = floats(20, (i) => [2, 3, 0.85, 0.9, 12, 0.55, 0.008, 26.1, 26.11, 0, 5, 1, 1, 300, 40, lands][i] ?? 0);
    for (let i = 0; i < stride; i++) {
      ids[i] = stirTwin(i + 3) >>> 0;
      x!.data[i] = 900 * random();
      // Some above, some on their way through, one below it from the beginning.
      y!.data[i] = i === 4 ? 380 : 250 + 8 * i;
      vx!.data[i] = vy!.data[i] = 1 + random();
      age!.data[i] = 20;
    }
    let twins = Array.from({ length: stride }, (_, i) => ({
      ...{ id: ids[i]!, x: x!.data[i]!, y: y!.data[i]!, vx: vx!.data[i]!, vy: vy!.data[i]!, age: age!.data[i]! },
    }));
    for (let step = 0; step < 6; step++) {
      banded(stride / 4, (g0, g1) => kernels.moveFlakes(params.at, 0, id!.at, x!.at, y!.at, vx!.at, vy!.at, age!.at, 0, 0, g0, g1));
      twins = twins.map((twin) => moveTwin(twin, params.data));
    }
    let lying = 0;
    twins.forEach((twin, i) => {
      expect(Math.abs(x!.data[i]! - twin.x)).toBeLessThan(2e-2);
      expect(Math.abs(y!.data[i]! - twin.y)).toBeLessThan(2e-2);
      expect(age!.data[i]).toBe(twin.age);
      if (vx!.data[i] === 0 && vy!.data[i] === 0) lying++;
      expect(y!.data[i]).toBeLessThanOrEqual(i === 4 ? 380 : 340);
    });
    expect(lying).toBeGreaterThan(stride / 2);
    expect(y!.data[4]).toBe(380);
  });
  test('countFallen: each particle throws its shadow where it would come down, high ones apart, older ones less, and one in so many counts', () => {
    const many = 200,
      [w, h, ground, band, tall, high, area, every] = [30, 20, 60, 6, 50, 0.3, 0.5, 2],
      one = Array.from({ length: 8 }, () => floats(many)),
      [id, x, y, vx, vy, age, life] = one as [(typeof one)[0], ...typeof one],
      ids = new Uint32Array(memory.buffer, id.at, many),
      params = floats(12, (i) => [5, ground, band, tall, high, area, 1 / 4, w, h, every][i] ?? 0),
      [low, far] = [floats(w * h, () => 0), floats(w * h, () => 0)],
      wanted = [new Float64Array(w * h), new Float64Array(w * h)];
    for (let i = 0; i < many; i++) {
      ids[i] = stirTwin(i + 9) >>> 0;
      x!.data[i] = 140 * random() - 10;
      y!.data[i] = 75 * random();
      vx!.data[i] = vy!.data[i] = i % 5 ? 1 : 0;
      age!.data[i] = 30 * random();
      life!.data[i] = 31;
      if (ids[i]! % every) continue;
      const apart = band * ownTwin(5, ids[i]!, 41),
        line = i % 5 ? ground + (ownTwin(5, ids[i]!, 20) < 0.38 ? -apart : apart) : y!.data[i]!,
        up = (line - y!.data[i]!) / tall,
        [cx, cy] = [Math.floor(x!.data[i]! / 4), Math.floor(line / 4)];
      if (up <= -0.02 || cx < 0 || cy < 0 || cx >= w || cy >= h) continue;
      wanted[up > high ? 1 : 0]![cy * w + cx]! += (area * Math.min(1, 2.5 * (1 - age!.data[i]! / 31))) / (1 + up);
    }
    kernels.countFallen(params.at, id.at, x!.at, y!.at, vx!.at, vy!.at, age!.at, life!.at, many, low.at, far.at);
    [low, far].forEach((plane, k) => {
      expect(wanted[k]!.some((v) => v > 0.1)).toBe(true);
      wanted[k]!.forEach((v, p) => expect(plane.data[p]).toBeCloseTo(v, 4));
    });
  });
  test('those whose life is not over are gathered, every lane in its order', () => {
    const block = floats(stride * 3, (i) => i),
      living = floats(stride);
    // Lane 1 is the age, lane 2 the life: every third has lived.
    for (let i = 0; i < stride; i++) {
      block.data[stride + i] = i;
      block.data[2 * stride + i] = i % 3 ? 99 : 0;
    }
    expect(kernels.findLiving(block.at + 4 * stride, block.at + 8 * stride, count, living.at)).toBe(7);
    const to = floats(3 * 8, () => -1);
    banded(3, (l0, l1) => kernels.gatherLanes(block.at, stride, living.at, 7, to.at, 8, l0, l1));
    for (const lane of [0, 1]) expect([...to.data.subarray(8 * lane, 8 * lane + 8)]).toEqual([1, 2, 4, 5, 7, 8, 10, -1]);
  });
  test('a draft shows a share of the particles by their ids, the same ones whatever comes after them', () => {
    const many = 1001,
      id = floats(many + 3),
      list = floats(many + 1),
      ids = new Uint32Array(memory.buffer, id.at, many + 3),
      listed = (n: number) => Array.from(new Uint32Array(memory.buffer, list.at, n));
    for (let i = 0; i < ids.length; i++) ids[i] = stirTwin(i + 5) >>> 0;
    const n = kernels.findShown(id.at, many, 7, 0.4, list.at),
      all = listed(n);
    expect(n / many).toBeGreaterThan(0.34);
    expect(n / many).toBeLessThan(0.46);
    expect(all.every((at, i) => at % 4 === 0 && at < 4 * many && (i === 0 || at > all[i - 1]!))).toBe(true);
    expect(listed(kernels.findShown(id.at, 501, 7, 0.4, list.at))).toEqual(all.filter((at) => at < 4 * 501));
    expect(kernels.findShown(id.at, many, 7, 1, list.at)).toBe(many);
  });
  test.each([
    [33, 7, false],
    [70, 41, false],
    [70, 41, true],
  ])('shapes are sorted into tiles and drawn in their order at %i x %i, of several kinds: %s', (width, height, kinds) => {
    const made = 40,
      [id, x, y, vx, vy, age, life, red, green, blue] = Array.from({ length: 10 }, () => floats(made)),
      ids = new Uint32Array(memory.buffer, id!.at, made),
      params = floats(
        24,
        (i) =>
          [7, 1, 4, 0.85, 0.7, 0.5, 0.4, 0.3, 0.5, 1, 0.6, 0.2, 0.13, 0.38, 1, ...(kinds ? [0.2, 0.3, 0.15, 0.15, 1, 0.5] : [])][i] ?? 0,
      ),
      shapes = floats(made * 16);
    for (let i = 0; i < made; i++) {
      ids[i] = stirTwin(i + 9) >>> 0;
      x!.data[i] = i === 3 ? NaN : i === 4 ? 1e30 : random() * (width + 20) - 10;
      y!.data[i] = random() * (height + 20) - 10;
      vx!.data[i] = 12 * random() - 6;
      vy!.data[i] = i % 7 ? 8 * random() - 4 : 0;
      age!.data[i] = 20 * random();
      life!.data[i] = i === 5 ? 0.5 : 40;
      red!.data[i] = green!.data[i] = blue!.data[i] = 0.4;
    }
    banded(made / 4, (g0, g1) =>
      kernels.shapeFlakes(
        ...([params.at, id!.at, x!.at, y!.at, vx!.at, vy!.at, age!.at, life!.at, red!.at, green!.at, blue!.at, shapes.at, g0, g1] as const),
      ),
    );
    // No shape covers anything outside its box.
    for (let i = 6; i < made; i++) {
      const s = shapes.data.subarray(i * 16, i * 16 + 16);
      for (let k = 0; k < 200; k++) {
        const px = s[0]! + (random() - 0.5) * 60,
          py = s[1]! + (random() - 0.5) * 60;
        if (Math.abs(px - s[0]!) > Math.abs(s[9]!) || Math.abs(py - s[1]!) > s[10]!) expect(coverTwin(s, px - 0.5, py - 0.5)).toBe(0);
      }
    }
    const tiles = Math.ceil(width / 32) * Math.ceil(height / 32),
      starts = floats(2 * tiles + 1),
      parts = 3;
    const ranges = floats(2 * made);
    banded(made, (i0, i1) => kernels.tileRanges(shapes.at, ranges.at, width, height, i0, i1));
    banded(parts, (p0, p1) => kernels.countInTiles(ranges.at, made, starts.at, parts, width, height, p0, p1));
    const entries = floats(kernels.sumStarts(starts.at, 2 * tiles) + 1),
      out = floats(width * height * 4),
      rows = Math.ceil(height / 32);
    banded(parts, (p0, p1) => kernels.sortIntoTiles(ranges.at, made, starts.at, entries.at, parts, width, height, p0, p1));
    for (const behind of [false, true]) {
      banded(rows, (r0, r1) => kernels.drawShapes(shapes.at, starts.at, entries.at, behind, false, out.at, width, height, r0, r1));
      const twin = new Float32Array(width * height * 4);
      drawTwin(shapes.data, behind, twin, width, height);
      expect(off(out.data, twin)).toBeLessThan(2e-4);
      expect(twin.some((v) => v > 0.1)).toBe(true);
    }
  });
});
