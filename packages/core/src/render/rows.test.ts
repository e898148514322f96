import { apply, BODY, FIRST, smallShot, smallSources, WIDTH } from '../../test/smallShot';
import { newPicture, type Picture } from '../image';
import * as s from '../shot';
import type { Row, Shot } from '../shot';
import type { TrackSample } from '../motion';
import { FrameRenderer } from './renderFrame';

const standing = (x: number, y: number): TrackSample[] =>
  Array.from({ length: 12 }, (_, frame) => ({ frame, x, y, rotation: 0, scale: 1, confidence: 1, state: 'good' }));
const tracks = { left: standing(12, 20), right: standing(52, 20), middle: standing(32, 24) };
async function draw(shot: Shot, frame = FIRST, upTo: string | null = null): Promise<Picture> {
  const renderer = new FrameRenderer(smallSources(8, tracks), shot, 64 * 2 ** 20);
  const picture = await renderer.renderFrame({ shot, frame, upTo }, (p) => ({
    ...newPicture(p.width, p.height),
    data: new Float32Array(p.data),
  }));
  expect(renderer.evaluator.arena.inUse).toBe(0);
  return picture;
}
const gain = (a: Picture, b: Picture, x: number, y: number) => {
  let sum = 0;
  for (let c = 0; c < 3; c++) sum += b.data[(y * WIDTH + x) * 4 + c]! - a.data[(y * WIDTH + x) * 4 + c]!;
  return sum;
};
const inBody = (x: number, y: number) => x >= BODY.left && x < BODY.right && y >= BODY.top && y < BODY.bottom;
const base = (): Shot =>
  apply(
    smallShot(),
    ...(['left', 'right', 'middle'] as const).flatMap((name, i) => [
      s.addTrack({ id: `t${i + 1}`, name, clip: 'c1', at: [i === 0 ? 12 : i === 1 ? 52 : 32, 20], frame: 0 }),
      s.storeSamples({ [`t${i + 1}`]: name }),
    ]),
  );
const ember = (track = 't1') =>
  s.addRow({
    id: 'r1',
    effect: 'ember',
    lane: 'foreground',
    subject: null,
    track,
    values: { reach: 6, strength: 200, ragged: 0, flicker: 0, around: 0, surround: 0, soft: 0 },
  });

describe('twins', () => {
  test('one row stands on both tracks; a value of one twin is its own; apart, both look as before', async () => {
    const bare = await draw(base()),
      shot = apply(base(), ember(), s.addTwin('r1', 't2')),
      both = await draw(shot);
    expect(gain(bare, both, 12, 20)).toBeGreaterThan(0.5);
    expect(gain(bare, both, 52, 20)).toBeGreaterThan(0.5);
    const faint = await draw(apply(shot, s.setTwinValue('r1', 'w1', 'gate', 0)));
    expect(gain(bare, faint, 12, 20)).toBeCloseTo(gain(bare, both, 12, 20), 6);
    expect(gain(bare, faint, 52, 20)).toBe(0);
    expect((await draw(apply(shot, s.setTwinValue('r1', 'w1', 'gate', 0), s.setTwinValue('r1', 'w1', 'gate', null)))).data).toEqual(
      both.data,
    );
    const parted = apply(shot, s.partTwin('r1', 'w1', 'r2'));
    expect(Object.keys(parted.rows)).toEqual(['r1', 'r2']);
    expect((await draw(parted)).data).toEqual(both.data);
    expect((await draw(apply(shot, s.removeTwin('r1', 'w1')))).data).toEqual((await draw(apply(base(), ember()))).data);
  });
  test('a mirrored twin has offsets and directions of the other side, and each a seed of its own', () => {
    const shot = apply(
      base(),
      ember(),
      s.setValue('r1', 'place', [5, 3]),
      s.setValue('r1', 'direction', 30),
      s.setCurve('r1', 'place.x', { points: [{ frame: 0, value: 5, ease: 'linear' }] }),
      s.addTwin('r1', 't2', true),
      s.addTwin('r1', 't3'),
    );
    const [own, mirrored, plain] = s.expandRow(shot, shot.rows.r1 as Row);
    expect(own!.values.place).toEqual([5, 3]);
    expect(mirrored!.values).toMatchObject({ place: [-5, 3], direction: 150 });
    expect(mirrored!.curves['place.x']!.points[0]!.value).toBe(-5);
    expect(plain!.values).toMatchObject({ place: [5, 3], direction: 30 });
    expect(new Set([own, mirrored, plain].map((r) => r!.values.seed)).size).toBe(3);
    expect(s.rowIdOf(mirrored!.id)).toBe('r1');
    // With the track its twin goes.
    expect(apply(shot, s.remove('track', 't2')).rows.r1!.twins.map((t) => t.id)).toEqual(['w2']);
  });
  test('the picture up to a row has its twins too', async () => {
    const shot = apply(base(), ember(), s.addTwin('r1', 't2'), s.addRow({ id: 'r2', effect: 'flash', lane: 'whole', subject: null }));
    const bare = await draw(base()),
      upTo = await draw(shot, FIRST, 'r1');
    expect(gain(bare, upTo, 52, 20)).toBeGreaterThan(0.5);
    expect(gain(bare, upTo, 2, 45)).toBe(0);
  });
});

describe('what stays above a row, and what flies behind', () => {
  test('parts named in `under` show as they were', async () => {
    const bare = await draw(base()),
      flash = s.addRow({ id: 'r1', effect: 'flash', lane: 'whole', subject: null, values: { strength: 50, middle: 0 } }),
      lit = await draw(apply(base(), flash)),
      held = await draw(apply(base(), flash, s.changeRow('r1', { under: 'k1' })));
    for (const [x, y] of [
      [32, 25],
      [26, 12],
    ] as const) {
      expect(gain(bare, lit, x, y)).toBeGreaterThan(0.3);
      expect(gain(bare, held, x, y)).toBeCloseTo(0, 5);
    }
    expect(gain(bare, held, 5, 25)).toBeCloseTo(gain(bare, lit, 5, 25), 6);
  });
  test('particles that orbit are hidden by the body where they pass behind it, and lie on it where they pass before it', async () => {
    const orbit = (flat: number) =>
      s.addRow({
        id: 'r1',
        effect: 'emitter',
        lane: 'front',
        subject: 's1',
        track: 't3',
        values: {
          from: 'point',
          rate: 0,
          burst: 400,
          life: 200,
          orbit: 22,
          orbitFlat: flat,
          orbitTurns: 0.3,
          speed: 0,
          gravity: 0,
          wind: 0,
          turbulence: 0,
          size: 3,
          fadeIn: 0,
          flicker: 0,
          after: 'rides on the mount',
          strength: 300,
        },
      });
    const bare = await draw(base(), FIRST + 2),
      orbiting = await draw(apply(base(), orbit(60)), FIRST + 2);
    let above = 0,
      below = 0,
      behindBeside = 0;
    for (let y = 0; y < 48; y++)
      for (let x = 0; x < WIDTH; x++) {
        const g = gain(bare, orbiting, x, y);
        if (inBody(x, y)) {
          // The far half of the orbit is the upper one; a sprite reaches over by its size.
          if (y < 22) above += g;
          if (y >= 26) below += g;
        } else if (y < 22) behindBeside += g;
      }
    expect(above).toBeLessThan(0.02);
    expect(below).toBeGreaterThan(1);
    expect(behindBeside).toBeGreaterThan(0.3);
  });
});

describe('groups and treatments', () => {
  test('a group mutes, fades, delays and limits its rows; taken apart they look as before', async () => {
    const rows = [
        ember(),
        s.addRow({ id: 'r2', effect: 'flash', lane: 'whole', subject: null, length: 12, values: { strength: 50, fall: 400, middle: 0 } }),
      ],
      shot = apply(base(), ...rows, s.groupRows(['r1', 'r2'], 'g1')),
      bare = await draw(base()),
      plain = await draw(apply(base(), ...rows));
    expect((await draw(shot)).data).toEqual(plain.data);
    expect((await draw(apply(shot, s.changeGroup('g1', { muted: true })))).data).toEqual(bare.data);
    expect(s.whyNotVisible(s.drawnRows(apply(shot, s.changeGroup('g1', { muted: true }))).of('r1')[0]!, FIRST)).toMatch(
      /group Group is muted/,
    );
    const half = await draw(apply(shot, s.changeGroup('g1', { opacity: 50 })));
    expect(gain(bare, half, 2, 45)).toBeGreaterThan(0.3 * gain(bare, plain, 2, 45));
    expect(gain(bare, half, 2, 45)).toBeLessThan(0.7 * gain(bare, plain, 2, 45));
    const later = apply(shot, s.changeGroup('g1', { later: 4 }));
    expect((await draw(later)).data).toEqual(bare.data);
    expect(s.rowRange(later, later.rows.r2 as Row)[0]).toBe(FIRST + 4);
    const limited = await draw(apply(shot, s.changeGroup('g1', { matte: 'k1' })));
    expect(gain(bare, limited, 2, 45)).toBe(0);
    const changed = apply(shot, s.changeGroup('g1', { opacity: 60, later: -2, track: 't2' }));
    expect((await draw(apply(changed, s.ungroup('g1')))).data).toEqual((await draw(changed)).data);
    const copy = apply(shot, s.duplicateGroup('g1', 'g2'));
    expect(Object.values(copy.rows).filter((r) => r.group === 'g2')).toHaveLength(2);
    expect(() => s.readShot(JSON.parse(JSON.stringify(copy)))).not.toThrow();
  });
  test('a treatment changes what a row gives and nothing else, in its order', async () => {
    const shot = apply(base(), ember()),
      row = { kind: 'row', id: 'r1' } as const,
      bare = await draw(base()),
      plain = await draw(shot),
      blurred = await draw(apply(shot, s.addTreatment(row, 'blur'), s.setTreatmentValue(row, 't1', 'radius', 6)));
    expect(gain(bare, blurred, 12, 20)).toBeLessThan(gain(bare, plain, 12, 20) * 0.85);
    expect(gain(bare, blurred, 12, 28)).toBeGreaterThan(gain(bare, plain, 12, 28));
    expect(gain(bare, blurred, 55, 40)).toBeCloseTo(0, 4);
    const two = apply(shot, s.addTreatment(row, 'blur'), s.addTreatment(row, 'grade'));
    expect(two.rows.r1!.treatments.map((t) => t.effect)).toEqual(['blur', 'grade']);
    expect(apply(two, s.moveTreatment(row, 't2', -1)).rows.r1!.treatments.map((t) => t.effect)).toEqual(['grade', 'blur']);
    const muted = apply(shot, s.addTreatment(row, 'blur'), s.changeTreatment(row, 't1', { muted: true }));
    expect((await draw(muted)).data).toEqual(plain.data);
    expect((await draw(apply(muted, s.removeTreatment(row, 't1')))).data).toEqual(plain.data);
    // Every effect that can treat does so without a fault.
    for (const type of s.treatmentTypes())
      expect((await draw(apply(shot, s.addTreatment(row, type)))).data.every(Number.isFinite)).toBe(true);
  });
});
