import { execFileSync } from 'node:child_process';
import { mkdtemp, readFile, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { Arena, encodeCodes, fromHalf, newPicture, toHalf, type Codes, type Picture } from '@wraithos/core/image';
import {
  FrameRenderer,
  framesFor,
  outputFormats,
  passesOf,
  passOf,
  type AlphaMode,
  type FormatName,
  type Sources,
} from '@wraithos/core/render';
import * as s from '@wraithos/core/shot';
import { exrBytes } from './exr';
import { filmWriters } from './films';
import { burnIn, drawLabel } from './label';
import { frameName, renderRun } from './renderRun';

/** What leaves the shot, read back by other programs: alpha, values above 1, passes. */
const WIDTH = 48,
  HEIGHT = 32,
  FIRST = -2;
let folder: string;
beforeEach(async () => void (folder = await mkdtemp(join(tmpdir(), 'wraithos-out-'))));
afterEach(() => rm(folder, { recursive: true, force: true }));

/** A disc of orange with a soft edge of known alpha, straight, before nothing. */
const alphaAt = (x: number, y: number) => Math.min(1, Math.max(0, (14 - Math.hypot(x - 23.5, y - 15.5)) / 6));
const disc: Codes = { width: WIDTH, height: HEIGHT, channels: 4, bits: 8, data: new Uint8Array(WIDTH * HEIGHT * 4) };
for (let y = 0, i = 0; y < HEIGHT; y++)
  for (let x = 0; x < WIDTH; x++, i += 4) (disc.data as Uint8Array).set([240, 140, 40, Math.round(255 * alphaAt(x, y))], i);
const sources: Sources = { frame: () => Promise.resolve(disc), samples: () => Promise.resolve([]) };
const apply = (shot: s.Shot, ...edits: s.Edit[]) => edits.reduce((now, edit) => s.applyEdit(now, edit).shot, shot);
const shot = (): s.Shot =>
  apply(
    s.newShot({ code: 'OUT', width: WIDTH, height: HEIGHT, rate: { num: 24, den: 1 }, first: FIRST, frames: 4 }),
    s.addClip(
      {
        ...{
          name: 'disc',
          role: 'performance',
          media: { path: 'disc' },
          width: WIDTH,
          height: HEIGHT,
          frames: 1,
          rate: { num: 24, den: 1 },
        },
        ...{ alpha: true, bits: 8, transfer: 'srgb', start: FIRST },
      },
      'c1',
    ),
  );
async function written(format: FormatName, alpha: AlphaMode, document = shot(), only = 'all'): Promise<string[]> {
  const { bits, files } = outputFormats[format],
    frames = [FIRST, FIRST + 1];
  await renderRun(document, sources, frames, folder, { bits, alpha, only });
  return frames.map((frame) => join(folder, frameName(frame, files)));
}
/** Raw straight RGBA of 16 bits, as ffmpeg reads a file. */
const readBack = (file: string, decoder: string[] = []): Uint16Array => {
  const out = execFileSync('ffmpeg', [
    '-v',
    'error',
    ...decoder,
    '-i',
    file,
    '-frames:v',
    '1',
    '-f',
    'rawvideo',
    '-pix_fmt',
    'rgba64le',
    '-',
  ]);
  return new Uint16Array(out.buffer.slice(out.byteOffset, out.byteOffset + out.length));
};
const alphaOff = (codes: ArrayLike<number>, top: number) => {
  let most = 0;
  for (let p = 0; p < WIDTH * HEIGHT; p++)
    most = Math.max(most, Math.abs(codes[4 * p + 3]! / top - Math.round(255 * alphaAt(p % WIDTH, Math.floor(p / WIDTH))) / 255));
  return most;
};

test('halves are IEEE 754 binary16: every one of them goes there and back, and ties go to even', () => {
  const wrong = Array.from({ length: 65536 }, (_, h) => h).filter((h) => !Number.isNaN(fromHalf(h)) && toHalf(fromHalf(h)) !== h);
  expect(wrong).toEqual([]);
  expect([1, -2, 65504, 65520, 1e-8, 2 ** -24, 1 + 2 ** -11, 1 + 3 * 2 ** -11].map(toHalf)).toEqual([
    0x3c00, 0xc000, 0x7bff, 0x7c00, 0, 1, 0x3c00, 0x3c02,
  ]);
  expect(toHalf(NaN) & 0x7c00).toBe(0x7c00);
});

test.each(['png', 'png16'] as const)(
  '%s: straight alpha keeps colours, premultiplied ones are times it, without it all stands on black',
  async (format) => {
    const top = format === 'png' ? 255 : 65535,
      middle = 4 * (15 * WIDTH + 23),
      edge = 4 * (15 * WIDTH + 13),
      raw = async (file: string, channels = 4) => {
        if (format === 'png16' && channels === 4) return { info: { channels }, codes: readBack(file) };
        const { data, info } = await sharp(file)
          .raw({ depth: format === 'png' ? 'uchar' : 'ushort' })
          .toBuffer({ resolveWithObject: true });
        return { info, codes: format === 'png' ? data : new Uint16Array(data.buffer, data.byteOffset, data.length / 2) };
      };
    const [straight] = await written(format, 'straight'),
      one = await raw(straight!);
    expect(one.info.channels).toBe(4);
    expect(alphaOff(one.codes, top)).toBeLessThan(1.01 / 255);
    // The colour at the soft edge is that of the middle.
    for (let c = 0; c < 3; c++) expect(Math.abs(one.codes[edge + c]! - one.codes[middle + c]!) / top).toBeLessThan(0.02);
    await rm(straight!);
    const [times] = await written(format, 'premultiplied'),
      two = await raw(times!);
    expect(alphaOff(two.codes, top)).toBeLessThan(1.01 / 255);
    expect(two.codes[edge]!).toBeLessThan(0.9 * one.codes[edge]!);
    await rm(times!);
    const [plain] = await written(format, 'none');
    expect((await raw(plain!, 3)).info.channels).toBe(3);
  },
);

test('OpenEXR: half floats with values above 1 and below 0, premultiplied, read back by ffmpeg to the bit', async () => {
  const picture: Picture = newPicture(37, 21);
  for (let i = 0; i < picture.data.length; i++) picture.data[i] = (i % 4 === 3 ? 0.25 : ((i * 7919) % 1000) / 100 - 1) * (1 + (i % 5));
  for (const alpha of [true, false]) {
    const file = join(folder, 'a.exr');
    await writeFile(file, await exrBytes(picture, alpha));
    const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'rawvideo', '-pix_fmt', alpha ? 'gbrapf32le' : 'gbrpf32le', '-']),
      floats = new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length)),
      n = 37 * 21;
    // Planes of green, blue, red and alpha.
    [1, 2, 0, ...(alpha ? [3] : [])].forEach((c, plane) => {
      for (let p = 0; p < n; p++) expect(floats[plane * n + p]!).toBe(fromHalf(toHalf(picture.data[4 * p + c]!)));
    });
  }
});

test('a render as OpenEXR holds the very values that the viewer encodes, with frames below 0', async () => {
  const files = await written('exr', 'premultiplied'),
    raw = execFileSync('ffmpeg', ['-v', 'error', '-i', files[0]!, '-f', 'rawvideo', '-pix_fmt', 'gbrapf32le', '-']),
    floats = new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length)),
    n = WIDTH * HEIGHT,
    codes = await new FrameRenderer(sources, shot(), 64 * 2 ** 20).renderFrame({ shot: shot(), frame: FIRST }, (p, _, arena) => {
      const shown = encodeCodes(p, { bits: 8, channels: 3, frame: FIRST }, arena),
        read = newPicture(WIDTH, HEIGHT);
      for (let k = 0; k < n; k++) read.data.set([floats[2 * n + k]!, floats[k]!, floats[n + k]!, floats[3 * n + k]!], 4 * k);
      return [shown, encodeCodes(read, { bits: 8, channels: 3, frame: FIRST }, new Arena(2 ** 22))] as const;
    });
  codes[0].forEach((v, i) => expect(Math.abs(v - codes[1][i]!)).toBeLessThanOrEqual(1));
  expect((await readdir(folder)).sort()).toEqual(['-0001.exr', '-0002.exr']);
});

test.each([
  ['webm', ['-c:v', 'libvpx-vp9'], 0.04],
  ['mov', [], 0.004],
] as const)('%s carries alpha', async (format, decoder, most) => {
  const files = await written(format, 'straight'),
    file = join(folder, `film.${format}`);
  await filmWriters[format](file, files, { num: 24, den: 1 }, { alpha: true });
  const codes = readBack(file, [...decoder]);
  expect(codes.length).toBe(WIDTH * HEIGHT * 4);
  expect(alphaOff(codes, 65535)).toBeLessThan(most);
  const middle = 4 * (15 * WIDTH + 23);
  [240, 140, 40].forEach((v, c) => expect(Math.abs(codes[middle + c]! / 257 - v)).toBeLessThan(8));
});
test('MP4 plays everywhere: H.264, 4:2:0, ready to begin before it has come as a whole', async () => {
  const files = await written('mp4', 'none'),
    file = join(folder, 'film.mp4');
  await filmWriters.mp4(file, files, { num: 24, den: 1 });
  const said = execFileSync('ffprobe', [
    '-v',
    'error',
    '-show_entries',
    'stream=codec_name,pix_fmt,nb_frames',
    '-of',
    'csv=p=0',
    file,
  ]).toString();
  expect(said.trim()).toBe('h264,yuv420p,2');
  const bytes = await readFile(file);
  expect(bytes.indexOf('moov')).toBeLessThan(bytes.indexOf('mdat'));
});

describe('passes', () => {
  const made = () =>
    apply(
      shot(),
      s.addMatte({ id: 'k1', name: 'Disc', source: 'clip', clip: 'c1' }),
      s.addSubject('s1', 'Disc', 'c1'),
      s.changeSubject('s1', { matte: 'k1' }),
      s.addRow({
        id: 'r1',
        effect: 'fill',
        lane: 'foreground',
        subject: null,
        values: { through: 'everything', colour: '#0000ff', amount: 50 },
      }),
      s.addRow({
        id: 'r2',
        effect: 'fill',
        lane: 'behind',
        subject: 's1',
        values: { through: 'everything', colour: '#00ff00', amount: 100 },
      }),
    );
  const drawn = async (only: string): Promise<number[][]> => {
    const [file] = await written('png', 'straight', made(), only),
      { data, info } = await sharp(file).raw().toBuffer({ resolveWithObject: true });
    await rm(file!);
    return [
      [23, 15],
      [1, 1],
    ].map(([x, y]) => [...data.subarray((y! * WIDTH + x!) * info.channels, (y! * WIDTH + x! + 1) * info.channels)]);
  };
  test('all, base, effects, a lane, a row and a matte', async () => {
    expect((await drawn('base'))[1]![3]).toBe(0);
    expect((await drawn('base'))[0]).toEqual([240, 140, 40, 255]);
    const [inside, outside] = await drawn('row:r2');
    // Held out by the body, which is in no pass of effects itself.
    expect(inside![3]).toBe(0);
    expect(outside).toEqual([0, 255, 0, 255]);
    expect((await drawn('lane:foreground'))[0]).toEqual([0, 0, 255, 128]);
    const [both] = await drawn('effects');
    expect(both).toEqual([0, 0, 255, 128]);
    expect((await drawn('matte:k1')).map(([grey]) => grey)).toEqual([255, 0]);
  });
  test('a pass that is not there says which there are', () => {
    expect(() => passOf(made(), 'row:r9')).toThrow('There is no pass "row:r9" in this shot. There are: all, base, effects, lane:');
    expect(() => passOf(made(), 'lane:attic')).toThrow(/no pass/);
    for (const { pass } of passesOf(made())) expect(passOf(made(), pass).shot.code).toBe('OUT');
  });
});

describe('what people look over', () => {
  test('a contact sheet holds twelve frames spread evenly over the range, each over its number', async () => {
    expect(framesFor(outputFormats.sheet, 1001, 1100)).toEqual([1001, 1010, 1019, 1028, 1037, 1046, 1055, 1064, 1073, 1082, 1091, 1100]);
    expect(framesFor(outputFormats.sheet, -2, 1)).toEqual([-2, -1, 0, 1]);
    expect(framesFor(outputFormats.png, 1001, 1100)).toHaveLength(100);
    const colours = ['#ff0000', '#00ff00', '#0000ff', '#ffff00', '#ff00ff'],
      files = await Promise.all(
        colours.map(async (background, i) => {
          const file = join(folder, frameName(1001 + i));
          await sharp({ create: { width: 320, height: 180, channels: 3, background } })
            .png()
            .toFile(file);
          return file;
        }),
      );
    await filmWriters.png(join(folder, 'sheet.png'), files, { num: 24, den: 1 });
    const { data, info } = await sharp(join(folder, 'sheet.png')).raw().toBuffer({ resolveWithObject: true }),
      at = (x: number, y: number) => [...data.subarray((y * info.width + x) * 3, (y * info.width + x) * 3 + 3)];
    expect([info.width, info.height]).toEqual([8 + 4 * 488, 8 + 2 * (270 + 38)]);
    expect(at(8 + 488 * 2 + 240, 100)).toEqual([0, 0, 255]);
    expect(at(8 + 240, 8 + 308 + 100)).toEqual([255, 0, 255]);
    // Below each stands its number, and below no other thing.
    const lit = (x0: number, y0: number) => {
      let most = 0;
      for (let y = y0; y < y0 + 30; y++) for (let x = x0; x < x0 + 90; x++) most = Math.max(most, at(x, y)[0]!);
      return most;
    };
    expect(lit(8, 278)).toBeGreaterThan(180);
    expect(lit(8 + 488 * 2, 8 + 308 + 270)).toBeLessThan(40);
  });

  test('a line burnt in stands at the lower left, the same in 8 and 16 bits, and nothing else of the picture changes', async () => {
    const label = drawLabel('OUT  -2', 24);
    expect(label.cover.reduce((n, v) => n + (v > 128 ? 1 : 0), 0)).toBeGreaterThan(40);
    const [wide, tall] = [200, 80];
    for (const codes of [new Uint8Array(wide * tall * 3).fill(100), new Uint16Array(wide * tall * 4).fill(25700)]) {
      const before = codes.slice(),
        channels = codes.length / (wide * tall),
        full = codes instanceof Uint8Array ? 255 : 65535;
      burnIn(codes, wide, tall, label);
      let light = 0;
      for (let y = 0; y < tall; y++)
        for (let x = 0; x < wide; x++) {
          const i = (y * wide + x) * channels;
          if (y < tall - 24 - 8 || x >= 8 + label.width + 8) expect(codes[i]).toBe(before[i]);
          else if (codes[i]! > 0.8 * full) light++;
        }
      expect(light).toBeGreaterThan(40);
    }
    await renderRun(shot(), sources, [FIRST], folder, { bits: 8, burn: (frame) => `OUT ${frame}` });
    const burnt = await sharp(join(folder, frameName(FIRST)))
      .raw()
      .toBuffer();
    await renderRun(shot(), sources, [FIRST], join(folder, 'plain'), { bits: 8 });
    const plain = await sharp(join(folder, 'plain', frameName(FIRST)))
      .raw()
      .toBuffer();
    expect(burnt.subarray(0, WIDTH * 3 * 8)).toEqual(plain.subarray(0, WIDTH * 3 * 8));
    expect(burnt.equals(plain)).toBe(false);
    // A matte is written as grey, and carries its line too.
    const matted = apply(shot(), s.addMatte({ id: 'k1', name: 'Disc', source: 'clip', clip: 'c1' }));
    const grey = async (into: string, burn?: (frame: number) => string) => {
      await renderRun(matted, sources, [FIRST], join(folder, into), { bits: 8, only: 'matte:k1', burn });
      return sharp(join(folder, into, frameName(FIRST)))
        .raw()
        .toBuffer();
    };
    const [bare, lined] = [await grey('bare'), await grey('lined', (frame) => `OUT ${frame}`)];
    expect(lined.subarray(0, WIDTH * 8)).toEqual(bare.subarray(0, WIDTH * 8));
    expect(lined.equals(bare)).toBe(false);
  });
});
