import { banded, testMemory } from './testMemory';

/** What cells and pixels say of a body against its clean plate. */
const { kernels, memory, fresh, random, floats } = testMemory(66);
beforeEach(fresh);
const smooth = (t: number) => {
    const c = Math.min(1, Math.max(0, t));
    return c * c * (3 - 2 * c);
  },
  [LEAST, HOLDS] = [0.002, 0.6],
  link = (far: number) => LEAST + (far > 23 ? 0 : HOLDS * Math.exp(-far)),
  grain = [0.02, 0.015, 0.03] as const,
  [darkest, brightest] = [-0.4, 0.9];
/** How far a place differs; and the steps to another one that the clean plate does not have. */
function differs(a: readonly number[], b: readonly number[], dropped: boolean, most: readonly number[] = [-1000, 1000]): number {
  const d = a.map((v, c) => v - b[c]!),
    k = d.reduce((sum, v, c) => sum + v * b[c]!, 0) / (b.reduce((sum, v) => sum + v * v, 0) + 1e-4),
    light = dropped && k > darkest && k < brightest ? Math.max(most[0]!, Math.min(most[1]!, k)) : 0;
  return Math.hypot(...d.map((v, c) => (v - light * b[c]!) / grain[c]!));
}
const steps = (a: readonly number[], b: readonly number[], a2: readonly number[], b2: readonly number[]) =>
  a.reduce((sum, v, c) => {
    const own = v - a2[c]!,
      off = own - (b[c]! - b2[c]!);
    return sum + ((Math.abs(off) < Math.abs(own) ? off : own) / grain[c]!) ** 2;
  }, 0);
/** Inside and outside as what is seen, gone and clear says. */
function word(
  ...[z, begins, certain, kept, covered, empty, nothing, surely = 0]: [
    z: number,
    begins: number,
    certain: number,
    kept: number,
    covered: number,
    empty: number,
    nothing: number,
    surely?: number,
  ]
): [number, number] {
  const t = smooth((z - begins) / (certain - begins));
  return [
    Math.max(t * (1 - Math.max(0.8 * kept, 0.9 * surely)), covered),
    Math.max(0.5 * kept, surely, empty) * (1 - t * (1 - surely)) + nothing,
  ];
}

test.each([
  [9, 7, true],
  [16, 5, false],
])('likenessOf and cellSystem on %i x %i cells, light dropped: %s', (width, height, dropped) => {
  const n = width * height,
    picture = floats(4 * n, (i) => ((i & 3) === 3 ? 1 : i % 13 ? 0.3 * random() : -0.1)),
    gains = floats(4, (i) => [1, 1.5, 0.5, 0][i]!),
    rooted = floats(3 * n);
  banded(height, (y0, y1) => kernels.rootPlanes(picture.at, gains.at, rooted.at, n, width, y0, y1));
  for (let c = 0; c < 3; c++)
    for (let p = 0; p < n; p++)
      expect(rooted.data[c * n + p]).toBeCloseTo([1, 1.5, 0.5][c]! * Math.sqrt(Math.max(0, picture.data[4 * p + c]!)), 5);

  const clean = floats(3 * n, () => 0.3 + 0.2 * random()),
    a = floats(3 * n, (i) => clean.data[i]! * (i % 3 ? 1 : 0.8) + (i % n > n / 2 ? 0.3 * random() : 0.01 * random())),
    [structure, like, kept, zs] = [floats(n), floats(n), floats(n), floats(n)],
    fine = floats(n, () => Math.max(0, 2 * random() - 1)),
    noise = grain[1] ** 2;
  banded(height, (y0, y1) => kernels.likenessOf(a.at + 4 * n, clean.at + 4 * n, noise, structure.at, like.at, width, height, y0, y1));
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let [count, sa, sb, aa, bb, ab] = [0, 0, 0, 0, 0, 0];
      for (let j = Math.max(0, y - 2); j <= Math.min(height - 1, y + 2); j++)
        for (let i = Math.max(0, x - 2); i <= Math.min(width - 1, x + 2); i++) {
          const [u, v] = [a.data[n + j * width + i]!, clean.data[n + j * width + i]!];
          [count, sa, sb, aa, bb, ab] = [count + 1, sa + u, sb + v, aa + u * u, bb + v * v, ab + u * v];
        }
      const [va, vb] = [aa / count - (sa / count) ** 2, bb / count - (sb / count) ** 2];
      expect(structure.data[y * width + x]).toBeCloseTo(vb / noise / (vb / noise + 8), 3);
      expect(like.data[y * width + x]).toBeCloseTo(
        (ab / count - (sa * sb) / count ** 2) / Math.sqrt(Math.max(va, 0.3 * vb) * vb + noise * noise),
        3,
      );
    }

  const stride = ((width + 3) & ~3) + 8,
    [said, weight, right, below] = [0, 1, 2, 3].map(() => floats(stride * (height + 2), () => 0)) as [
      typeof a,
      typeof a,
      typeof a,
      typeof a,
    ],
    narrow = 1 / 50,
    parts = floats(
      16,
      (i) => [...grain.map((g) => 1 / g), darkest, brightest, narrow, LEAST, HOLDS, 3, 1 / 4, 1, 0.5, 0.05, dropped ? 1 : 0][i] ?? 0,
    );
  banded(height, (y0, y1) =>
    kernels.cellSystem(
      ...([a.at, clean.at, structure.at, like.at, fine.at, parts.at, said.at, weight.at, right.at, below.at, stride] as const),
      ...([kept.at, zs.at, width, height, y0, y1] as const),
    ),
  );
  const of = (plane: typeof a, p: number) => [0, 1, 2].map((c) => plane.data[c * n + p]!),
    seen = new Set<boolean>();
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const p = y * width + x,
        q = (y + 1) * stride + 4 + x,
        z = differs(of(a, p), of(clean, p), dropped),
        shows = structure.data[p]! * Math.max(0, 2 * like.data[p]! - 1),
        gone = structure.data[p]! * Math.max(0, 1 - 1.6 * Math.max(0, like.data[p]!)),
        surely = dropped ? fine.data[p]! : 0,
        [inside, outside] = word(z, 3, 7, shows, 0.5 * gone * (z > 1.5 ? 1 : 0.4), 0.05, 0.05, surely);
      expect(zs.data[p]! / Math.max(1, z)).toBeCloseTo(z / Math.max(1, z), 3);
      expect(kept.data[p]).toBeCloseTo(Math.max(shows, surely), 4);
      expect(said.data[q]).toBeCloseTo(inside, 3);
      expect(weight.data[q]).toBeCloseTo(inside + outside, 3);
      const far = (other: number) => steps(of(a, p), of(clean, p), of(a, other), of(clean, other)) * narrow;
      expect(right.data[q]).toBeCloseTo(x + 1 < width ? link(far(p + 1)) : 0, 3);
      expect(below.data[q]).toBeCloseTo(y + 1 < height ? link(far(p + width)) : 0, 3);
      seen.add(z > 7);
    }
  expect(seen.size).toBe(2);
});

/** A mask of a disc by cells, and pixels of it. */
const [cells, rows, width, height] = [9, 6, 34, 22],
  disc = () => floats(cells * rows, (q) => (Math.hypot((q % cells) - 4.2, Math.floor(q / cells) - 2.6) < 2.4 ? 0.9 : 0.05));

test('openCells, cellContrast, lightBeside and fillCells', () => {
  const mask = disc(),
    zs = floats(cells * rows, () => 90 * random()),
    [open, contrast, filled] = [floats(cells * rows), floats(cells * rows), floats(width * height)],
    about = (q: number, reach: number, visit: (k: number) => void, step = 1) => {
      const [x, y] = [q % cells, Math.floor(q / cells)];
      for (let j = Math.max(0, y - reach); j <= Math.min(rows - 1, y + reach); j += step)
        for (let i = Math.max(0, x - reach); i <= Math.min(cells - 1, x + reach); i += step) visit(j * cells + i);
    };
  banded(rows, (y0, y1) => kernels.openCells(mask.at, open.at, 1, cells, rows, y0, y1));
  banded(rows, (y0, y1) => kernels.cellContrast(mask.at, zs.at, open.at, 2, 60, contrast.at, cells, rows, y0, y1));
  const [a, b, bounds] = [
    floats(3 * cells * rows, () => 0.2 + 0.5 * random()),
    floats(3 * cells * rows, () => 0.2 + 0.5 * random()),
    floats(2 * cells * rows),
  ];
  banded(rows, (y0, y1) => kernels.lightBeside(a.at, b.at, mask.at, open.at, 2, 0.05, bounds.at, cells, rows, y0, y1));
  banded(height, (y0, y1) => kernels.fillCells(mask.at, cells, filled.at, width, y0, y1));
  for (let q = 0; q < cells * rows; q++) {
    const sides = new Set<boolean>(),
      values: number[] = [];
    const changes: number[] = [];
    about(q, 1, (k) => sides.add(mask.data[k]! > 0.5));
    about(q, 2, (k) => mask.data[k]! > 0.8 && values.push(Math.min(60, zs.data[k]!)));
    about(
      q,
      2,
      (k) => {
        const [own, behind] = [a, b].map((plane) => [0, 1, 2].map((c) => plane.data[c * cells * rows + k]!)) as [number[], number[]];
        if (mask.data[k]! < 0.2)
          changes.push(
            own.reduce((sum, v, c) => sum + (v - behind[c]!) * behind[c]!, 0) / (behind.reduce((sum, v) => sum + v * v, 0) + 1e-4),
          );
      },
      2,
    );
    const known = sides.size === 2 && changes.length > 0;
    expect(bounds.data[2 * q]).toBeCloseTo(known ? Math.min(0, ...changes) - 0.05 : -1000, 4);
    expect(bounds.data[2 * q + 1]).toBeCloseTo(known ? Math.max(0, ...changes) + 0.05 : 1000, 4);
    expect(open.data[q]).toBe(sides.size === 2 ? 1 : 0);
    expect(contrast.data[q]).toBeCloseTo(sides.size === 2 && values.length ? values.reduce((s, v) => s + v, 0) / values.length : 0, 3);
  }
  for (let p = 0; p < width * height; p++)
    expect(filled.data[p]).toBe(mask.data[(Math.floor(p / width) >> 2) * cells + ((p % width) >> 2)]! > 0.5 ? 1 : 0);
});

test.each([true, false])('the edge by pixels: listed by turns, rooted, told and held together; light dropped: %s', (dropped) => {
  const mask = disc(),
    [open, contrast, kept] = [floats(cells * rows), floats(cells * rows, () => 20 * random()), floats(cells * rows, random)],
    bounds = floats(2 * cells * rows, (i) => (i % 2 ? 1 : -1) * (0.1 + 0.9 * random())),
    n = width * height,
    index = floats(n),
    list = floats(n),
    [plate, behind] = [floats(4 * n, () => 0.4 * random()), floats(4 * n, () => 0.3 + 0.02 * random())];
  kernels.openCells(mask.at, open.at, 1, cells, rows, 0, rows);
  const m = kernels.listOpen(open.at, cells, list.at, index.at, width, height),
    at = new Int32Array(memory.buffer, list.at, m),
    place = new Int32Array(memory.buffer, index.at, n),
    isOpen = (p: number) => open.data[(Math.floor(p / width) >> 2) * cells + ((p % width) >> 2)]! > 0;
  expect([...at].sort((p, q) => p - q)).toEqual(Array.from({ length: n }, (_, p) => p).filter(isOpen));
  const odd = [...at].map((p) => ((p % width) + Math.floor(p / width)) & 1);
  expect(odd).toEqual([...odd].sort());
  place.forEach((k, p) => expect(k).toBe(isOpen(p) ? at.indexOf(p) : -1));

  const gains = floats(8, (i) => [1, 1, 1, 0, 1.1, 0.9, 1, 0][i]!),
    [roots, clean] = [floats(4 * m), floats(4 * m)],
    beside = (p: number) => {
      const x = p % width;
      return [x > 0 ? p - 1 : -1, x + 1 < width ? p + 1 : -1, p - width, p + width < n ? p + width : -1].filter((q) => q >= 0);
    };
  banded(m, (k0, k1) => kernels.edgeRoots(plate.at, list.at, gains.at, roots.at, width, height, k0, k1));
  banded(m, (k0, k1) => kernels.edgeRoots(behind.at, list.at, gains.at + 16, clean.at, width, height, k0, k1));
  at.forEach((p, k) => {
    for (let c = 0; c < 3; c++) {
      const all = [p, ...beside(p)].map((q) => Math.sqrt(behind.data[4 * q + c]!) * [1.1, 0.9, 1][c]!);
      expect(clean.data[4 * k + c]).toBeCloseTo(all.reduce((s, v) => s + v, 0) / all.length, 5);
    }
  });

  const [said, weight, right, below, u] = [floats(m), floats(m), floats(m), floats(m), floats(n, (p) => (p % 3 ? 0 : 1))],
    held = [...u.data],
    [narrow, low, high, begins, certain] = [1 / 4.5, 0.3, 0.7, 3, 7],
    parts = floats(
      20,
      (i) =>
        [
          ...grain.map((g) => 1 / g),
          darkest,
          brightest,
          narrow,
          LEAST,
          HOLDS,
          low,
          high,
          begins,
          certain,
          1,
          0.5,
          0.05,
          0.25,
          0.1,
          dropped ? 1 : 0,
        ][i] ?? 0,
    ),
    of = (plane: typeof roots, k: number) => [0, 1, 2].map((c) => plane.data[4 * k + c]!);
  banded(m, (k0, k1) =>
    kernels.edgeSystem(
      ...([roots.at, clean.at, list.at, index.at, contrast.at, kept.at, bounds.at, mask.at, cells, parts.at] as const),
      ...([said.at, weight.at, right.at, below.at, u.at, width, height, k0, k1] as const),
    ),
  );
  at.forEach((p, k) => {
    const cell = (Math.floor(p / width) >> 2) * cells + ((p % width) >> 2),
      stands = contrast.data[cell]!,
      from = Math.max(begins, low * stands),
      clear = Math.min(1, Math.max(0, (low * stands - begins) / (2 * begins))),
      z = differs(of(roots, k), of(clean, k), dropped, [bounds.data[2 * cell]!, bounds.data[2 * cell + 1]!]),
      [inside, outside] = word(z, from, Math.max(certain, high * stands), kept.data[cell]!, 0, 0.05 + 0.25 * clear, 0.05);
    expect(said.data[k]).toBeCloseTo(inside + 0.1 * mask.data[cell]!, 3);
    expect(weight.data[k]).toBeCloseTo(inside + outside + 0.1, 3);
    expect(u.data[p]).toBeCloseTo(said.data[k]! / weight.data[k]!, 5);
    const held2 = (q: number, inPicture: boolean) => {
      const j = inPicture ? place[q]! : -1;
      return j < 0 ? LEAST : link(narrow * steps(of(roots, k), of(clean, k), of(roots, j), of(clean, j)));
    };
    expect(right.data[k]).toBeCloseTo(held2(p + 1, p % width < width - 1), 3);
    expect(below.data[k]).toBeCloseTo(held2(p + width, p + width < n), 3);
  });

  const [places, links] = [floats(4 * m), floats(4 * m)],
    [s, w] = [[...said.data], [...weight.data]];
  kernels.relaxEdge(
    ...([u.at, list.at, index.at, said.at, weight.at, right.at, below.at, places.at, links.at] as const),
    ...([LEAST, 1.5, 300, m, width, height] as const),
  );
  // In the end each listed pixel is what all that holds it agrees on; the others are as they were.
  const before = new Map<number, number>(),
    raw = (v: number) => {
      // The spread of a quarter to three quarters, undone.
      let [lo, hi] = [0.25, 0.75];
      for (let k = 0; k < 40; k++) {
        const middle = (lo + hi) / 2;
        if (smooth((middle - 0.25) / 0.5) < v) lo = middle;
        else hi = middle;
      }
      return lo;
    };
  held.forEach((v, p) => place[p]! < 0 && expect(u.data[p]).toBe(v));
  at.forEach((p) => before.set(p, raw(u.data[p]!)));
  let looked = 0;
  at.forEach((p, k) => {
    const value = (q: number) => before.get(q) ?? held[q]!,
      to = (q: number) =>
        q === p + 1
          ? right.data[k]!
          : q === p + width
            ? below.data[k]!
            : place[q]! < 0
              ? LEAST
              : (q === p - 1 ? right : below).data[place[q]!]!,
      around = beside(p);
    // Only where nothing about it is beyond the spread, so that its values are known.
    if ([p, ...around].some((q) => place[q]! >= 0 && (u.data[q]! < 0.02 || u.data[q]! > 0.98))) return;
    looked++;
    const sum = s[k]! + around.reduce((t, q) => t + to(q) * value(q), 0),
      all = w[k]! + around.reduce((t, q) => t + to(q), 0);
    expect(value(p)).toBeCloseTo(sum / all, 2);
  });
  expect(looked).toBeGreaterThan(5);
});
