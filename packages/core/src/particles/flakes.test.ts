import { jest } from '@jest/globals';
import { Arena, newPicture, newPlane, type Plane } from '../image';
import { drawFlakes, type FlakeLook } from './drawFlakes';
import {
  bornAt,
  CELL,
  moveFlakes,
  moveOn,
  newFlakes,
  noFlakes,
  unpackFlakes,
  type AirOptions,
  type BirthOptions,
  type Flakes,
} from './flakes';

const arena = new Arena(32 * 2 ** 20);
afterEach(() => {
  expect(arena.inUse).toBe(0);
});
const matte = (width = 40, height = 30): Plane => {
  const plane = newPlane(width, height);
  plane.data.fill(1);
  return plane;
};
const colours = (width = 40, height = 30) => {
  const picture = newPicture(width, height);
  for (let i = 0; i < picture.data.length; i++) picture.data[i] = [0.5, 0.25, 0.125, 1][i % 4]!;
  return picture;
};
/** Order along x over the whole width, in cells. */
const along = (): Plane => {
  const plane = newPlane(40, 30);
  plane.data.forEach((_, i) => (plane.data[i] = ((i % 40) + 0.5) / 40));
  return plane;
};
const birth = (more: Partial<BirthOptions> = {}): BirthOptions => ({
  seed: 3,
  frame: 1001,
  density: 10,
  reached: [-1, 2],
  span: [-9, 9],
  life: 40,
  lifeVariation: 0.3,
  kick: 1,
  ...more,
});
const air = (more: Partial<AirOptions> = {}): AirOptions => ({
  seed: 3,
  frame: 1001,
  pixelsPerMetre: 200,
  framesPerSecond: 24,
  wind: 0,
  windDirection: 0,
  turbulence: 0,
  settle: 0.5,
  eddy: 0.4,
  churn: 0.6,
  cling: 0,
  ...more,
});
const total = (speed: number, density = 10) => {
  let n = 0;
  for (let reached = -0.2, frame = 1; reached < 1.2; reached += speed, frame++)
    n += bornAt(matte(), along(), colours(), birth({ density, frame, reached: [reached, reached + speed] })).count;
  return n;
};

test('as many are born as the area that vanished asks for, however fast the front moves', () => {
  // 160 x 120 px at 10 for each 100 px².
  for (const speed of [0.01, 0.04, 0.2, 1.4]) expect(Math.abs(total(speed) / 1920 - 1)).toBeLessThan(0.06);
  expect(Math.abs(total(0.04, 20) / 3840 - 1)).toBeLessThan(0.06);
  const half = matte();
  half.data.fill(0.5);
  expect(Math.abs(bornAt(half, along(), colours(), birth()).count / 960 - 1)).toBeLessThan(0.06);
});

test('nothing is born where the front stands still or runs back, or outside the matte', () => {
  expect(bornAt(matte(), along(), colours(), birth({ reached: [0.5, 0.5] })).count).toBe(0);
  expect(bornAt(matte(), along(), colours(), birth({ reached: [0.5, 0.2] })).count).toBe(0);
  expect(bornAt(newPlane(40, 30), along(), colours(), birth()).count).toBe(0);
});

test('a higher rate and another matte leave the particles that were there as they were', () => {
  const ids = (f: Flakes) => new Set(f.id.subarray(0, f.count));
  const few = bornAt(matte(), along(), colours(), birth({ density: 6 })),
    many = bornAt(matte(), along(), colours(), birth({ density: 18 })),
    all = ids(many);
  for (const id of ids(few)) expect(all.has(id)).toBe(true);
  const place = new Map(Array.from({ length: many.count }, (_, i) => [many.id[i]!, [many.x[i]!, many.y[i]!, many.life[i]!]]));
  for (let i = 0; i < few.count; i++) expect([few.x[i]!, few.y[i]!, few.life[i]!]).toEqual(place.get(few.id[i]!));
});

test('born between frames, flakes lie evenly along the way that the body went, each as old as its place says, and keep a share of its speed', () => {
  const moved = () => [12, -4] as const,
    on = bornAt(matte(), along(), colours(), birth({ kick: 0 })),
    given = (keeps: number) => bornAt(matte(), along(), colours(), birth({ kick: 0, between: { moved, keeps } })),
    left = given(0),
    taken = given(0.5);
  const counted = new Array<number>(6).fill(0);
  for (let i = 0; i < left.count; i++) {
    const old = left.age[i]!;
    expect(old >= 0 && old < 1).toBe(true);
    // A finer clock would have let it go where the body was then.
    expect(left.x[i]!).toBeCloseTo(on.x[i]! - 12 * old, 3);
    expect(left.y[i]!).toBeCloseTo(on.y[i]! + 4 * old, 3);
    counted[Math.floor(6 * old)]!++;
    expect([taken.vx[i], taken.vy[i]]).toEqual([6, -2]);
    expect(taken.x[i]!).toBeCloseTo(on.x[i]! - 12 * old + 6 * old, 3);
  }
  for (const n of counted) expect(Math.abs((6 * n) / left.count - 1)).toBeLessThan(0.2);
});

test('a flake begins in its cell with the colour of the pixel that it leaves', () => {
  const born = bornAt(matte(), along(), colours(), birth());
  for (let i = 0; i < born.count; i += 37) {
    expect([born.red[i], born.green[i], born.blue[i]]).toEqual([0.5, 0.25, 0.125]);
    expect(born.x[i]! >= 0 && born.x[i]! < 40 * CELL && born.y[i]! >= 0 && born.y[i]! < 30 * CELL).toBe(true);
  }
});

const one = (id = 77): Flakes => {
  const f = newFlakes(1);
  f.id[0] = id;
  f.x[0] = 100;
  f.y[0] = 50;
  f.life[0] = 1000;
  return f;
};

test('in still air a flake falls as its settling speed says: v = vs (1 - exp(-g t / vs))', () => {
  // Two settings that differ only in scale fall alike in metres: weight follows the height of the subject.
  const fallen = (pixelsPerMetre: number, settle: number) => {
    let f = one();
    for (let n = 0; n < 48; n++) f = moveFlakes(f, air({ pixelsPerMetre, settle, frame: 1001 + n }), arena);
    return { metres: (f.y[0]! - 50) / pixelsPerMetre, speed: (f.vy[0]! / pixelsPerMetre) * 24, x: f.x[0]! };
  };
  const small = fallen(100, 0.5),
    large = fallen(400, 0.5),
    light = fallen(100, 0.2);
  expect(large.metres).toBeCloseTo(small.metres, 4);
  expect(small.x).toBeCloseTo(100, 6);
  // Each flake is between 0.6 and 1.4 of the usual weight; it has reached that speed after two seconds.
  const heavy = small.speed / 0.5;
  expect(heavy).toBeGreaterThan(0.6);
  expect(heavy).toBeLessThan(1.4);
  expect(light.speed).toBeCloseTo(0.2 * heavy, 3);
  // Way of the closed form after the time T, once it is free (over the first 9 frames the air takes hold of it).
  expect(small.metres).toBeLessThan(0.5 * heavy * 2);
  expect(small.metres).toBeGreaterThan(0.5 * heavy * (2 - 0.35));
});

test('wind carries where it blows to; turbulence alone carries nobody away on average', () => {
  let f = bornAt(matte(), along(), colours(), birth({ kick: 0 })),
    g = f;
  const mean = (a: Flakes, key: 'x' | 'y') => a[key].subarray(0, a.count).reduce((n, v) => n + v, 0) / a.count;
  const x0 = mean(f, 'x'),
    y0 = mean(f, 'y');
  for (let n = 0; n < 20; n++) {
    f = moveFlakes(f, air({ wind: 2, windDirection: -90, settle: 0.02, frame: 1001 + n }), arena);
    g = moveFlakes(g, air({ turbulence: 0.6, settle: 0.02, frame: 1001 + n }), arena);
  }
  expect(mean(f, 'y') - y0).toBeLessThan(-100);
  expect(Math.abs(mean(f, 'x') - x0)).toBeLessThan(1);
  expect(Math.abs(mean(g, 'x') - x0)).toBeLessThan(12);
});

test.each([
  ['nowhere', NaN],
  ['beyond all numbers', Infinity],
  ['beyond all whole numbers', -1e12],
  ['farther away than there are flakes', 3e6],
])(
  'a flake that is %s leaves the others to the bit where they are, though they share a lattice of the turbulence only without it',
  (_, x) => {
    const f = bornAt(matte(), along(), colours(), birth({ density: 60 })),
      wild = newFlakes(f.count + 1),
      run = jest.spyOn(arena, 'run'),
      move = (flakes: Flakes) => {
        run.mockClear();
        const moved = moveFlakes(flakes, air({ turbulence: 0.6, cling: 0 }), arena);
        return { moved, lattices: run.mock.calls.filter(([kernel]) => (kernel as string) === 'layLattice').length };
      };
    for (const lane of ['id', 'x', 'y', 'vx', 'vy', 'age', 'life', 'red', 'green', 'blue'] as const)
      wild[lane].set(f[lane].subarray(0, f.count));
    wild.x[f.count] = x;
    wild.life[f.count] = 100;
    const alone = move(f),
      beside = move(wild);
    run.mockRestore();
    expect(alone.lattices).toBe(1);
    expect(beside.lattices).toBe(Number.isNaN(x) ? 1 : 0);
    for (const lane of ['x', 'y', 'vx', 'vy'] as const)
      expect([...beside.moved[lane].subarray(0, f.count)]).toEqual([...alone.moved[lane].subarray(0, f.count)]);
  },
);

test('each dies at its own age, and others keep their places and order', () => {
  const f = bornAt(matte(), along(), colours(), birth({ life: 10, lifeVariation: 0.5 }));
  let now = f;
  for (let n = 0; n < 8; n++) now = moveFlakes(now, air({ frame: 1001 + n }), arena);
  expect(now.count).toBeGreaterThan(f.count * 0.4);
  expect(now.count).toBeLessThan(f.count * 0.9);
  const order = [...f.id.subarray(0, f.count)].filter((id) => now.id.subarray(0, now.count).includes(id));
  expect([...now.id.subarray(0, now.count)]).toEqual(order);
  const joined = moveFlakes(now, air({ frame: 1009 }), arena, one(5));
  expect(joined.id[joined.count - 1]).toBe(5);
  expect([joined.x[joined.count - 1], joined.age[joined.count - 1]]).toEqual([100, 0]);
  expect(moveFlakes(newFlakes(0), air(), arena, one(6)).id[0]).toBe(6);
});

test('from plane to plane they move as from block to block, to the bit, and the plane before stays as it is', () => {
  const bits = ({ block }: Flakes) => [...new Uint32Array(block.buffer, block.byteOffset, block.length)];
  let plane = noFlakes(),
    block = newFlakes(0);
  for (let n = 0; n < 14; n++) {
    const frame = 1001 + n,
      born = n % 4 ? null : bornAt(matte(), along(), colours(), birth({ frame, density: 2, life: 6, lifeVariation: 0.5 })),
      before = bits(unpackFlakes(plane)),
      next = moveOn(plane, air({ turbulence: 0.6, frame }), arena, born);
    expect(bits(unpackFlakes(plane))).toEqual(before);
    if (plane.address !== undefined && next !== plane) arena.give(plane);
    plane = next;
    block = moveFlakes(block, air({ turbulence: 0.6, frame }), arena, born);
    expect(unpackFlakes(plane).count).toBe(block.count);
    expect(bits(unpackFlakes(plane))).toEqual(bits(block));
  }
  expect(block.count).toBeGreaterThan(20);
  arena.give(plane);
});

describe('drawing', () => {
  const look = (more: Partial<FlakeLook> = {}): FlakeLook => ({
    seed: 1,
    scale: 1,
    size: 4,
    sizeVariation: 0,
    paleness: 0,
    pale: [1, 1, 1],
    ember: 0,
    emberColour: [1, 0.5, 0.2],
    beat: 0.8,
    ...more,
  });
  const light = (f: Flakes, l: FlakeLook, width = 160, height = 120, side: 'front' | 'behind' = 'front') => {
    const drawn = drawFlakes(f, l, width, height, arena),
      data = drawn[side].data.slice();
    arena.give(drawn.front);
    arena.give(drawn.behind);
    return { data };
  };
  const coverage = (p: { data: ArrayLike<number> }) => Array.from(p.data).reduce((n, v, i) => (i % 4 === 3 ? n + v : n), 0);
  const flakes = () => {
    let f = bornAt(matte(), along(), colours(), birth({ density: 3 }));
    for (let n = 0; n < 4; n++) f = moveFlakes(f, air({ frame: 1001 + n }), arena);
    return f;
  };
  test('each stands on one side of the subject; both sides are used', () => {
    const f = flakes(),
      front = coverage(light(f, look())),
      behind = coverage(light(f, look(), 160, 120, 'behind'));
    expect(behind / (front + behind)).toBeGreaterThan(0.25);
    expect(behind / (front + behind)).toBeLessThan(0.5);
  });
  test('kinds differ as they should: dust is finer, chunks are larger, sparks burn, depth makes some larger, and the rest stays as it was', () => {
    const f = flakes(),
      only = (kind: string, more: Partial<FlakeLook> = {}) =>
        light(f, look({ kinds: { dust: 0, shards: 0, chunks: 0, sparks: 0, ...(kind ? { [kind]: 1 } : {}) }, ...more })),
      flakesAlone = coverage(light(f, look()));
    expect([...only('').data]).toEqual([...light(f, look()).data]);
    expect(coverage(only('dust'))).toBeLessThan(0.5 * flakesAlone);
    expect(coverage(only('chunks'))).toBeGreaterThan(1.2 * flakesAlone);
    expect(coverage(only('shards'))).toBeGreaterThan(0.3 * flakesAlone);
    const red = (p: { data: ArrayLike<number> }) => Math.max(...Array.from(p.data).filter((_, i) => i % 4 === 0));
    expect(red(only('sparks'))).toBeGreaterThan(2 * red(only('dust')));
    expect(coverage(only('', { depth: 1 }))).toBeGreaterThan(1.1 * flakesAlone);
  });
  test('dust and sparks are streaks along their way, as long as the shutter says', () => {
    const f = newFlakes(1);
    [f.id[0], f.x[0], f.y[0], f.vx[0], f.life[0], f.age[0]] = [77, 80, 60, 24, 1000, 6];
    const wide = (shutter: number) => {
      const l = look({ kinds: { dust: 0, shards: 0, chunks: 0, sparks: 1 }, shutter }),
        [front, behind] = [light(f, l), light(f, l, 160, 120, 'behind')],
        rows = new Set<number>(),
        columns = new Set<number>();
      for (const { data } of [front, behind])
        for (let p = 0; p < 160 * 120; p++)
          if (data[4 * p + 3]! > 0.02) {
            columns.add(p % 160);
            rows.add(Math.floor(p / 160));
          }
      return [columns.size, rows.size] as const;
    };
    const still = wide(0),
      half = wide(0.5),
      whole = wide(1);
    expect(still[0]).toBeLessThan(8);
    expect(half[0] - still[0]).toBeGreaterThan(8);
    expect(half[0] - still[0]).toBeLessThan(26);
    expect(whole[0] - still[0]).toBeGreaterThan(20);
    expect(whole[1]).toBeLessThan(8);
  });
  test('many above darken those below, by their density; those above keep their light', () => {
    const f = newFlakes(400);
    for (let i = 0; i < 400; i++) {
      f.id[i] = i * 2654435761;
      f.x[i] = 60 + 40 * ((i * 0.618) % 1);
      f.y[i] = i < 360 ? 30 + 20 * ((i * 0.414) % 1) : 75 + 10 * ((i * 0.732) % 1);
      f.life[i] = 1000;
      f.age[i] = 20;
      f.red[i] = f.green[i] = f.blue[i] = 0.3;
    }
    const mean = (p: { data: ArrayLike<number> }, y0: number, y1: number) => {
        let sum = 0,
          cover = 0;
        for (let y = y0; y < y1; y++)
          for (let x = 0; x < 160; x++) {
            sum += p.data[(y * 160 + x) * 4]!;
            cover += p.data[(y * 160 + x) * 4 + 3]!;
          }
        return sum / cover;
      },
      plain = light(f, look()),
      shaded = light(f, look({ shading: { share: 0.6, reach: 36 } }));
    expect(mean(shaded, 72, 90) / mean(plain, 72, 90)).toBeLessThan(0.8);
    expect(mean(shaded, 24, 36) / mean(plain, 24, 36)).toBeGreaterThan(0.9);
    expect(coverage(shaded)).toBeCloseTo(coverage(plain), 5);
  });
  test('a draft covers the same share of the picture', () => {
    const f = flakes(),
      full = coverage(light(f, look())) / (160 * 120),
      half = coverage(light(f, look({ scale: 0.5 }), 80, 60)) / (80 * 60);
    expect(Math.abs(half / full - 1)).toBeLessThan(0.15);
  });
  test('values stay finite and premultiplied, at odd sizes and off the picture', () => {
    const f = flakes();
    f.x[0] = NaN;
    f.x[1] = 1e9;
    f.y[2] = -1e9;
    const p = light(f, look({ size: 60, ember: 4, paleness: 1 }), 33, 7);
    expect(p.data.every((v) => Number.isFinite(v))).toBe(true);
    for (let i = 3; i < p.data.length; i += 4) expect(p.data[i]! >= 0 && p.data[i]! <= 1 + 1e-5).toBe(true);
  });
});

test('swirls grow with age: by 40 frames turbulence has spread particles as far as always, and at first hardly', () => {
  const start = bornAt(matte(), along(), colours(), birth({ kick: 0 })),
    spread = (frames: number, onset: number) => {
      let f = start;
      for (let n = 0; n < frames; n++) f = moveFlakes(f, air({ turbulence: 1, settle: 0.02, cling: 0, onset, frame: 1001 + n }), arena);
      let sum = 0;
      for (let i = 0; i < f.count; i++) {
        const [dx, dy] = [f.x[i]! - start.x[i]!, f.y[i]! - start.y[i]!];
        sum += Math.sqrt(dx * dx + dy * dy) / f.count;
      }
      return sum;
    };
  expect(spread(5, 40)).toBeLessThan(0.1 * spread(5, 0));
  expect(spread(40, 40)).toBeGreaterThan(0.3 * spread(40, 0));
});

test('a weight of its own makes a particle fall, hang or rise: its speed in still air is the weight times the steady fall', () => {
  const start = newFlakes(3),
    weighs = new Float32Array(start.stride);
  for (let i = 0; i < 3; i++) {
    start.id[i] = 77;
    start.age[i] = 30;
    start.life[i] = 999;
    weighs[i] = [1, 0, -2][i]!;
  }
  let f = start;
  for (let n = 0; n < 30; n++) f = moveFlakes(f, air({ turbulence: 0, wind: 0, weighs, frame: 1001 + n }), arena);
  expect(f.vy[0]).toBeGreaterThan(0.5);
  expect(f.vy[1]).toBe(0);
  expect(f.vy[2]! / f.vy[0]!).toBeCloseTo(-2, 5);
});
