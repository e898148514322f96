import { apply, HEIGHT, smallShot, smallSources, WIDTH } from '../../test/smallShot';
import { encodeCodes } from '../image';
import type { TrackSample } from '../motion';
import * as s from '../shot';
import { framesOf } from './frames';
import { FrameRenderer } from './renderFrame';

/** A point that goes 4 px a frame to the right, and is lost from frame 6 to 8 of its clip; the shot begins at 1001. */
const samples: TrackSample[] = Array.from({ length: 12 }, (_, f) => {
  const lost = f >= 6 && f <= 8;
  return {
    ...{ frame: f, x: lost ? null : 10 + 4 * f, y: lost ? null : 20, rotation: lost ? 0 : 10 * f, scale: 1 + f / 10 },
    ...{ confidence: lost ? 0 : 1, state: lost ? ('lost' as const) : ('good' as const) },
  };
});
const hung = (carriage: Readonly<Record<string, number | string>>, ...edits: s.Edit[]) => {
  const shot = apply(
      smallShot(),
      s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [10, 20], frame: 0, kind: 'area' }),
      s.storeSamples({ t1: 'a' }),
      s.addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1', track: 't1' }),
      s.carryRow('r1', carriage),
      ...edits,
    ),
    mount = shot.rows.r1!.mount!,
    frames = framesOf(shot, new Map([['t1', samples]]));
  return { shot, at: (frame: number) => frames.at(mount, frame)!, place: (frame: number) => frames.at(mount, frame)!.toPicture([0, 0]) };
};

test('a mount takes as much of the motion as it is told to', () => {
  const turns = (takes: string) => {
    const f = hung({ takes }).at(1004);
    return [Math.round(f.turnAt([0, 0])), Math.round(100 * f.scaleAt([0, 0]))];
  };
  expect(turns('all of it')).toEqual([30, 130]);
  expect(turns('place and turn')).toEqual([30, 100]);
  expect(turns('place and growth')).toEqual([0, 130]);
  expect(turns('place only')).toEqual([0, 100]);
  expect(hung({ takes: 'place only', turn: 25 }).at(1004).turnAt([0, 0])).toBeCloseTo(25, 9);
  for (const takes of ['all of it', 'place only']) expect(hung({ takes }).place(1004)).toEqual([expect.closeTo(22, 9), 20]);
});
test('one that is held stands as at its frame for the whole shot', () => {
  const { place } = hung({ time: 'stays as at a frame', heldAt: 1003 });
  for (const frame of [1001, 1005, 1012]) expect(place(frame)[0]).toBeCloseTo(18, 9);
});
test('one that trails comes after by its frames', () => {
  const { place, at } = hung({ trails: 2 }),
    behind = (10 + 4 * 5 - place(1006)[0]) / 4;
  expect(behind).toBeGreaterThan(0.8);
  expect(behind).toBeLessThan(2.6);
  expect(at(1006)).toMatchObject({ certain: true, lost: false });
});
test('while it is lost it stays, goes on, or goes between, and fades', () => {
  expect(hung({}).place(1008)[0]).toBeCloseTo(38, 9);
  expect(hung({ lost: 'stays' }).place(1008)[0]).toBeCloseTo(30, 9);
  const on = hung({ lost: 'goes on' }).place(1008)[0];
  expect(on).toBeGreaterThan(36);
  expect(on).toBeLessThan(38);
  const { at } = hung({ fade: 2 });
  expect([1006, 1007, 1008, 1009, 1010, 1011].map((f) => at(f).shown)).toEqual([1, 0.5, 0, 0, 0.5, 1]);
});
test('a gate lets a row through by how alike its place looks; shut, the row changes nothing to the last bit', async () => {
  const likeness = samples.map((p): TrackSample => ({
      ...p,
      x: 1,
      y: 1,
      state: 'good',
      confidence: p.frame === 4 ? 0.2 : p.frame === 5 ? 0.6 : 0.95,
    })),
    bare = smallShot(),
    shot = apply(
      bare,
      s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 24], frame: 0 }),
      s.storeSamples({ t1: 'a' }),
      s.addTrack({ id: 't2', name: 'Open', clip: 'c1', at: [30, 24], frame: 0, kind: 'gate' }),
      s.pairTrack('t2', 't1'),
      s.storeSamples({ t2: 'b' }),
      s.addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1', track: 't1' }),
      s.changeRow('r1', { gate: 't2' }),
    ),
    codes = (of: s.Shot, frame: number) =>
      new FrameRenderer(
        smallSources(8, { a: samples, b: likeness }),
        { width: WIDTH, height: HEIGHT },
        64 * 2 ** 20,
        undefined,
        false,
      ).renderFrame({ shot: of, frame }, (p, _, arena) =>
        Buffer.from(encodeCodes(p, { bits: 8, channels: 3, frame }, arena) as Uint8Array),
      ),
    light = async (frame: number) => {
      const [a, b] = [await codes(shot, frame), await codes(bare, frame)];
      return a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0);
    };
  expect(await light(1005)).toBe(0);
  const [half, whole] = [await light(1006), await light(1004)];
  expect(whole).toBeGreaterThan(0);
  expect(half).toBeGreaterThan(0.3 * whole);
  expect(half).toBeLessThan(0.75 * whole);
});
test('an effect changes how it is carried alone: others on the track keep their mount', () => {
  const { shot } = hung({ trails: 3 }, s.addRow({ id: 'r2', effect: 'ember', lane: 'front', subject: 's1', track: 't1' }));
  expect(shot.rows.r1!.mount).not.toBe(shot.rows.r2!.mount);
  expect(shot.mounts[shot.rows.r2!.mount!]!.trails).toBe(0);
  // Two that are carried in the same way share one, and one that nothing hangs on is gone.
  const same = apply(shot, s.carryRow('r2', { trails: 3 }));
  expect(same.rows.r2!.mount).toBe(same.rows.r1!.mount);
  expect(Object.keys(same.mounts)).toHaveLength(1);
});
