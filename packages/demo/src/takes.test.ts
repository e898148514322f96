import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { encodeValue, newPicture, type Picture, type Plane } from '@wraithos/core/image';
import { FrameRenderer, lightAgainst, placeAgainst } from '@wraithos/core/render';
import * as s from '@wraithos/core/shot';
import { fileSources } from '@wraithos/runtime';
import { build, clip } from './documents';
import { HEIGHT, WIDTH } from './measures';

/** What is measured on the shots of many pictures, against the truth that they were drawn from. */
const media = (code: string) => join(process.cwd(), 'packages', 'demo', 'media', code),
  json = async <T>(code: string, name: string) => JSON.parse(await readFile(join(media(code), name), 'utf8')) as T;
const shotOf = (code: string, ...edits: s.Edit[]) =>
    build(s.newShot({ code, width: WIDTH, height: HEIGHT, rate: { num: 24, den: 1 }, frames: 84 }), edits),
  rendererOf = (code: string, shot: s.Shot) =>
    new FrameRenderer(fileSources(join(media(code), 'x.json')), shot, 128 * 2 ** 20, undefined, false);
const kept = (p: Picture): Picture => ({ ...newPicture(p.width, p.height), data: Float32Array.from(p.data) });

describe('TW_050 before green', () => {
  const green = (...more: s.Edit[]) =>
    shotOf(
      'TW_050',
      s.addClip(clip('green', 'performance', { path: 'performance.mp4' }, 120), 'c1'),
      s.addClip(clip('truth', 'element', { path: 'truth-matte.mp4' }, 120), 'c2'),
      s.addClip(clip('room', 'element', { path: 'chart-room.png' }, 1), 'c3'),
      s.addMatte({ id: 'k1', name: 'Key', source: 'chroma', clip: 'c1' }),
      s.setSourceValues('k1', { backing: '#2ca94a' }),
      s.refineMatte('k1', { despeckle: { area: 300 }, 'fill holes': { area: 400 } }),
      ...more,
    );
  test.each([
    ['core and edge', { outside: 20 }, 0.07, 0.0002],
    ['distance from the backing', { tolerance: 26, softness: 44 }, 0.065, 0.0005],
  ] as const)(
    'the key by %s against the true matte: along the edge, in the body, and beside it, where the backing is uneven and shadowed',
    async (keys, values, mostEdge, mostBeside) => {
      const shot = green(s.setSourceValues('k1', { keys, ...values })),
        renderer = rendererOf('TW_050', shot);
      let [edge, band, holes, body, beside] = [0, 0, 0, 0, 0];
      for (const frame of [1006, 1044, 1080]) {
        const truth = await renderer.renderFrame({ shot, frame, plain: 'c2' }, (p) => {
            const t = new Float32Array(WIDTH * HEIGHT);
            // A clip is drawn in linear light; the cover is what its codes say.
            for (let i = 0; i < t.length; i++) t[i] = encodeValue(p.data[4 * i]!);
            return t;
          }),
          matte = await renderer.renderMatte(shot, 'k1', frame, 1, (m: Plane) => Float32Array.from(m.data));
        for (let y = 6; y < HEIGHT - 6; y++)
          for (let x = 6; x < WIDTH - 6; x++) {
            const i = y * WIDTH + x,
              t = truth[i]!,
              near = [-6, 6].some((d) => Math.abs(truth[i + d]! - t) > 0.5 || Math.abs(truth[i + d * WIDTH]! - t) > 0.5);
            if (near || (t > 0.01 && t < 0.99)) {
              edge += Math.abs(matte[i]! - t);
              band++;
            } else if (t >= 0.99) {
              body++;
              if (matte[i]! < 0.5) holes++;
            } else if (matte[i]! > 0.5) beside++;
          }
      }
      console.info(`edge ${(edge / band).toFixed(3)}, holes ${((100 * holes) / body).toFixed(3)} %, beside ${beside} px`);
      expect(edge / band).toBeLessThanOrEqual(mostEdge);
      expect(holes / body).toBeLessThanOrEqual(0.005);
      expect(beside / (3 * WIDTH * HEIGHT)).toBeLessThanOrEqual(mostBeside);
    },
    60_000,
  );

  test('laid over the chart room no green is left along the edge, and away from it the room is the room to the bit', async () => {
    const on = (detached: boolean) =>
        green(
          s.setBase(null),
          s.changeGround({ clip: 'c3', values: { ground: 'clip' } }),
          ...(detached ? [s.addSubject('s1', 'Warden', 'c1'), s.changeSubject('s1', { matte: 'k1', detached: true, pixels: 300 })] : []),
        ),
      draw = async (shot: s.Shot) => rendererOf('TW_050', shot).renderFrame({ shot, frame: 1060 }, kept),
      [with_, room] = [await draw(on(true)), await draw(on(false))];
    let greenest = 0,
      changed = 0;
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) {
        const i = 4 * (y * WIDTH + x),
          excess = (p: Picture) => Math.sqrt(p.data[i + 1]!) - Math.sqrt(Math.max(p.data[i]!, p.data[i + 2]!));
        if (with_.data[i] === room.data[i] && with_.data[i + 1] === room.data[i + 1]) continue;
        changed++;
        greenest = Math.max(greenest, excess(with_) - Math.max(0, excess(room)));
      }
    // As square roots of light: a display step is 1/255.
    expect(greenest).toBeLessThan(22 / 255);
    // The warden covers about a thirtieth of the picture; nothing else of it is touched.
    expect(changed / (WIDTH * HEIGHT)).toBeGreaterThan(0.01);
    expect(changed / (WIDTH * HEIGHT)).toBeLessThan(0.06);
    for (const [x, y] of [
      [40, 40],
      [1240, 690],
    ] as const)
      expect([...with_.data.slice(4 * (y * WIDTH + x), 4 * (y * WIDTH + x) + 4)]).toEqual([
        ...room.data.slice(4 * (y * WIDTH + x), 4 * (y * WIDTH + x) + 4),
      ]);
  }, 60_000);
});

describe('TW_040, take two against the first', () => {
  const takes = (...more: s.Edit[]) =>
    shotOf(
      'TW_040',
      s.addClip(clip('one', 'performance', { path: 'performance.mp4' }, 84), 'c1'),
      s.addClip(clip('two', 'element', { path: 'take-two.mp4' }, 48), 'c2'),
      ...more,
    );
  test.each([1008, 1030])(
    'place is found at frame %i as it was framed, though the sea moves and the warden stands elsewhere',
    async (frame) => {
      const shot = takes(),
        { againstTheFirst } = await json<{ againstTheFirst: { shift: { x: number; y: number } } }>('TW_040', 'take-two-truth.json'),
        { shift, turn, size } = await placeAgainst(rendererOf('TW_040', shot), shot, shot.clips.c2!, shot.clips.c1!, frame);
      expect(Math.hypot(shift[0] + againstTheFirst.shift.x, shift[1] + againstTheFirst.shift.y)).toBeLessThan(0.3);
      expect(Math.abs(turn)).toBeLessThan(0.05);
      expect(Math.abs(size - 1)).toBeLessThan(0.003);
    },
  );
  test('in place and in light the two differ less than a third of what they did, on what stands still', async () => {
    const frame = 1010,
      before = takes(),
      renderer = rendererOf('TW_040', before),
      place = await placeAgainst(renderer, before, before.clips.c2!, before.clips.c1!, frame),
      moved = build(before, [s.matchPlace(before, 'c2', place)]),
      gains = await lightAgainst(renderer, moved, moved.clips.c2!, moved.clips.c1!, frame),
      after = build(moved, [s.matchLight(moved, 'c2', gains)]);
    const apart = async (shot: s.Shot): Promise<number> => {
      const [a, b] = [
        await renderer.renderFrame({ shot, frame, plain: 'c1' }, kept),
        await renderer.renderFrame({ shot, frame, plain: 'c2' }, kept),
      ];
      let [sum, n] = [0, 0];
      // The shed and the beam: the warden of neither take stands there, and no water.
      for (let y = 60; y < 330; y++)
        for (let x = 60; x < 420; x++, n++) {
          const i = 4 * (y * WIDTH + x);
          for (let c = 0; c < 3; c++) sum += Math.abs(Math.sqrt(a.data[i + c]!) - Math.sqrt(b.data[i + c]!)) / 3;
        }
      return sum / n;
    };
    expect(await apart(after)).toBeLessThan((await apart(before)) / 3);
  });
});
