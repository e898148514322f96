import { addRow, applyEdit, drawnRows, newShot, readShot, type Edit, type Shot } from '../shot';
import { checkShot } from './checks';
import { memoryNeed, mostAlive, needProblem } from './need';

const shotOf = (width: number, height: number, ...edits: Edit[]): Shot =>
  edits.reduce(
    (shot, edit) => applyEdit(shot, edit).shot,
    newShot({ code: 'HT_010', width, height, rate: { num: 24, den: 1 }, frames: 240 }),
  );
const emitter = addRow({ id: 'r1', effect: 'emitter', lane: 'foreground', subject: null });
const twin = (id: string): Edit => ({
  name: 'Twin',
  apply: (s) => void s.rows.r1!.twins.push({ id, mount: null, aim: null, mirrored: false, values: {} }),
});
const values = (given: Record<string, number>): Edit => ({ name: 'Values', apply: (s) => void Object.assign(s.rows.r1!.values, given) });

test('particles alive follow from rate, life, bursts and the most that are ever born', () => {
  const alive = (given: Record<string, number>) => {
    const shot = shotOf(1280, 720, emitter, values({ lifeVariation: 0, burst: 0, ...given }));
    return mostAlive(shot, drawnRows(shot).of('r1')[0]!);
  };
  expect(alive({ rate: 240, life: 30 })).toBe(300);
  expect(alive({ rate: 240, life: 600 })).toBe(2400); // the row lasts 240 frames
  expect(alive({ rate: 0, burst: 100, burstEvery: 10, life: 30 })).toBe(300);
  expect(alive({ rate: 240, life: 30, total: 50 })).toBe(50);
});

test('a curve counts with the most that it reaches, and every twin as much again', () => {
  const curved = shotOf(1280, 720, emitter, values({ lifeVariation: 0, life: 30, rate: 24 }), {
    name: 'Curve',
    apply: (s) =>
      void (s.rows.r1!.curves.rate = {
        points: [
          { frame: 0, value: 24, ease: 'linear' },
          { frame: 9, value: 480, ease: 'linear' },
        ],
      }),
  });
  expect(memoryNeed(curved).particles).toBe(600);
  expect(memoryNeed(applyEdit(curved, twin('w1')).shot).particles).toBe(1200);
});

test('what cannot be drawn is told with what it needs and what is allowed; usual sizes are no problem', () => {
  for (const [w, h] of [
    [64, 36],
    [1280, 720],
    [1920, 1080],
    [3840, 2160],
    [4096, 2160],
  ] as const)
    expect(needProblem(shotOf(w, h))).toBeNull();
  expect(needProblem(shotOf(8192, 8192))!.text).toMatch(
    /^Drawing HT_010 needs 12\.8 GiB, and 2\.8 are allowed: at 8192 x 8192 its pictures alone take 12\.0 GiB\.$/,
  );
  const many = shotOf(
    1280,
    720,
    emitter,
    values({ rate: 20000, life: 240, lifeVariation: 0 }),
    ...Array.from({ length: 40 }, (_, i) => twin(`w${i}`)),
  );
  expect(needProblem(many)).toBeNull();
  expect(needProblem(many, 1.5 * 2 ** 30)).toEqual({
    row: 'r1',
    text: expect.stringMatching(/^Drawing HT_010 needs 1\.9 GiB, and 1\.5 are allowed: 8,200,000 particles may be alive at once\.$/),
    fix: expect.any(String),
  });
  expect(checkShot(shotOf(8192, 8192), new Map()).map((c) => c.id)).toContain('too-costly');
});

test('rows made by a newer version, or by an effect that is not known, are kept, not drawn, and said', () => {
  const shot = readShot({
    ...shotOf(64, 36, emitter, {
      name: 'x',
      apply: (s) => void ((s.rows.r2 = { ...s.rows.r1!, id: 'r2', effect: 'constructor' }), (s.rows.r1!.version = 99)),
    }),
  });
  expect(checkShot(shot, new Map()).map((c) => [c.id, c.row])).toEqual(
    expect.arrayContaining([
      ['effect-newer', 'r1'],
      ['effect-unknown', 'r2'],
    ]),
  );
  expect(memoryNeed(shot).particles).toBe(0);
});
