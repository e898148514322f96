import { Arena, blur, encodeCodes, type Codes, type Picture } from '@wraithos/core/image';
import { FrameRenderer, type Sources } from '@wraithos/core/render';
import { addClip, addRow, applyEdit, newShot, plainReading, type Clip } from '@wraithos/core/shot';
import { bandThreads } from './bandThreads';
import { readAhead } from './readAhead';

const WIDTH = 333,
  HEIGHT = 187;
const clip: Omit<Clip, 'id'> = {
  placed: { values: {}, curves: {} },
  continues: null,
  made: null,
  name: 'take',
  role: 'performance',
  media: { path: 'take' },
  width: WIDTH,
  height: HEIGHT,
  frames: 8,
  rate: { num: 24, den: 1 },
  alpha: false,
  bits: 8,
  transfer: 'srgb',
  cue: null,
  ...plainReading,
  start: 1001,
};
const codes = (frame: number): Codes => ({
  width: WIDTH,
  height: HEIGHT,
  channels: 3,
  bits: 8,
  data: new Uint8Array(WIDTH * HEIGHT * 3).map((_, i) => (i * 7 + frame * 31 + (i >> 5)) & 255),
});
const sources: Sources = { frame: (_, frame) => Promise.resolve(codes(frame)), samples: () => Promise.resolve([]) };

test('a frame has the same bits on one, two and four threads', async () => {
  const shot = [
      addClip(clip, 'c1'),
      addRow({ id: 'r1', effect: 'displace', lane: 'whole', subject: null, values: { strength: 9, radius: 0 } }),
      addRow({ id: 'r2', effect: 'glow', lane: 'whole', subject: null, values: { from: 'all', reach: 60 } }),
      addRow({ id: 'r3', effect: 'grade', lane: 'whole', subject: null, values: { exposure: 0.4, gamma: 1.2 } }),
    ].reduce(
      (now, edit) => applyEdit(now, edit).shot,
      newShot({ code: 'HT_010', width: WIDTH, height: HEIGHT, rate: { num: 24, den: 1 }, frames: 8 }),
    ),
    drawn: Buffer[] = [];
  for (const count of [0, 1, 3]) {
    const helpers = bandThreads(count),
      renderer = new FrameRenderer(sources, shot, 2 ** 26, undefined, false, helpers);
    for (let round = 0; round < 6; round++)
      drawn.push(
        await renderer.renderFrame({ shot, frame: 1004 }, (picture, _, arena) =>
          Buffer.from(encodeCodes(picture, { bits: 16, channels: 3 }, arena).buffer as ArrayBuffer),
        ),
      );
    await helpers.close();
  }
  for (const picture of drawn) expect(picture.equals(drawn[0]!)).toBe(true);
});

test('bands of every height leave no seam: a blur of a flat picture stays flat, and of a slope a slope', async () => {
  const helpers = bandThreads(2),
    arena = new Arena(2 ** 25, helpers);
  for (const [width, height] of [
    [1, 1],
    [5, 2],
    [61, 97],
    [640, 13],
  ] as const) {
    const source: Picture = arena.takePicture(width, height);
    for (let i = 0; i < source.data.length; i++) source.data[i] = 0.25 + Math.floor(i / 4 / width) / 1000;
    for (const sigma of [1.5, 4, 12]) {
      const soft = blur(source, sigma, arena);
      for (let y = 1; y < height; y++) {
        const step = soft.data[y * width * 4]! - soft.data[(y - 1) * width * 4]!;
        // The slope of the source in the middle, less near the edges where it goes on flat; never a jump.
        expect(step).toBeGreaterThan(-1e-5);
        expect(step).toBeLessThan(0.00105);
      }
      arena.give(soft);
    }
    arena.give(source);
  }
  await helpers.close();
});

test('reading ahead asks for each frame once, in time, and gives errors to whoever asks', async () => {
  const asked: number[] = [],
    ahead = readAhead({
      frame: (_, frame) => {
        asked.push(frame);
        return frame === 5 ? Promise.reject(new Error('gone')) : Promise.resolve(codes(frame));
      },
      samples: () => Promise.resolve([]),
    }),
    of = { ...clip, id: 'c1' };
  for (const frame of [0, 1, 2, 3, 4]) expect((await ahead.frame(of, frame)).data[0]).toBe(codes(frame).data[0]);
  expect(asked).toEqual([0, 1, 2, 3, 4, 5]);
  await expect(ahead.frame(of, 5)).rejects.toThrow('gone');
  expect(asked).toEqual([0, 1, 2, 3, 4, 5, 6]);
  // The last frame has none behind it.
  await ahead.frame(of, 7);
  expect(asked.slice(7)).toEqual([7]);
});
