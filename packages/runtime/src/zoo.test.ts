import { mkdtempSync, rmSync, writeFileSync, mkdirSync, copyFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createHash } from 'node:crypto';
import sharp from 'sharp';
import { newPicture, type Codes } from '@wraithos/core/image';
import { decode } from './decode';
import { exrBytes } from './exr';
import { FrameStore } from './frameStore';
import { probe, type MediaInfo } from './probe';

/** Material of all kinds, made here: what each file says of itself, and what its codes are. */
const folder = mkdtempSync(join(tmpdir(), 'wraith-zoo-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const at = (name: string) => join(folder, name);
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
async function all(path: string, info?: MediaInfo): Promise<Codes[]> {
  const out: Codes[] = [];
  for await (const frame of decode(path, info ?? (await probe(path)))) out.push({ ...frame, data: frame.data.slice() });
  return out;
}
const pixel = ({ data, channels, width }: Codes, x: number, y: number) => [
  ...data.slice((y * width + x) * channels, (y * width + x + 1) * channels),
];

describe('EXR', () => {
  const picture = () => {
    const p = newPicture(40, 24);
    p.data.forEach((_, i) => (p.data[i] = i % 4 === 3 ? 0.5 : (i % 160) / 16));
    p.data.set([7.5, 0.25, -0.5, 1], 0);
    return p;
  };
  test('of half floats, written here: values above 1 and below 0 and the alpha come back', async () => {
    writeFileSync(at('a.exr'), await exrBytes(picture(), true));
    const info = await probe(at('a.exr'));
    expect(info).toMatchObject({
      width: 40,
      height: 24,
      alpha: true,
      bitDepth: 32,
      transfer: 'linear',
      primaries: 'rec709',
      premultiplied: true,
    });
    const [codes] = await all(at('a.exr'));
    expect(codes!.channels).toBe(4);
    expect(pixel(codes!, 0, 0)).toEqual([7.5, 0.25, -0.5, 1]);
    expect(pixel(codes!, 9, 3)).toEqual([2.25, 2.3125, 2.375, 0.5]);
  });
  test('of floats, of another program, in every compression that it writes', async () => {
    for (const compression of ['none', 'rle', 'zip1', 'zip16']) {
      ffmpeg(
        '-f',
        'lavfi',
        '-i',
        'color=c=0x804020:s=32x20',
        '-frames:v',
        '1',
        '-vf',
        'format=gbrpf32le,lutrgb',
        '-compression',
        compression,
        '-format',
        'float',
        at('f.exr'),
      );
      const info = await probe(at('f.exr')),
        [codes] = await all(at('f.exr'));
      expect(info).toMatchObject({ alpha: false, bitDepth: 32, codec: 'exr' });
      pixel(codes!, 5, 5).forEach((v, i) => expect(Math.abs(v - [128, 64, 32][i]! / 255)).toBeLessThan(0.01));
    }
  });
  test('is refused in words where it is deep, in parts, broken off or of nothing', async () => {
    const bytes = await exrBytes(picture(), false),
      changed = (change: (b: Buffer) => Buffer | void) => {
        const copy = Buffer.from(bytes);
        writeFileSync(at('b.exr'), change(copy) ?? copy);
        return probe(at('b.exr'));
      };
    await expect(changed((b) => void b.writeUInt32LE(0x802, 4))).rejects.toThrow('b.exr: it holds deep pixels');
    await expect(changed((b) => void b.writeUInt32LE(0x1002, 4))).rejects.toThrow('several parts');
    await expect(changed((b) => b.subarray(0, 60))).rejects.toThrow('header breaks off');
    await expect(changed((b) => void b.write('Q', b.indexOf('R\0')))).rejects.toThrow('no red, green and blue; its channels are B, G, Q');
    const half = bytes.subarray(0, bytes.length >> 1);
    writeFileSync(at('h.exr'), half);
    await expect(all(at('h.exr'))).rejects.toThrow(/breaks off|damaged|broken/);
  });
  test('a sequence of them with a gap: the one before stands there, and it is told', async () => {
    const place = at('seq');
    mkdirSync(place);
    for (const n of [1001, 1002, 1005]) {
      const p = picture();
      p.data[0] = n;
      writeFileSync(join(place, `plate.${n}.exr`), await exrBytes(p, false));
    }
    const info = await probe(place);
    expect(info).toMatchObject({ frames: 5, kind: 'sequence', missing: [[2, 3]] });
    expect(info.notes!.join(' ')).toContain('leave out 2 of 5 pictures (3 to 4)');
    expect((await all(place)).map((c) => c.data[0])).toEqual([1001, 1002, 1002, 1002, 1005].map((n) => Math.fround(n)));
    const store = new FrameStore(at('store')),
      hash = createHash('sha256').update('seq').digest('hex'),
      stored = await store.add(hash, place, info);
    expect(stored).toMatchObject({ frames: 5, bitDepth: 32, missing: [[2, 3]] });
    const kept = await store.codes(hash, 4);
    expect(kept.data).toBeInstanceOf(Float32Array);
    expect(kept.data[0]).toBe(1005);
    // More numbers missing than a gap leaves.
    copyFileSync(join(place, 'plate.1001.exr'), join(place, 'plate.9000.exr'));
    await expect(probe(place)).rejects.toThrow('too many are missing');
  });
});

test('a TIFF of floats keeps them', async () => {
  // TIFF 6.0, by hand: one strip of 16 x 8 pixels of three floats (sample format 3).
  const data = Float32Array.from({ length: 16 * 8 * 3 }, (_, i) => i / 20 - 1),
    entries: [number, number, number, number][] = [
      ...([
        [256, 3, 1, 16],
        [257, 3, 1, 8],
        [258, 3, 3, 134],
        [259, 3, 1, 1],
        [262, 3, 1, 2],
        [273, 4, 1, 200],
      ] as [number, number, number, number][]),
      ...([
        [277, 3, 1, 3],
        [278, 3, 1, 8],
        [279, 4, 1, data.byteLength],
        [339, 3, 3, 140],
      ] as [number, number, number, number][]),
    ],
    head = Buffer.alloc(200);
  head.write('II*\0', 'latin1');
  head.writeUInt32LE(8, 4);
  head.writeUInt16LE(entries.length, 8);
  entries.forEach(([tag, type, count, value], i) => {
    head.writeUInt16LE(tag, 10 + 12 * i);
    head.writeUInt16LE(type, 12 + 12 * i);
    head.writeUInt32LE(count, 14 + 12 * i);
    head.writeUInt32LE(value, 18 + 12 * i);
  });
  [32, 32, 32, 3, 3, 3].forEach((v, i) => head.writeUInt16LE(v, 134 + 2 * i));
  writeFileSync(at('x.tif'), Buffer.concat([head, Buffer.from(data.buffer)]));
  expect(await probe(at('x.tif'))).toMatchObject({ width: 16, height: 8, bitDepth: 32, transfer: 'linear' });
  const [codes] = await all(at('x.tif'));
  expect(codes!.data).toEqual(data);
});

test('a picture in Display P3 keeps its codes, and says its primaries', async () => {
  const data = Buffer.alloc(8 * 8 * 3, 0);
  for (let i = 0; i < data.length; i += 3) data[i] = 255;
  await sharp(data, { raw: { width: 8, height: 8, channels: 3 } })
    .withIccProfile('p3')
    .png()
    .toFile(at('p3.png'));
  const info = await probe(at('p3.png'));
  expect(info.primaries).toBe('p3-d65');
  const [kept] = await all(at('p3.png')),
    [turned] = await all(at('p3.png'), { ...info, primaries: 'rec709' });
  // Read as it is it is the code of the file; turned into sRGB by the library it would have been cut.
  expect(pixel(kept!, 3, 3)).not.toEqual(pixel(turned!, 3, 3));
});

describe('films say their colours', () => {
  test.each([
    ['bt709', 'bt709', 'rec709', 'rec709'],
    ['bt2020', 'smpte2084', 'rec2020', 'pq'],
    ['smpte432', 'iec61966-2-1', 'p3-d65', 'srgb'],
    ['bt2020', 'bt2020-10', 'rec2020', 'rec709'],
  ])('%s and %s', async (primaries, transfer, ownPrimaries, ownTransfer) => {
    const path = at(`${primaries}-${transfer}.mp4`);
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=64x48:r=24',
      '-frames:v',
      '2',
      '-c:v',
      'libx264',
      '-pix_fmt',
      'yuv420p',
      '-color_primaries',
      primaries,
      '-color_trc',
      transfer,
      path,
    );
    expect(await probe(path)).toMatchObject({ primaries: ownPrimaries, transfer: ownTransfer });
  });
});

test.each([
  ['mp4', 'libx264', 'yuv420p', false, 8],
  ['mp4', 'libx264', 'yuv422p10le', false, 16],
  ['mkv', 'ffv1', 'yuv444p12le', false, 16],
  ['mkv', 'ffv1', 'rgba', true, 8],
  ['mov', 'prores_ks', 'yuva444p10le', true, 16],
  ['webm', 'libvpx-vp9', 'yuva420p', true, 8],
  ['webm', 'libvpx', 'yuva420p', true, 8],
  ['mkv', 'libsvtav1', 'yuv420p', false, 8],
  ['avi', 'mjpeg', 'yuvj420p', false, 8],
  ['mov', 'dnxhd', 'yuv422p', false, 8],
  ['gif', 'gif', 'rgb8', true, 8],
  ['apng', 'apng', 'rgba', true, 8],
])('%s with %s in %s is read', async (ending, codec, pixels, alpha, bits) => {
  const path = at(`${codec}-${pixels}.${ending}`),
    size = codec === 'dnxhd' ? '1280x720' : '66x64',
    own =
      codec === 'dnxhd'
        ? ['-b:v', '90M']
        : codec === 'libsvtav1'
          ? ['-preset', '10']
          : codec === 'libvpx'
            ? ['-auto-alt-ref', '0']
            : codec === 'apng'
              ? ['-plays', '0']
              : [];
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    `testsrc2=s=${size}:r=25`,
    '-frames:v',
    '3',
    '-c:v',
    codec,
    '-pix_fmt',
    pixels,
    '-strict',
    '-1',
    ...own,
    path,
  );
  const info = await probe(path),
    frames = await all(path);
  expect(info).toMatchObject({ width: Number(size.split('x')[0]), frames: 3, bitDepth: bits });
  expect(info.alpha).toBe(alpha);
  expect(frames).toHaveLength(3);
  expect(frames[0]!.channels).toBe(alpha ? 4 : 3);
  expect(frames[0]!.data.length).toBe(info.width * info.height * frames[0]!.channels);
});

describe('alpha', () => {
  /** A soft disc of a light colour. */
  const disc = (multiplied: boolean, colour = [220, 180, 90]) => {
    const data = Buffer.alloc(64 * 64 * 4);
    for (let y = 0, i = 0; y < 64; y++)
      for (let x = 0; x < 64; x++, i += 4) {
        const a = Math.max(0, Math.min(1, (26 - Math.sqrt((x - 32) ** 2 + (y - 32) ** 2)) / 8));
        for (let c = 0; c < 3; c++) data[i + c] = Math.round(colour[c]! * (multiplied ? a : 1));
        data[i + 3] = Math.round(255 * a);
      }
    return data;
  };
  test.each([
    [true, [220, 180, 90], true],
    [false, [220, 180, 90], undefined],
    [true, [20, 20, 20], undefined],
  ] as const)('multiplied %s, of colour %j: told apart where it can be', async (multiplied, colour, told) => {
    const path = at(`disc-${multiplied}-${colour[0]}.png`);
    await sharp(disc(multiplied, [...colour]), { raw: { width: 64, height: 64, channels: 4 } })
      .png()
      .toFile(path);
    const stored = await new FrameStore(at('discs')).add(createHash('sha256').update(path).digest('hex'), path, await probe(path));
    expect(stored.premultiplied).toBe(told);
    expect((stored.notes ?? []).join().includes('multiplied with their alpha')).toBe(told === true);
  });
});

test('a table for colours is a medium of floats', async () => {
  writeFileSync(
    at('log.cube'),
    'TITLE "log"\nLUT_3D_SIZE 2\nDOMAIN_MAX 2 2 2\n' + Array.from({ length: 8 }, (_, i) => `${i} ${i / 2} ${i / 4}`).join('\n'),
  );
  const info = await probe(at('log.cube'));
  expect(info).toMatchObject({ kind: 'table', width: 2, height: 4, domain: { low: [0, 0, 0], high: [2, 2, 2], curves: false } });
  expect([...(await all(at('log.cube')))[0]!.data.slice(3, 6)]).toEqual([1, 0.5, 0.25]);
  writeFileSync(at('bad.cube'), 'LUT_3D_SIZE 2\n0 0 0\n');
  await expect(probe(at('bad.cube'))).rejects.toThrow('bad.cube: it breaks off after 1 of 8 values');
});
