import { apply, BODY, FIRST, HEIGHT, smallShot, smallSources, WIDTH } from '../../test/smallShot';
import { newPicture, type Picture } from '../image';
import type { TrackSample } from '../motion';
import * as s from '../shot';
import type { Shot } from '../shot';
import { isOpaque } from './base';
import { framesOf } from './frames';
import { FrameRenderer } from './renderFrame';
import { loadTracks } from './sources';

/** Retimed and moved clips, takes of the base and detached subjects, by their pixels. The pin moves by a pixel a frame. */
const pin: TrackSample[] = Array.from({ length: 12 }, (_, frame) => ({
  frame,
  x: 30 + frame,
  y: 24,
  rotation: 0,
  scale: 1,
  confidence: 1,
  state: 'good',
}));
const sources = () => smallSources(8, { pin });
async function draw(shot: Shot, frame = FIRST, more: { plain?: boolean | string; factor?: 1 | 2 } = {}): Promise<Picture> {
  const renderer = new FrameRenderer(sources(), shot, 64 * 2 ** 20),
    picture = await renderer.renderFrame({ shot, frame, ...more }, (p) => ({
      ...newPicture(p.width, p.height),
      data: new Float32Array(p.data),
    }));
  expect(renderer.evaluator.arena.inUse).toBe(0);
  return picture;
}
const at = (p: Picture, x: number, y: number) => [...p.data.slice((y * p.width + x) * 4, (y * p.width + x) * 4 + 4)];
/** Skin is much redder than the wall. */
const skin = (p: Picture, x: number, y: number) => at(p, x, y)[0]! > 0.3 && at(p, x, y)[0]! > 2 * at(p, x, y)[2]!;
function skinBox(p: Picture): number[] {
  let [x0, y0, x1, y1] = [p.width, p.height, -1, -1];
  for (let y = 0; y < p.height; y++)
    for (let x = 0; x < p.width; x++)
      if (skin(p, x, y)) [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
  return [x0, y0, x1 + 1, y1 + 1];
}
const place = (of: s.PlacedThing, values: Record<string, number | string | [number, number]>) =>
  Object.entries(values).map(([name, value]) => s.setPlaced(of, name, value));
const clip = (values: Parameters<typeof place>[1]) => place({ kind: 'clip', id: 'c1' }, values);
const subject = (values: Parameters<typeof place>[1]) => place({ kind: 'subject', id: 's1' }, values);
const tracked = () =>
  apply(smallShot(), s.addTrack({ id: 't1', name: 'Pin', clip: 'c1', at: [30, 24], frame: 0 }), s.storeSamples({ t1: 'pin' }));
const detached = (...edits: s.Edit[]) => apply(tracked(), s.changeSubject('s1', { detached: true }), ...edits);

test('a base is opaque only where its take fills the picture at every frame', async () => {
  expect(isOpaque(smallShot())).toBe(true);
  const shrinks = apply(
    smallShot(),
    s.setPlacedPoint({ kind: 'clip', id: 'c1' }, 'size', { frame: 0, value: 100, ease: 'linear' }),
    s.setPlacedPoint({ kind: 'clip', id: 'c1' }, 'size', { frame: 4, value: 50, ease: 'linear' }),
  );
  // It fills the first frame, which says nothing about the later ones.
  expect(at(await draw(shrinks), 0, 0)[3]).toBe(1);
  expect(at(await draw(shrinks, FIRST + 4), 0, 0)[3]).toBe(0);
  expect(isOpaque(shrinks)).toBe(false);
  // A later part that is placed elsewhere, or ends, lets through what lies behind it too.
  const split = apply(smallShot(), s.splitClip(smallShot(), 'c1', FIRST + 6, 'c9')),
    part = (name: string, value: number | string) => apply(split, s.setPlaced({ kind: 'clip', id: 'c9' }, name, value));
  expect([isOpaque(split), isOpaque(part('size', 50)), isOpaque(part('playback', 'once'))]).toEqual([true, false, false]);
  expect(at(await draw(part('size', 50), FIRST + 7), 0, 0)[3]).toBe(0);
});

describe('a clip on the shot’s time', () => {
  const reads = async (shot: Shot, frame: number) => {
    const from = sources();
    await new FrameRenderer(from, shot, 64 * 2 ** 20).renderFrame({ shot, frame }, () => undefined);
    return from.asked.filter((name) => name.startsWith('performance')).map((name) => Number(name.split(' ')[1]));
  };
  test('speed, direction, trims, loops and freezes show the frames that they say', async () => {
    expect(await reads(apply(smallShot(), ...clip({ speed: 50 })), FIRST + 6)).toEqual([3]);
    expect(await reads(apply(smallShot(), ...clip({ direction: 'backwards' })), FIRST + 2)).toEqual([9]);
    expect(await reads(apply(smallShot(), ...clip({ trimStart: 4 })), FIRST + 1)).toEqual([5]);
    expect(await reads(apply(smallShot(), ...clip({ trimEnd: 8, playback: 'loops' })), FIRST + 5)).toEqual([1]);
    const freeze = apply(
      smallShot(),
      s.setPlacedPoint({ kind: 'clip', id: 'c1' }, 'speed', { frame: 0, value: 100, ease: 'hold' }),
      s.setPlacedPoint({ kind: 'clip', id: 'c1' }, 'speed', { frame: 3, value: 0, ease: 'hold' }),
    );
    expect(await reads(freeze, FIRST + 9)).toEqual([3]);
  });
  test('blended frames are the mean of both, and a crossfaded loop has no jump at its seam', async () => {
    const half = await draw(apply(smallShot(), ...clip({ speed: 50, between: 'blended' })), FIRST + 3),
      [a, b] = [await draw(smallShot(), FIRST + 1), await draw(smallShot(), FIRST + 2)];
    half.data.forEach((v, i) => expect(v).toBeCloseTo((a.data[i]! + b.data[i]!) / 2, 5));
    const seam = apply(smallShot(), ...clip({ playback: 'loops, crossfaded', overlap: 4 })),
      [last, first, tail, head] = [
        await draw(seam, FIRST + 7),
        await draw(seam, FIRST + 8),
        await draw(smallShot(), FIRST + 8),
        await draw(smallShot()),
      ];
    // The frame after the eighth is mostly what would have come, and a fifth of the beginning.
    first.data.forEach((v, i) => expect(v).toBeCloseTo(0.8 * tail.data[i]! + 0.2 * head.data[i]!, 5));
    expect(last.data).toEqual((await draw(smallShot(), FIRST + 7)).data);
  });
  test('once: nothing before it and nothing after it', async () => {
    const shot = apply(smallShot(), ...clip({ playback: 'once' }), s.changeClip('c1', { start: FIRST + 3 }));
    expect([...(await draw(shot, FIRST)).data].every((v) => v === 0)).toBe(true);
    expect(at(await draw(shot, FIRST + 3), 5, 5)[3]).toBe(1);
  });
});

describe('a clip in the picture', () => {
  test('moved, sized and mirrored: the pixels, the matte and the track go together', async () => {
    const shot = apply(tracked(), ...clip({ size: 50, place: [8, -4] })),
      p = await draw(shot);
    // The body's box 24..40 x 10..40 about the middle (32, 24), at half size, moved.
    expect(skinBox(p)).toEqual([36, 13, 44, 28]);
    expect(at(p, 2, 2)).toEqual([0, 0, 0, 0]);
    const mount = apply(shot, s.addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1', track: 't1', values: { strength: 0 } })),
      frames = framesOf(mount, await loadTracks(mount, sources()));
    expect(frames.at('m1', FIRST + 4)!.toPicture([0, 0])).toEqual([expect.closeTo(40 + (34 - 32) / 2, 6), expect.closeTo(20, 6)]);
    expect(frames.at('m1', FIRST + 4)!.scaleAt([0, 0])).toBeCloseTo(0.5, 6);
    const mirrored = await draw(apply(smallShot(), ...clip({ mirror: 'left to right', place: [6, 0] })));
    expect(skinBox(mirrored)).toEqual([30, 10, 46, 40]);
  });
  test('a draft shows the same in half the size', async () => {
    const p = await draw(apply(tracked(), ...clip({ size: 50, place: [8, -4] })), FIRST, { factor: 2 });
    expect(skinBox(p)).toEqual([18, 7, 22, 14]);
  });
});

describe('the base', () => {
  test('a ground of a colour stands behind what does not fill the picture', async () => {
    const p = await draw(apply(smallShot(), ...clip({ size: 50 }), s.changeGround({ values: { ground: 'colour', colour: '#ff0000' } })));
    expect(at(p, 1, 1)).toEqual([1, 0, 0, 1]);
    expect(skinBox(p)[0]).toBeLessThan(30);
    const across = await draw(
      apply(
        smallShot(),
        s.setBase(null),
        s.changeGround({ values: { ground: 'gradient', colour: '#000000', other: '#ffffff', direction: 0 } }),
      ),
    );
    expect(at(across, 0, 20)[0]).toBeLessThan(0.02);
    expect(at(across, 63, 3)[1]).toBeGreaterThan(0.98);
  });
  test('takes: a cut, a crossfade and a transition led by a matte, at a cue', async () => {
    const two = (kind: string, ...more: s.Edit[]) =>
        apply(
          smallShot(),
          s.addCue('q1', 'turn', FIRST + 4),
          s.addTake('b2', 'c3', 0),
          s.changeTake('b2', { cue: 'q1', values: { transition: kind, over: 3, eased: 'even' } }),
          ...more,
        ),
      one = await draw(smallShot(), FIRST + 5),
      other = await draw(apply(smallShot(), s.setBase('c3')), FIRST + 5),
      faded = await draw(two('crossfade'), FIRST + 5);
    expect((await draw(two('cut'), FIRST + 3)).data).toEqual((await draw(smallShot(), FIRST + 3)).data);
    expect((await draw(two('cut'), FIRST + 5)).data).toEqual(other.data);
    faded.data.forEach((v, i) => expect(v).toBeCloseTo((one.data[i]! + other.data[i]!) / 2, 5));
    expect((await draw(two('crossfade'), FIRST + 7)).data).toEqual(other.data);
    const led = await draw(two('led by a matte', s.changeTake('b2', { matte: 'k1' })), FIRST + 5);
    expect(at(led, 30, 20)).toEqual(at(other, 30, 20));
    expect(at(led, 5, 5)).toEqual(at(one, 5, 5));
  });
});

describe('a clip’s light and parts', () => {
  test('gains change its colours and nothing else: not its matte, not the clean plate’s place', async () => {
    const p = await draw(apply(smallShot(), ...clip({ red: 200, green: 50 }))),
      plain = await draw(smallShot());
    for (const [x, y] of [
      [30, 20],
      [3, 3],
    ] as const) {
      const [r, g, b, a] = at(plain, x, y);
      at(p, x, y).forEach((v, c) => expect(v).toBeCloseTo([2 * r!, g! / 2, b!, a!][c]!, 5));
    }
    expect((await draw(apply(smallShot(), ...clip({ red: 100 })))).data).toEqual(plain.data);
  });
  test('a later part stands in the place of the clip from its start on, with the matte and the track of the whole', async () => {
    const split = apply(tracked(), s.splitClip(tracked(), 'c1', FIRST + 6, 'c9')),
      moved = apply(split, ...place({ kind: 'clip', id: 'c9' }, { place: [-10, 4] }), s.slipClip(split, 'c9', -4));
    expect((await draw(split, FIRST + 8)).data).toEqual((await draw(smallShot(), FIRST + 8)).data);
    expect(skinBox(await draw(moved, FIRST + 5))).toEqual([24, 10, 40, 40]);
    expect(skinBox(await draw(moved, FIRST + 6))).toEqual([14, 14, 30, 44]);
    const hung = apply(moved, s.addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1', track: 't1', values: { strength: 0 } })),
      frames = framesOf(hung, await loadTracks(hung, sources()));
    expect(frames.at('m1', FIRST + 5)!.toPicture([0, 0])).toEqual([35, 24]);
    // Its sixth frame is the clip's second by the slip: 30 + 2, moved by the part's own place.
    expect(frames.at('m1', FIRST + 6)!.toPicture([0, 0])).toEqual([expect.closeTo(32 - 10, 6), expect.closeTo(28, 6)]);
    const glow = apply(
        moved,
        s.addRow({ id: 'r1', effect: 'fill', lane: 'on', subject: 's1', values: { colour: '#00ff00', amount: 100 } }),
      ),
      filled = await draw(glow, FIRST + 7);
    expect(at(filled, 20, 20)[1]).toBeGreaterThan(0.9);
    expect(at(filled, 36, 20)[1]).toBeLessThan(0.5);
  });
  test('frames between that follow the motion take the matte along', async () => {
    const shot = apply(smallShot(), ...clip({ speed: 50, between: 'by motion' })),
      p = await draw(shot, FIRST + 3);
    // The body stands still while grain changes: it stays where it is, sharp.
    expect(skinBox(p)).toEqual([24, 10, 40, 40]);
    const filled = await draw(
      apply(shot, s.addRow({ id: 'r1', effect: 'fill', lane: 'on', subject: 's1', values: { colour: '#00ff00', amount: 100 } })),
      FIRST + 3,
    );
    expect(at(filled, 32, 24)[1]).toBeGreaterThan(0.9);
    expect(at(filled, 10, 24)[1]).toBeLessThan(0.5);
    const slow = await draw(detached(...subject({ speed: 50, between: 'by motion', shift: [-12, 0] })), FIRST + 3);
    expect(skinBox(slow)).toEqual([12, 10, 28, 40]);
  });
});

describe('a transition led by an effect', () => {
  const led = (
    effect: string,
    values: Record<string, number | string | [number, number]>,
    lane: 'on' | 'front' = 'front',
    ...more: s.Edit[]
  ) =>
    apply(
      smallShot(),
      s.addTake('b2', 'c3', FIRST),
      s.addRow({ id: 'r1', effect, lane, subject: 's1', start: FIRST + 2, length: 6, values }),
      s.changeTake('b2', { row: 'r1', values: { transition: 'led by an effect' } }),
      s.changeRow('r1', { opacity: 0 }),
      ...more,
    );
  test('the new take stands where the front has passed: within a ring, within a ripple, behind a dissolve', async () => {
    const one = await draw(smallShot(), FIRST + 4),
      other = await draw(apply(smallShot(), s.setBase('c3')), FIRST + 4);
    for (const shot of [
      led('ring', { radius: 12, tilt: 0, line: 1, place: [0, 0] }),
      led('displace', { by: 'ripple', radius: 12, size: 2, place: [0, 0] }),
      led('dissolve', { progress: 50, shape: 'direction', direction: 0, from: [0, 0], extent: 64, ragged: 0, rim: 0 }, 'on'),
    ]) {
      const p = await draw(shot, FIRST + 4),
        dissolves = shot.rows.r1!.effect === 'dissolve';
      expect(at(p, 28, 24)).toEqual(at(other, 28, 24));
      expect(at(p, 60, 24)).toEqual(at(one, 60, 24));
      expect(at(p, 2, 24)).toEqual(at(dissolves ? other : one, 2, 24));
      // Before it begins there is the first take, after it has ended the second.
      expect((await draw(shot, FIRST + 1)).data).toEqual((await draw(smallShot(), FIRST + 1)).data);
      expect((await draw(shot, FIRST + 9)).data).toEqual((await draw(apply(smallShot(), s.setBase('c3')), FIRST + 9)).data);
    }
  });
  test('a draft has its front in the same place, and a removed effect leaves a take that comes in at its own frame', async () => {
    const shot = led('ring', { radius: 12, tilt: 0, line: 1, place: [0, 0] }),
      small = await draw(shot, FIRST + 4, { factor: 2 });
    expect(at(small, 14, 12)[0]).toBeCloseTo(at(await draw(shot, FIRST + 4), 28, 24)[0]!, 2);
    const gone = apply(shot, s.remove('row', 'r1'));
    expect(gone.base.takes[1]!.row).toBeNull();
    expect(s.takeStart(gone, gone.base.takes[1]!)).toBe(FIRST);
  });
});

test('a subject goes with its take: nothing is held out where it stood, and nothing is drawn on it', async () => {
  const fill = (lane: 'behind' | 'on') =>
      s.addRow({
        ...{ id: `r-${lane}`, effect: 'fill', lane, subject: 's1' },
        values: { with: 'colour', through: 'everything', clear: 0, colour: '#00ff00', amount: 100 },
      }),
    green = (p: Picture, x: number) => at(p, x, 24)[1]! > 0.9,
    two = (...edits: s.Edit[]) => apply(smallShot(), s.addTake('b2', 'c2', FIRST + 5), ...edits),
    faded = s.changeTake('b2', { values: { transition: 'crossfade', over: 3 } });
  const behind = two(fill('behind'));
  expect([green(await draw(behind, FIRST + 4), 32), green(await draw(behind, FIRST + 4), 5)]).toEqual([false, true]);
  expect([green(await draw(behind, FIRST + 6), 32), green(await draw(behind, FIRST + 6), 5)]).toEqual([true, true]);
  const on = two(fill('on'));
  expect([green(await draw(on, FIRST + 4), 32), green(await draw(on, FIRST + 4), 5)]).toEqual([true, false]);
  expect([green(await draw(on, FIRST + 6), 32), green(await draw(on, FIRST + 6), 5)]).toEqual([false, false]);
  // As long as it still fades it is there.
  expect(green(await draw(two(fill('behind'), faded), FIRST + 6), 32)).toBe(false);
  expect(green(await draw(two(fill('behind'), faded), FIRST + 9), 32)).toBe(true);
});

describe('a detached subject', () => {
  test('where it was filmed it looks as before, but for its soft edges', async () => {
    const [before, after] = [await draw(smallShot()), await draw(detached())];
    expect(skinBox(after)).toEqual(skinBox(before));
    expect(at(after, 32, 24)).toEqual(at(before, 32, 24));
  });
  test('is blurred by its move at its shutter angle, and sharp without one', async () => {
    const moving = (shutter: number) =>
        detached(
          ...subject({ shutter }),
          s.setPlacedPoint({ kind: 'subject', id: 's1' }, 'shift.x', { frame: 0, value: -16, ease: 'linear' }),
          s.setPlacedPoint({ kind: 'subject', id: 's1' }, 'shift.x', { frame: 8, value: 16, ease: 'linear' }),
        ),
      [sharp, blurred] = [await draw(moving(0), FIRST + 4), await draw(moving(360), FIRST + 4)],
      // Across the middle of the body: how many pixels are neither wall nor skin.
      differs = (p: Picture, q: Picture) => {
        let n = 0;
        for (let x = 0; x < WIDTH; x++) if (Math.abs(at(p, x, 30)[0]! - at(q, x, 30)[0]!) > 0.02) n++;
        return n;
      };
    expect(differs(sharp, blurred)).toBeGreaterThanOrEqual(4);
    const [one, other] = [
      await draw(detached(...subject({ shutter: 0, turn: 30 }))),
      await draw(detached(...subject({ shutter: 360, turn: 30 }))),
    ];
    expect([...one.data]).toEqual([...other.data]);
  });
  test('moved and sized about its pivot: gone where it was, there where it is put, with its track', async () => {
    const shot = detached(...subject({ pivot: [0, 16], size: 50, shift: [-14, 2] })),
      p = await draw(shot);
    // Feet at (32, 40) move to (18, 42); the body is 8 x 15 there.
    expect(skinBox(p)).toEqual([14, 27, 22, 42]);
    const wall = at(await draw(apply(smallShot(), s.setBase('c2'))), 32, 24),
      left = at(p, 32, 24);
    left.forEach((v, c) => expect(Math.abs(v - wall[c]!)).toBeLessThan(0.02));
    const hung = apply(shot, s.addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1', track: 't1', values: { strength: 0 } })),
      frames = framesOf(hung, await loadTracks(hung, sources()));
    expect(frames.at('m1', FIRST + 6)!.toPicture([0, 0])).toEqual([expect.closeTo(18 + (36 - 32) / 2, 6), expect.closeTo(42 - 8, 6)]);
  });
  test('slowed and frozen it carries its track through its own time, while the base goes on', async () => {
    const shot = detached(
        ...subject({ speed: 50 }),
        s.addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1', track: 't1', values: { strength: 0 } }),
      ),
      frames = framesOf(shot, await loadTracks(shot, sources()));
    expect(frames.at('m1', FIRST + 8)!.toPicture([0, 0])).toEqual([34, 24]);
    const from = sources();
    await new FrameRenderer(from, shot, 64 * 2 ** 20).renderFrame({ shot, frame: FIRST + 8 }, () => undefined);
    expect(new Set(from.asked.filter((n) => n.startsWith('performance')))).toEqual(
      new Set(['performance 4', 'performance 8', 'performance 0']),
    );
  });
  test('every kind of change at once: slowed, on a moved and slowed clip, sized and turned, the track stays on the body', async () => {
    const shot = apply(
        detached(
          ...subject({ speed: 50, size: 150, turn: 20, shift: [5, -3], pivot: [4, 6] }),
          ...clip({ speed: 50, size: 80, turn: -10, place: [3, 2], trimStart: 1 }),
        ),
        s.addRow({ id: 'r1', effect: 'ember', lane: 'front', subject: 's1', track: 't1', values: { strength: 0 } }),
      ),
      frames = framesOf(shot, await loadTracks(shot, sources())),
      p = await draw(shot, FIRST + 8),
      mount = frames.at('m1', FIRST + 8)!;
    // Frame 8 shows frame 4 as filmed, which is frame 1 + 2 of the clip: the pin at (33, 24). Its neighbourhood is skin; beyond the body's edge it is wall.
    for (const [x, y] of [
      [33, 24],
      [25, 12],
      [38.5, 12],
      [25, 38],
      [38.5, 38],
    ] as const) {
      const [px, py] = mount.toPicture([x - 33, y - 24]);
      if (px > 1 && py > 1 && px < WIDTH - 1 && py < HEIGHT - 1)
        expect([x, y, skin(p, Math.floor(px), Math.floor(py))]).toEqual([x, y, true]);
    }
    for (const [x, y] of [
      [21.5, 24],
      [42.5, 24],
      [32, 7],
    ] as const) {
      const [px, py] = mount.toPicture([x - 33, y - 24]);
      if (px > 1 && py > 1 && px < WIDTH - 1 && py < HEIGHT - 1)
        expect([x, y, skin(p, Math.floor(px), Math.floor(py))]).toEqual([x, y, false]);
    }
    expect([mount.scaleAt([0, 0]), mount.turnAt([0, 0])]).toEqual([expect.closeTo(1.2, 6), expect.closeTo(10, 6)]);
  });
  test('it goes before another background', async () => {
    const shot = detached(
        s.setBase(null),
        s.changeGround({ values: { ground: 'colour', colour: '#ff0000' } }),
        ...subject({ shift: [-12, 0] }),
      ),
      p = await draw(shot);
    expect(at(p, 50, 24)).toEqual([1, 0, 0, 1]);
    expect(at(p, 32, 24)).toEqual([1, 0, 0, 1]);
    expect(skin(p, 20, 24)).toBe(true);
    expect(at(p, BODY.left - 14, 24)).toEqual([1, 0, 0, 1]);
  });
  test('rows behind, on and before it stand about it where it is', async () => {
    const shot = detached(...subject({ shift: [-14, 0] })),
      glowing = (lane: 'behind' | 'on') =>
        draw(
          apply(
            shot,
            s.addRow({ id: 'r1', effect: 'fill', lane, subject: 's1', values: { through: 'everything', colour: '#0000ff', amount: 100 } }),
          ),
        ),
      on = await glowing('on'),
      behind = await glowing('behind');
    expect(at(on, 18, 24).slice(0, 3)).toEqual([0, 0, 1]);
    expect(at(on, 50, 24)[2]).toBeLessThan(0.5);
    expect(at(behind, 50, 24).slice(0, 3)).toEqual([0, 0, 1]);
    expect(skin(behind, 18, 24)).toBe(true);
    expect(at(behind, 32, 24).slice(0, 3)).toEqual([0, 0, 1]);
  });
  test('a dissolve takes it apart where it is', async () => {
    const shot = detached(
      ...subject({ shift: [-14, 0] }),
      s.addRow({
        id: 'r1',
        effect: 'dissolve',
        lane: 'on',
        subject: 's1',
        values: { progress: 100, density: 0, rimStrength: 0, extent: 60, ragged: 0, from: [0, -20] },
      }),
    );
    expect(skinBox(await draw(shot))[2]).toBeLessThanOrEqual(0);
  });
  test('one clip of the shot can be looked at alone, as it stands in the base', async () => {
    const shot = detached(...subject({ shift: [-14, 0] }), s.setBase('c2'));
    expect(skinBox(await draw(shot, FIRST, { plain: 'c1' }))).toEqual([BODY.left, BODY.top, BODY.right, BODY.bottom]);
    expect(skinBox(await draw(shot, FIRST, { plain: true }))[2]).toBeLessThanOrEqual(0);
  });
});
