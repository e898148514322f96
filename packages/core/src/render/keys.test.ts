import { apply, FIRST, HEIGHT, smallShot, smallSources, WIDTH } from '../../test/smallShot';
import { effects, type Effect, type StoredValue } from '../effects';
import * as s from '../shot';
import type { Edit, Row, Shot } from '../shot';
import { FrameRenderer } from './renderFrame';

/**
 * No stale picture, ever: where the key of a frame stays equal, its picture stays equal to the bit. Every effect, every parameter, and everything that
 * an effect can know of its surroundings is changed once.
 */
const FRAME = FIRST + 6;
const way = (x: number, y: number) =>
  Array.from({ length: 12 }, (_, frame) => ({
    frame,
    x: x + frame,
    y: y + 0.5 * frame,
    rotation: 0,
    scale: 1,
    confidence: 1,
    state: 'good' as const,
  }));
const sources = () => smallSources(8, { a: way(28, 16), b: way(44, 12), c: way(30, 30) });

/** The small shot with one row of an effect that has everything it can read. */
function shotWith(type: string): Shot {
  const e = effects[type]!,
    lane = e.lanes.includes('on') ? 'on' : e.lanes[0]!,
    own = lane === 'on' || lane === 'front' || lane === 'behind',
    progress = 'progress' in e.params;
  return apply(
    smallShot(),
    s.addTrack({ id: 't1', name: 'A', clip: 'c1', at: [28, 16], frame: 0 }),
    s.storeSamples({ t1: 'a' }),
    s.addTrack({ id: 't2', name: 'B', clip: 'c1', at: [44, 12], frame: 0 }),
    s.storeSamples({ t2: 'b' }),
    s.addTrack({ id: 't3', name: 'C', clip: 'c1', at: [30, 30], frame: 0 }),
    s.storeSamples({ t3: 'c' }),
    s.addRow({ id: 'r1', effect: type, lane, subject: own ? 's1' : null, track: 't1', aim: 't2', values: valuesFor(e) }),
    s.changeRow('r1', { clip: 'c3', source: 'k1', length: 12 }),
    ...(progress
      ? [
          s.setCurve('r1', 'progress', {
            points: [
              { frame: 0, value: 10, ease: 'linear' },
              { frame: 11, value: 80, ease: 'linear' },
            ],
          }),
        ]
      : []),
  );
}
/** Small enough for the small shot, and busy enough that most parameters show. */
const valuesFor = (e: Effect): Record<string, StoredValue> => {
  const wish: Record<string, StoredValue> = {
    reach: 14,
    on: 'everything',
    extent: 40,
    halo: 8,
    stretch: 9,
    ring: 12,
    motes: 8,
    from: e.type === 'glow' ? 'mount' : 'ellipse',
  };
  return Object.fromEntries(
    Object.entries(wish).filter(([name, value]) => {
      const p = e.params[name];
      return p && (p.kind === 'choice' ? p.of!.includes(value as string) : typeof value === typeof p.default);
    }),
  );
};
/** Another value of a parameter than the one that it has. */
function other(p: Effect['params'][string], now: StoredValue): StoredValue {
  if (p.kind === 'choice') return p.of![(p.of!.indexOf(now as string) + 1) % p.of!.length]!;
  if (p.kind === 'colour') return now === '#3377aa' ? '#aa7733' : '#3377aa';
  if (p.kind === 'point') return [(now as [number, number])[0] + 3, (now as [number, number])[1] - 2];
  const [low, high] = p.range ?? [-100, 100],
    n = now as number,
    step = Math.max(p.step ?? 1, Math.abs(n) * 0.4);
  return n + step <= high ? n + step : Math.max(low, n - step);
}
/** Changes of everything around an effect that it may know or read. */
const surroundings: [string, Edit][] = [
  ['height in the world', s.changeSubject('s1', { metres: 2.9 })],
  ['height on the picture', s.changeSubject('s1', { pixels: 22 })],
  ['rate', s.setShot({ rate: { num: 12, den: 1 } })],
  ['traces', s.changeSubject('s1', { traces: 'k2' })],
  ['matte of the subject', s.changeSubject('s1', { matte: 'k2' })],
  ['matte', s.refineMatte('k1', { invert: {} })],
  ['source', s.changeRow('r1', { source: 'k2' })],
  ['limit', s.changeRow('r1', { matte: 'k2' })],
  ['under', s.changeRow('r1', { under: 'k2' })],
  ['element', s.changeRow('r1', { clip: 'c4' })],
  ['mount', s.hangRow('r1', 't3')],
  ['no mount', s.hangRow('r1', null)],
  ['offset', s.offsetRow('r1', [4, -3])],
  ['aim', s.aimRow('r1', 't3')],
  ['pair', { name: 'Pair', apply: (d) => [s.setTrackKind('t1', 'pair'), s.pairTrack('t1', 't3')].forEach((e) => e.apply(d)) }],
  ['correction', s.correctTrack('t1', 6, { at: [20, 20] })],
  ['start', s.changeRow('r1', { start: FIRST + 2 })],
  ['length', s.changeRow('r1', { length: 9 })],
  ['opacity', s.changeRow('r1', { opacity: 40 })],
  ['clean plate', s.changeClip('c2', { transfer: 'linear' })],
  ['plate', s.changeClip('c1', { start: FIRST + 1 })],
  [
    'name of an outline',
    s.addOutline('k2', 'add', [
      [0, 0],
      [9, 0],
      [9, 9],
    ]),
  ],
  ['treatment', s.addTreatment({ kind: 'row', id: 'r1' }, 'blur')],
];

const fresh = () => new FrameRenderer(sources(), { width: WIDTH, height: HEIGHT }, 64 * 2 ** 20, undefined, false);
const rendered = async (shot: Shot, frame = FRAME) => {
  const renderer = fresh(),
    key = (await renderer.plan({ shot, frame })).key,
    data = await renderer.renderFrame({ shot, frame }, (picture) => Float32Array.from(picture.data));
  return { key, data };
};
const differ = (a: Float32Array, b: Float32Array) => a.some((v, i) => v !== b[i]);

describe.each(Object.entries(effects))('%s', (type, e) => {
  test('whatever changes its picture changes its key', async () => {
    const shot = shotWith(type),
      base = await rendered(shot),
      row = shot.rows.r1 as Row,
      changes: [string, Edit][] = [
        ...surroundings,
        ...Object.entries(e.params).map(([name, p]): [string, Edit] => [
          name,
          s.setValue('r1', name, other(p, (row.values[name] ?? p.default) as StoredValue)),
        ]),
      ],
      stale: string[] = [],
      // One that goes on from change to change, as a page does, and keeps what it planned.
      lasting = fresh(),
      forgot: string[] = [];
    let seen = 0;
    await lasting.plan({ shot, frame: FRAME });
    for (const [name, edit] of changes) {
      const changed = apply(shot, edit),
        now = await rendered(changed);
      if ((await lasting.plan({ shot: changed, frame: FRAME })).key !== now.key) forgot.push(name);
      await lasting.plan({ shot, frame: FRAME });
      if (differ(now.data, base.data)) seen++;
      if (now.key === base.key && differ(now.data, base.data)) stale.push(name);
    }
    const later = await rendered(shot, FRAME + 1);
    if (later.key === base.key && differ(later.data, base.data)) stale.push('frame');
    expect(stale).toEqual([]);
    expect(forgot).toEqual([]);
    // The changes do change pictures: without that, the test could not fail.
    expect(seen).toBeGreaterThan(Math.min(5, Object.keys(e.params).length));
  });

  test('it reads no fact that it does not name, and its past no parameter that it does not name', async () => {
    const shot = shotWith(type),
      asked = new Set<string>(),
      watch = <T extends object>(of: T, note: (key: string) => void): T =>
        new Proxy(of, {
          get: (target, key, receiver) => (typeof key === 'string' && note(key), Reflect.get(target, key, receiver) as unknown),
        }),
      known = new Set<string>(['pictures', 'width', 'height', 'scale', ...(e.facts ?? [])]),
      uses = new Set<string>(e.history?.uses ?? []),
      original = { render: e.render, step: e.history?.step };
    e.render = (draw, v, read, state) =>
      original.render.call(
        e,
        watch(draw, (k) => known.has(k) || asked.add(`fact ${k}`)),
        v,
        read,
        state,
      );
    if (e.history)
      e.history.step = (state, v, before, read, draw) =>
        original.step!.call(
          e.history,
          state,
          watch(v, (k) => uses.has(k) || asked.add(`parameter ${k}`)),
          watch(before, (k) => uses.has(k) || asked.add(`parameter ${k}`)),
          read,
          watch(draw, (k) => known.has(k) || asked.add(`fact ${k}`)),
        );
    try {
      await rendered(shot);
    } finally {
      e.render = original.render;
      if (e.history) e.history.step = original.step!;
    }
    expect([...asked]).toEqual([]);
  });
});

describe.each(['dissolve', 'materialise'])('%s by strokes and by a matte', (type) => {
  test('a stroke that is moved, or another matte, changes its picture and its key; where neither is asked for, neither does', async () => {
    const line = (y: number, frame: number) => ({
        id: `s${frame}`,
        frame,
        points: [
          [-9, y],
          [9, y],
        ] as [number, number][],
      }),
      strokes = s.changeRow('r1', { strokes: [line(-6, 1), line(14, 10)] }),
      shot = apply(shotWith(type), strokes, s.changeRow('r1', { pattern: 'k1' })),
      by = (shape: string) => apply(shot, s.setValue('r1', 'shape', shape)),
      moved = s.changeRow('r1', { strokes: [line(14, 1), line(-6, 10)] }),
      other = s.changeRow('r1', { pattern: 'k2' });
    for (const [shape, change] of [
      ['strokes', moved],
      ['a matte', other],
    ] as const) {
      const before = await rendered(by(shape)),
        after = await rendered(apply(by(shape), change));
      expect(after.key).not.toBe(before.key);
      expect(differ(after.data, before.data)).toBe(true);
    }
    const plain = await rendered(by('radius')),
      changed = await rendered(apply(by('radius'), moved, other));
    expect(differ(changed.data, plain.data)).toBe(false);
  });
});

test('after-images at cues: a cue that is moved changes the picture and its key; of another kind it changes neither', async () => {
  const shot = apply(
      shotWith('after-images'),
      s.addCue('q8', 'Stamp', FIRST + 2),
      s.setValue('r1', 'kind', 'at cues'),
      s.changeRow('r1', { lane: 'front' }),
    ),
    moved = s.moveCue('q8', FIRST + 40),
    before = await rendered(shot),
    after = await rendered(apply(shot, moved));
  expect(after.key).not.toBe(before.key);
  expect(differ(after.data, before.data)).toBe(true);
  const trailing = apply(shot, s.setValue('r1', 'kind', 'trailing'));
  expect(differ((await rendered(apply(trailing, moved))).data, (await rendered(trailing)).data)).toBe(false);
});
