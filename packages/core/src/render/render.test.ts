import { apply, BODY, FIRST, HEIGHT, smallCodes, smallShot, smallSources, WIDTH } from '../../test/smallShot';
import { Arena, encodeCodes, newPicture, type Picture } from '../image';
import * as s from '../shot';
import type { Shot } from '../shot';
import type { TrackSample } from '../motion';
import { Cancelled, Evaluator, Store, type Step } from './evaluate';
import { FrameRenderer, type FrameRequest } from './renderFrame';

const still: TrackSample[] = Array.from({ length: 12 }, (_, frame) => ({
  frame,
  x: 32,
  y: 24,
  rotation: 0,
  scale: 1,
  confidence: 1,
  state: 'good',
}));
async function draw(shot: Shot, request: Omit<FrameRequest, 'shot'>, bits: 8 | 16 = 8): Promise<Picture> {
  const renderer = new FrameRenderer(smallSources(bits, { still }), shot, 64 * 2 ** 20);
  const picture = await renderer.renderFrame({ shot, ...request }, (p) => ({
    ...newPicture(p.width, p.height),
    data: new Float32Array(p.data),
  }));
  expect(renderer.evaluator.arena.inUse).toBe(0);
  return picture;
}
const at = (p: Picture, x: number, y: number): number[] => [...p.data.slice((y * p.width + x) * 4, (y * p.width + x) * 4 + 3)];
const differs = (a: Picture, b: Picture, x: number, y: number) => at(a, x, y).some((v, c) => v !== at(b, x, y)[c]);
/** Pixels that differ between two pictures. */
function changed(a: Picture, b: Picture): { x: number; y: number }[] {
  const out: { x: number; y: number }[] = [];
  for (let y = 0; y < a.height; y++) for (let x = 0; x < a.width; x++) if (differs(a, b, x, y)) out.push({ x, y });
  return out;
}
const inBody = ({ x, y }: { x: number; y: number }) => x >= BODY.left && x < BODY.right && y >= BODY.top && y < BODY.bottom;
const glowAll = (lane: 'behind' | 'on' | 'front' | 'background' | 'foreground' | 'whole', id = 'r1') =>
  s.addRow({
    id,
    effect: 'glow',
    lane,
    subject: ['behind', 'on', 'front'].includes(lane) ? 's1' : null,
    values: { from: 'all', startsAbove: 0, reach: 6, strength: 40 },
  });
const shake = (lane: 'behind' | 'on' | 'front', id = 'r1') =>
  s.addRow({ id, effect: 'displace', lane, subject: 's1', values: { by: 'heat haze', strength: 5, size: 8, radius: 0 } });

describe('an idle shot is its plate', () => {
  test.each([8, 16] as const)('to the code, %i bit, with every lane filled by idle or muted rows', async (bits) => {
    const shot = apply(
      smallShot(12, bits),
      s.addOccluder('h1', 'Post', 'k2'),
      s.addRow({ id: 'r1', effect: 'glow', lane: 'front', subject: 's1', values: { strength: 0 } }),
      s.addRow({ id: 'r2', effect: 'displace', lane: 'behind', subject: 's1', values: { strength: 0 } }),
      s.addRow({ id: 'r3', effect: 'dissolve', lane: 'on', subject: 's1' }),
      glowAll('whole', 'r4'),
      s.changeRow('r4', { muted: true }),
      glowAll('foreground', 'r5'),
      s.changeRow('r5', { start: 1009 }),
    );
    const picture = await draw(shot, { frame: FIRST + 3 }, bits);
    expect(encodeCodes(picture, { bits, channels: 3, frame: FIRST + 3 }, new Arena(2 ** 20))).toEqual(
      smallCodes('performance', 3, bits).data,
    );
  });
});

describe('depth lanes', () => {
  test('a row behind changes the picture only around the subject, by its difference on the clean plate', async () => {
    const bare = await draw(smallShot(), { frame: FIRST }),
      picture = await draw(apply(smallShot(), glowAll('behind')), { frame: FIRST });
    const where = changed(bare, picture);
    expect(where.some(inBody)).toBe(false);
    expect(where.length).toBeGreaterThan(WIDTH * HEIGHT * 0.6);
    // P + E(B) - B: what is added beside the body is what the clean plate alone gains.
    const cleanOnly = apply(smallShot(), s.setBase('c2'), s.remove('clip', 'c1'), glowAll('background')),
      empty = apply(smallShot(), s.setBase('c2'), s.remove('clip', 'c1'));
    const lit = await draw(cleanOnly, { frame: FIRST }),
      unlit = await draw(empty, { frame: FIRST });
    for (const [x, y] of [
      [10, 5],
      [50, 30],
      [21, 25],
    ] as const)
      at(picture, x, y).forEach((v, c) => expect(v - at(bare, x, y)[c]!).toBeCloseTo(at(lit, x, y)[c]! - at(unlit, x, y)[c]!, 5));
  });
  test('a displaced background does not smear the outline of the subject', async () => {
    const bare = await draw(smallShot(), { frame: FIRST }),
      picture = await draw(apply(smallShot(), shake('behind')), { frame: FIRST });
    expect(changed(bare, picture).some(inBody)).toBe(false);
    // Beside the body only wall colours turn up: nothing of the skin is dragged out of it.
    for (let y = BODY.top; y < BODY.bottom; y++)
      for (const x of [BODY.left - 1, BODY.left - 2, BODY.right, BODY.right + 1]) expect(at(picture, x, y)[0]!).toBeLessThan(0.25);
  });
  test('a row on the subject stays within it, but its light spills past the edge', async () => {
    const bare = await draw(smallShot(), { frame: FIRST });
    const moved = changed(bare, await draw(apply(smallShot(), shake('on')), { frame: FIRST }));
    expect(moved.length).toBeGreaterThan(50);
    expect(moved.every(inBody)).toBe(true);
    const lit = changed(bare, await draw(apply(smallShot(), glowAll('on')), { frame: FIRST }));
    expect(lit.some(inBody)).toBe(true);
    expect(lit.some((p) => !inBody(p))).toBe(true);
  });
  test('rows are worked through from far to near: what stands above is drawn on what stands below', async () => {
    const base = smallShot(),
      both = apply(
        base,
        glowAll('front', 'r1'),
        s.addRow({
          id: 'r2',
          effect: 'displace',
          lane: 'foreground',
          subject: null,
          values: { by: 'ripple', strength: 6, size: 12, radius: 0 },
        }),
      );
    const upToGlow = await draw(both, { frame: FIRST, upTo: 'r1' }),
      glowOnly = await draw(apply(base, glowAll('front', 'r1')), { frame: FIRST });
    expect(changed(upToGlow, glowOnly)).toEqual([]);
    expect(changed(await draw(both, { frame: FIRST }), upToGlow).length).toBeGreaterThan(100);
  });
  test('a matte limits a row; solo leaves the others out; opacity weighs it', async () => {
    const bare = await draw(smallShot(), { frame: FIRST }),
      inside = await draw(apply(smallShot(), glowAll('front'), s.changeRow('r1', { matte: 'k2' })), { frame: FIRST });
    expect(changed(bare, inside).every((p) => p.x < 8)).toBe(true);
    expect(changed(bare, inside).length).toBeGreaterThan(100);
    const solo = await draw(apply(smallShot(), glowAll('front'), shake('on', 'r2'), s.changeRow('r2', { solo: true })), { frame: FIRST });
    expect(changed(solo, await draw(apply(smallShot(), shake('on', 'r2')), { frame: FIRST }))).toEqual([]);
    const whole = await draw(apply(smallShot(), glowAll('whole')), { frame: FIRST }),
      half = await draw(apply(smallShot(), glowAll('whole'), s.changeRow('r1', { opacity: 50 })), { frame: FIRST });
    const gain = (p: Picture) => at(p, 30, 20)[0]! - at(bare, 30, 20)[0]!;
    expect(gain(half)).toBeGreaterThan(gain(whole) * 0.4);
    expect(gain(half)).toBeLessThan(gain(whole) * 0.6);
  });
  test('occluders put their plate pixels back over every row on the subject, not over the foreground', async () => {
    const bare = await draw(smallShot(), { frame: FIRST }),
      shot = apply(smallShot(), s.addOccluder('h1', 'Post', 'k2'), glowAll('front'));
    const where = changed(bare, await draw(shot, { frame: FIRST }));
    expect(where.some((p) => p.x < 8)).toBe(false);
    expect(where.some((p) => p.x >= 8)).toBe(true);
    expect(changed(bare, await draw(apply(shot, s.moveRow('r1', 'foreground', null, null)), { frame: FIRST })).some((p) => p.x < 8)).toBe(
      true,
    );
  });
});

describe('a dissolve', () => {
  const dissolving = (progress: number, ...more: s.Edit[]) =>
    apply(
      smallShot(),
      s.addRow({
        id: 'r1',
        effect: 'dissolve',
        lane: 'on',
        subject: 's1',
        values: {
          progress,
          shape: 'direction',
          direction: 90,
          from: [32, 10],
          extent: 30,
          ragged: 0,
          density: 0,
          rim: 0,
          rimStrength: 0,
          char: 0,
        },
      }),
      ...more,
    );
  test('shows the clean plate, with grain, where the body has gone, and leaves no outline', async () => {
    const picture = await draw(dissolving(100), { frame: FIRST + 5 }),
      clean = smallCodes('clean', 0, 8).data,
      codes = encodeCodes(picture, { bits: 8, channels: 3, frame: FIRST + 5 }, new Arena(2 ** 20));
    let sum = 0,
      squares = 0,
      n = 0;
    for (let y = BODY.top - 3; y < BODY.bottom + 3; y++)
      for (let x = BODY.left - 3; x < BODY.right + 3; x++)
        for (let c = 0; c < 3; c++) {
          const d = codes[(y * WIDTH + x) * 3 + c]! - clean[(y * WIDTH + x) * 3 + c]!;
          sum += d;
          squares += d * d;
          n++;
        }
    expect(Math.abs(sum / n)).toBeLessThan(0.5);
    // The plate's grain has a deviation of 0.02 / sqrt(12) of the range: 1.5 codes.
    expect(Math.sqrt(squares / n)).toBeGreaterThan(0.7);
    expect(Math.sqrt(squares / n)).toBeLessThan(3);
  });
  test('halfway, the part that was reached is gone and the other part is the plate', async () => {
    const bare = await draw(smallShot(), { frame: FIRST }),
      picture = await draw(dissolving(50), { frame: FIRST });
    expect(at(picture, 32, 14)[0]!).toBeLessThan(0.15);
    expect(changed(bare, picture).some(({ y }) => y > 32)).toBe(false);
  });
  test('traces fade with it, around what remains of the body', async () => {
    const traces = [
      s.addMatte({ id: 'k3', name: 'Traces', source: null, clip: null }),
      s.addOutline(
        'k3',
        'add',
        [
          [2, 2],
          [60, 2],
          [60, 46],
          [2, 46],
        ],
        0,
      ),
      s.refineMatte('k3', { blur: { radius: 0 } }),
      s.changeSubject('s1', { traces: 'k3' }),
    ];
    const bare = await draw(smallShot(), { frame: FIRST }),
      without = await draw(dissolving(100), { frame: FIRST }),
      withTraces = await draw(dissolving(100, ...traces), { frame: FIRST });
    expect(differs(bare, without, 56, 20)).toBe(false);
    expect(differs(bare, withTraces, 56, 20)).toBe(true);
    expect(differs(bare, withTraces, 62, 20)).toBe(false);
  });
  test('runs back: the body returns and nothing more is born', async () => {
    const back = (progress: [number, number, number]) =>
      dissolving(
        0,
        s.setValue('r1', 'density', 60),
        s.setValue('r1', 'life', 3),
        s.setValue('r1', 'lifeVariation', 0),
        s.setCurve('r1', 'progress', {
          points: [
            { frame: 0, value: progress[0], ease: 'linear' },
            { frame: 4, value: progress[1], ease: 'linear' },
            { frame: 6, value: progress[2], ease: 'linear' },
          ],
        }),
      );
    const bare = await draw(smallShot(), { frame: FIRST + 11 }),
      after = await draw(back([0, 80, 0]), { frame: FIRST + 11 });
    expect(changed(bare, after)).toEqual([]);
  });
  test('flakes stand in front of and behind what remains, and seeking gives the same bits as playing', async () => {
    const shot = dissolving(
      0,
      s.setValue('r1', 'density', 80),
      s.setCurve('r1', 'progress', {
        points: [
          { frame: 0, value: 0, ease: 'linear' },
          { frame: 8, value: 100, ease: 'linear' },
        ],
      }),
    );
    const renderer = new FrameRenderer(smallSources(), shot, 64 * 2 ** 20);
    let played: Float32Array | undefined;
    for (let f = FIRST; f <= FIRST + 7; f++) played = await renderer.renderFrame({ shot, frame: f }, (p) => new Float32Array(p.data));
    const sought = await draw(shot, { frame: FIRST + 7 });
    expect(Buffer.from(sought.data.buffer)).toEqual(Buffer.from(played!.buffer));
    const bare = await draw(
      dissolving(
        0,
        s.setValue('r1', 'density', 0),
        s.setCurve('r1', 'progress', {
          points: [
            { frame: 0, value: 0, ease: 'linear' },
            { frame: 8, value: 100, ease: 'linear' },
          ],
        }),
      ),
      { frame: FIRST + 7 },
    );
    expect(changed(bare, sought).length).toBeGreaterThan(20);
  });
});

describe('evaluation', () => {
  const count = async (renderer: FrameRenderer, shot: Shot, frame = FIRST + 6) =>
    renderer.renderFrame({ shot, frame }, (_, report) => report.ran.length);
  const busy = () =>
    apply(
      smallShot(),
      s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [32, 24], frame: 0 }),
      s.storeSamples({ t1: 'still' }),
      s.addRow({
        id: 'r1',
        effect: 'dissolve',
        lane: 'on',
        subject: 's1',
        track: 't1',
        curves: {
          progress: {
            points: [
              { frame: 0, value: 0, ease: 'linear' },
              { frame: 9, value: 100, ease: 'linear' },
            ],
          },
        },
      }),
      s.addRow({ id: 'r2', effect: 'glow', lane: 'front', subject: 's1', track: 't1' }),
    );
  test('one value changed recomputes only what depends on it', async () => {
    const shot = busy(),
      renderer = new FrameRenderer(smallSources(8, { still }), shot, 256 * 2 ** 20);
    const first = await count(renderer, shot),
      again = await count(renderer, shot);
    // A look of the glow: its layers, and laying them on. A look of the dissolve: no particle is moved. A force: all of them are.
    const ran = async (edit: s.Edit) =>
      renderer.renderFrame({ shot: apply(shot, edit), frame: FIRST + 6 }, (_, report) => report.ran.length);
    const glow = await ran(s.setValue('r2', 'strength', 31)),
      name = await ran(s.changeRow('r2', { name: 'Lantern light' })),
      look = await ran(s.setValue('r1', 'paleness', 12)),
      force = await ran(s.setValue('r1', 'wind', 7));
    expect({ again, name }).toEqual({ again: name, name: again });
    expect(glow).toBeLessThanOrEqual(again + 1);
    expect(look).toBeGreaterThan(glow);
    expect(look).toBeLessThanOrEqual(again + 8);
    expect(force).toBeGreaterThan(look + 5);
    expect(force).toBeLessThan(first);
  });
  test('a memory limit is kept, and nothing changes but the time', async () => {
    const shot = busy(),
      sources = smallSources(8, { still });
    const small = new FrameRenderer(sources, shot, 40_000);
    for (let f = FIRST; f <= FIRST + 8; f++) {
      const tight = await small.renderFrame({ shot, frame: f }, (p) => new Float32Array(p.data));
      expect(small.evaluator.store.bytes).toBeLessThanOrEqual(40_000);
      if (f === FIRST + 8)
        expect(Buffer.from(tight.buffer)).toEqual(
          Buffer.from(
            (await new FrameRenderer(sources, shot, 256 * 2 ** 20).renderFrame({ shot, frame: f }, (p) => new Float32Array(p.data))).buffer,
          ),
        );
    }
  });
  test('can be cancelled between steps, and gives every picture back', async () => {
    const shot = busy(),
      renderer = new FrameRenderer(smallSources(8, { still }), shot, 64 * 2 ** 20);
    let asked = 0;
    await expect(renderer.renderFrame({ shot, frame: FIRST + 6, cancelled: () => ++asked > 5 }, () => 1)).rejects.toBeInstanceOf(Cancelled);
    expect(asked).toBe(6);
    expect(renderer.evaluator.arena.inUse).toBe(0);
  });
  test('a missing medium ends in its own words, and the next frame is drawn as ever', async () => {
    const shot = busy(),
      sources = smallSources(8, { still }),
      renderer = new FrameRenderer(
        { ...sources, frame: (clip, f) => (f === 2 ? Promise.reject(new Error('the clip is gone')) : sources.frame(clip, f)) },
        shot,
        64 * 2 ** 20,
      );
    await expect(renderer.renderFrame({ shot, frame: FIRST + 2 }, () => 1)).rejects.toThrow('the clip is gone');
    await expect(renderer.renderFrame({ shot, frame: FIRST + 1 }, () => 1)).resolves.toBe(1);
  });
  test('a chain as long as a long shot needs no deep call', async () => {
    let step: Step<number> = { key: 'start', inputs: [], keep: 'never', run: () => 0 };
    for (let i = 0; i < 50_000; i++) {
      const before = step;
      step = { key: `n${i}`, inputs: [before], keep: 'never', run: ([v]) => (v as number) + 1 };
    }
    await expect(new Evaluator(new Arena(2 ** 20), new Store(1000)).evaluate(step, (v) => v)).resolves.toBe(50_000);
  });
  test('drafts are the plate reduced in linear light, and a length means the same in them', async () => {
    const shot = apply(
      smallShot(),
      s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [32, 24], frame: 0 }),
      s.storeSamples({ t1: 'still' }),
      s.addRow({ id: 'r2', effect: 'glow', lane: 'front', subject: 's1', track: 't1', values: { reach: 14 } }),
    );
    const full = await draw(shot, { frame: FIRST }),
      half = await draw(shot, { frame: FIRST, factor: 2 });
    expect([half.width, half.height]).toEqual([32, 24]);
    let worst = 0;
    for (let y = 0; y < 24; y++)
      for (let x = 0; x < 32; x++)
        for (let c = 0; c < 3; c++) {
          const mean = [0, 1].flatMap((j) => [0, 1].map((i) => at(full, 2 * x + i, 2 * y + j)[c]!)).reduce((a, b) => a + b) / 4;
          worst = Math.max(worst, Math.abs(mean - at(half, x, y)[c]!));
        }
    expect(worst).toBeLessThan(0.06);
  });
});
