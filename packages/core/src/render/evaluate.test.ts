import { Arena, newPlane, type Plane } from '../image';
import { Evaluator, Store, type Step } from './evaluate';

const arena = new Arena(4 * 2 ** 20);
afterEach(() => expect(arena.inUse).toBe(0));
const plane = (key: string, value: number, more: Partial<Step<Plane>> = {}): Step<Plane> => ({
  key,
  inputs: [],
  keep: 'never',
  run(_, pictures) {
    const out = pictures.takePlane(4, 4);
    out.data.fill(value);
    return out;
  },
  ...more,
});
const sum = (key: string, inputs: Step<Plane>[], more: Partial<Step<Plane>> = {}): Step<Plane> =>
  plane(key, 0, {
    inputs,
    run(values: Plane[], pictures) {
      const out = pictures.takePlane(4, 4);
      out.data.forEach((_, p) => (out.data[p] = values.reduce((n, v) => n + v.data[p]!, 0)));
      return out;
    },
    ...more,
  });
const value = (evaluator: Evaluator, step: Step<Plane>) => evaluator.evaluate(step, (v, report) => ({ is: v.data[0], ran: report.ran }));

test('a step that several need runs once, and its picture goes back when the last of them is done', async () => {
  const shared = plane('shared', 2),
    root = sum('root', [sum('a', [shared]), sum('b', [shared, shared]), shared]);
  expect(await value(new Evaluator(arena, new Store(1e6)), root)).toEqual({ is: 2 + 4 + 2, ran: ['shared', 'a', 'b', 'root'] });
});

test('two steps of one key are one thing', async () => {
  expect((await value(new Evaluator(arena, new Store(1e6)), sum('root', [plane('same', 3), plane('same', 3)]))).ran).toEqual([
    'same',
    'root',
  ]);
});

test('what is worth keeping is not run again, nor what only it needed; without edits only what other frames use is kept', async () => {
  const make = () => {
    const deep = plane('deep', 1),
      kept = sum('kept', [deep], { keep: 'for edits' }),
      always = sum('always', [deep], { keep: 'for frames' });
    return sum('root', [kept, always]);
  };
  const editing = new Evaluator(arena, new Store(1e6)),
    running = new Evaluator(arena, new Store(1e6), undefined, false);
  for (const e of [editing, running]) await value(e, make());
  expect((await value(editing, make())).ran).toEqual(['root']);
  expect((await value(running, make())).ran).toEqual(['deep', 'kept', 'root']);
});

test('what is remembered is never written into: steps own only what nobody else needs', async () => {
  const evaluator = new Evaluator(arena, new Store(1e6)),
    owned: boolean[] = [],
    paint = (key: string, input: Step<Plane>): Step<Plane> => ({
      key,
      inputs: [input],
      keep: 'never',
      run([p]: Plane[], _, mine) {
        owned.push(mine(0));
        if (!mine(0)) {
          const out = arena.takePlane(p!.width, p!.height);
          out.data.fill(p!.data[0]! + 1);
          return out;
        }
        p!.data.fill(p!.data[0]! + 1);
        return p!;
      },
    });
  for (const keep of ['never', 'for edits', 'for frames'] as const) {
    const own = plane(keep, 5, { keep });
    expect((await value(evaluator, paint(`twice ${keep}`, paint(`once ${keep}`, own)))).is).toBe(7);
    expect((await value(evaluator, own)).is).toBe(5);
    // Two steps that use the same raster: neither may write into it.
    expect((await value(evaluator, sum(`both ${keep}`, [paint(`a ${keep}`, own), paint(`b ${keep}`, own)]))).is).toBe(12);
  }
  expect(owned).toContain(true);
  expect(owned).toContain(false);
});

test('a step may pass on what it was given, and nothing is given back twice or lost', async () => {
  const evaluator = new Evaluator(arena, new Store(1e6)),
    own = plane('passed', 3),
    same: Step<Plane> = { key: 'same', inputs: [own], keep: 'never', run: ([p]: Plane[]) => p! };
  expect((await value(evaluator, sum('with both', [same, own]))).is).toBe(6);
  expect((await value(evaluator, same)).is).toBe(3);
});

test('rasters that many frames use stay in the arena within a share of it; more go to the store', async () => {
  const store = new Store(1e9),
    small = new Arena(1 << 20),
    evaluator = new Evaluator(small, store),
    large = (key: string): Step<Plane> => ({
      key,
      inputs: [],
      keep: 'for frames',
      run: (_, pictures) => {
        const out = pictures.takePlane(128, 128);
        out.data.fill(key.length);
        return out;
      },
    });
  for (let k = 1; k <= 12; k++) {
    await evaluator.evaluate(large('x'.repeat(k)), (v) => expect(v.data[7]).toBe(k));
    expect(small.inUse).toBe(0);
  }
  // The last ones are still there.
  expect((await value(evaluator, large('x'.repeat(12)))).ran).toEqual([]);
  const both = sum('two', [large('x'), large('xx')]);
  await evaluator.evaluate(both, () => undefined);
  expect(small.inUse).toBe(0);
});

test('the store lets the least recently used go first, and refuses what is larger than itself', () => {
  const store = new Store(100);
  store.set('a', 1, 40);
  store.set('b', 2, 40);
  store.get('a');
  store.set('c', 3, 40);
  expect([store.get('a'), store.get('b'), store.get('c'), store.bytes, store.size]).toEqual([1, undefined, 3, 80, 2]);
  store.set('huge', 4, 101);
  expect([store.get('huge'), store.bytes]).toEqual([undefined, 80]);
});

test('cost is counted for the row that a step belongs to, by the clock that was given', async () => {
  let now = 0;
  const evaluator = new Evaluator(arena, new Store(1e6), () => (now += 5));
  const cost = await evaluator.evaluate(
    sum('root', [plane('x', 1, { row: 'r1' }), plane('y', 1, { row: 'r1' })]),
    (_, report) => report.cost,
  );
  expect(cost).toEqual({ r1: 10 });
});

test('a step that fails leaves nothing taken, and the evaluator goes on', async () => {
  const evaluator = new Evaluator(arena, new Store(1e6));
  const broken = sum('broken', [plane('fine', 1)], { run: () => Promise.reject(new Error('no picture')) });
  await expect(value(evaluator, sum('root', [plane('other', 1), broken]))).rejects.toThrow('no picture');
  expect(arena.inUse).toBe(0);
  expect((await value(evaluator, plane('again', 7))).is).toBe(7);
});

test('rasters from outside the arena may be values as well', async () => {
  const outside = newPlane(4, 4);
  outside.data.fill(3);
  expect((await value(new Evaluator(arena, new Store(1e6)), sum('root', [plane('out', 0, { run: () => outside })]))).is).toBe(3);
});
