import { execFileSync } from 'node:child_process';
import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Codes } from '@wraithos/core/image';
import { BlobStore } from './blobs';
import { decode } from './decode';
import { FrameStore } from './frameStore';
import { hashMedium, probe } from './probe';
import { orderSequence } from './sequence';
import { filmWriters } from './films';
import { writePng } from './write';

let folder = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'wraithos-runtime-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));
const at = (name: string) => join(folder, name);
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
async function all(path: string): Promise<Codes[]> {
  const out: Codes[] = [];
  for await (const frame of decode(path, await probe(path))) out.push(frame);
  return out;
}
const noise16 = (n: number) => Uint16Array.from({ length: n }, (_, i) => (i * 40503 + 12345) % 65536);

describe('what a medium is', () => {
  test('a still of 16 bit, with and without alpha', async () => {
    await sharp(noise16(8 * 6 * 4), { raw: { width: 8, height: 6, channels: 4 } })
      .toColourspace('rgb16')
      .png()
      .toFile(at('deep.png'));
    expect(await probe(at('deep.png'))).toMatchObject({
      width: 8,
      height: 6,
      frames: 1,
      alpha: true,
      bitDepth: 16,
      codec: 'png',
      kind: 'still',
      transfer: 'srgb',
    });
  });
  test('films: rate as a fraction, depth, alpha, transfer by their own tags', async () => {
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=size=32x18:rate=24000/1001',
      '-frames:v',
      '7',
      '-c:v',
      'libx264',
      '-pix_fmt',
      'yuv420p10le',
      '-color_trc',
      'bt709',
      at('ten.mp4'),
    );
    expect(await probe(at('ten.mp4'))).toMatchObject({
      width: 32,
      height: 18,
      frames: 7,
      frameRate: { num: 24000, den: 1001 },
      bitDepth: 16,
      alpha: false,
      transfer: 'rec709',
      kind: 'video',
    });
    ffmpeg('-f', 'lavfi', '-i', 'color=c=red@0.5:size=32x18,format=yuva420p', '-frames:v', '4', '-c:v', 'libvpx-vp9', at('see.webm'));
    expect(await probe(at('see.webm'))).toMatchObject({ frames: 4, alpha: true, codec: 'vp9' });
    const frames = await all(at('see.webm'));
    expect([frames.length, frames[0]!.channels]).toEqual([4, 4]);
    expect(Math.abs(frames[0]!.data[3]! - 128)).toBeLessThan(4);
  });
  test('a film that lies on its side is turned as it says, with its own sides', async () => {
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=size=64x36:rate=24',
      '-frames:v',
      '3',
      '-c:v',
      'libx264',
      '-qp',
      '0',
      '-pix_fmt',
      'yuv444p',
      at('flat.mp4'),
    );
    ffmpeg('-i', at('flat.mp4'), '-c', 'copy', '-metadata:s:v:0', 'rotate=90', at('turned.mp4'));
    expect(await probe(at('turned.mp4'))).toMatchObject({ width: 36, height: 64, notes: ['It was turned by 90°, as its file says.'] });
    const [flat] = await all(at('flat.mp4')),
      [turned] = await all(at('turned.mp4'));
    expect([turned!.width, turned!.height]).toEqual([36, 64]);
    // What was at the left is at the top now, or at the bottom; nothing is sheared.
    const seen = (x: number, y: number) => [...turned!.data.subarray((y * 36 + x) * 3, (y * 36 + x) * 3 + 3)],
      lay = (x: number, y: number) => [...flat!.data.subarray((y * 64 + x) * 3, (y * 64 + x) * 3 + 3)],
      ways = [(x: number, y: number) => lay(63 - y, x), (x: number, y: number) => lay(y, 35 - x)];
    const off = ways.map((way) => {
      let sum = 0;
      for (let y = 0; y < 64; y++) for (let x = 0; x < 36; x++) way(x, y).forEach((v, c) => (sum += Math.abs(v - seen(x, y)[c]!)));
      return sum;
    });
    expect(Math.min(...off)).toBe(0);
  });
  test('interlaced fields become whole pictures; a rate that varies is made steady; sound is told of', async () => {
    ffmpeg(
      ...['-f', 'lavfi', '-i', 'testsrc2=size=64x36:rate=50', '-vf', 'interlace', '-frames:v', '6', '-c:v', 'libx264'],
      ...['-flags', '+ilme+ildct', '-x264opts', 'tff=1', '-pix_fmt', 'yuv420p', at('lace.mp4')],
    );
    expect(await probe(at('lace.mp4'))).toMatchObject({ frames: 6, notes: ['Its interlaced fields were made whole pictures.'] });
    expect(await all(at('lace.mp4'))).toHaveLength(6);
    ffmpeg(
      ...['-f', 'lavfi', '-i', 'testsrc2=size=64x36:rate=24', '-frames:v', '24'],
      ...[
        '-vf',
        "setpts='if(lt(N,12),N,12+(N-12)*3)/(24*TB)'",
        '-fps_mode',
        'vfr',
        '-c:v',
        'libx264',
        '-pix_fmt',
        'yuv420p',
        at('vary.mp4'),
      ],
    );
    const vary = await probe(at('vary.mp4'));
    expect(vary).toMatchObject({ frameRate: { num: 24, den: 1 }, notes: ['Its rate varies; it was made steady at 24 frames a second.'] });
    // Half a second of single frames, and 12 that stand for three frames each.
    expect(Math.abs((await all(at('vary.mp4'))).length - 46)).toBeLessThanOrEqual(3);
    ffmpeg(
      ...[
        '-f',
        'lavfi',
        '-i',
        'testsrc2=size=64x36:rate=24',
        '-f',
        'lavfi',
        '-i',
        'sine',
        '-t',
        '0.2',
        '-c:v',
        'libx264',
        '-pix_fmt',
        'yuv420p',
      ],
      at('loud.mp4'),
    );
    expect((await probe(at('loud.mp4'))).notes).toEqual(['Its sound is not read.']);
  });
  test('a numbered sequence in a folder, ordered by number; two sequences or none are told', async () => {
    expect(orderSequence(['a.10.png', 'a.9.png', 'a.1.png', 'notes.txt'])).toEqual([
      { name: 'a.1.png', frame: 0 },
      { name: 'a.9.png', frame: 8 },
      { name: 'a.10.png', frame: 9 },
    ]);
    expect(() => orderSequence(['a1.png', 'b2.png'])).toThrow('more than one sequence');
    expect(() => orderSequence(['a.png', 'a2.png'])).toThrow('carry no number');
    await mkdir(at('none'));
    await expect(probe(at('none'))).rejects.toThrow('none: there is no numbered sequence of pictures in it');
    await expect(probe(at('nowhere.mp4'))).rejects.toThrow('nowhere.mp4: there is no such file or folder');
  });
});

describe('codes are what the file says', () => {
  test('16-bit PNG written and read again is the same, to the code', async () => {
    const codes = noise16(13 * 7 * 3);
    await writePng(at('same.png'), codes, 13, 7, 3);
    expect((await all(at('same.png')))[0]!.data).toEqual(codes);
  });
  test('8-bit grey and RGB likewise; files appear whole or not at all', async () => {
    const grey = Uint8Array.from({ length: 35 }, (_, i) => i * 7);
    await writePng(at('grey.png'), grey, 7, 5, 1);
    expect([...(await sharp(at('grey.png')).toColourspace('b-w').raw().toBuffer())]).toEqual([...grey]);
    await expect(writePng(at('no/such/folder.png'), grey, 7, 5, 1)).rejects.toThrow();
    expect((await readdir(folder)).filter((n) => n.startsWith('.part'))).toEqual([]);
  });
  test('a lossless film gives back its frames exactly', async () => {
    const raw = Buffer.from(Uint8Array.from({ length: 16 * 10 * 3 * 3 }, (_, i) => (i * 37) % 251));
    await writeFile(at('in.rgb'), raw);
    ffmpeg('-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', '16x10', '-i', at('in.rgb'), '-c:v', 'ffv1', '-pix_fmt', 'gbrp', at('exact.mkv'));
    const frames = await all(at('exact.mkv'));
    expect(Buffer.concat(frames.map((f) => Buffer.from(f.data as Uint8Array))).equals(raw)).toBe(true);
  });
});

describe('the frame store', () => {
  test('holds a medium by its content, frame by frame, across its chunks', async () => {
    await mkdir(at('seq'));
    for (let i = 1; i <= 30; i++)
      await sharp({ create: { width: 5, height: 4, channels: 3, background: { r: i, g: 2 * i, b: 0 } } })
        .png()
        .toFile(at(`seq/f${String(i).padStart(4, '0')}.png`));
    const store = new FrameStore(at('store')),
      hash = await hashMedium(at('seq')),
      counts: number[] = [];
    const info = await store.add(hash, at('seq'), await probe(at('seq')), (n) => counts.push(n));
    expect([info.frames, info.channels, counts.length]).toEqual([30, 3, 30]);
    for (const f of [0, 23, 24, 29]) expect([...(await store.codes(hash, f)).data.slice(0, 3)]).toEqual([f + 1, 2 * f + 2, 0]);
    await expect(store.codes(hash, 30)).rejects.toThrow('it has no frame 30; it ends at 29');
    await expect(store.info('0'.repeat(64))).rejects.toThrow('bring the file in again');
    await expect(store.info('../../etc')).rejects.toThrow('not the name of a medium');
    await store.remove(hash);
    expect(await store.has(hash)).toBe(false);
  });
  test('nothing is left behind when it is stopped or the file breaks off', async () => {
    const store = new FrameStore(at('store2'));
    ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=320x180:rate=24', '-frames:v', '300', '-c:v', 'mpeg4', at('long.mp4'));
    const stop = new AbortController();
    const work = store.add(
      'a'.repeat(64),
      at('long.mp4'),
      await probe(at('long.mp4')),
      (n) => {
        if (n === 5) stop.abort();
      },
      stop.signal,
    );
    await expect(work).rejects.toThrow('cancelled');
    expect(await readdir(at('store2'))).toEqual([]);
  });
});

test('a WebM of numbered pictures has their count, rate and size', async () => {
  await mkdir(at('pictures'));
  for (let i = 0; i < 6; i++)
    await sharp({ create: { width: 64, height: 36, channels: 3, background: { r: 40 * i, g: 0, b: 0 } } })
      .png()
      .toFile(at(`pictures/${1001 + i}.png`));
  await filmWriters.webm(
    at('film.webm'),
    Array.from({ length: 6 }, (_, i) => at(`pictures/${1001 + i}.png`)),
    { num: 25, den: 1 },
  );
  expect(await probe(at('film.webm'))).toMatchObject({ width: 64, height: 36, frames: 6, frameRate: { num: 25, den: 1 }, codec: 'vp9' });
  await expect(filmWriters.webm(at('none.webm'), [at('pictures/0005.png')], { num: 25, den: 1 })).rejects.toThrow();
  expect((await readdir(folder)).filter((n) => n.includes('none.webm') || n.startsWith('.part'))).toEqual([]);
});

test('track samples are kept by content, and only what is valid comes back', async () => {
  const blobs = new BlobStore(at('blobs')),
    samples = [{ frame: 0, x: 1.5, y: 2, rotation: 0, scale: 1, confidence: 1, state: 'keyed' as const }];
  const hash = await blobs.put(samples);
  expect(await blobs.put(samples)).toBe(hash);
  expect(await blobs.get(hash)).toEqual(samples);
  await writeFile(join(at('blobs'), `${'1'.repeat(64)}.json`), JSON.stringify([{ frame: 0, x: 'left' }]));
  await expect(blobs.get('1'.repeat(64))).rejects.toThrow();
  await expect(blobs.get('../blobs')).rejects.toThrow('not the name of track samples');
  expect(JSON.parse(await readFile(join(at('blobs'), `${hash}.json`), 'utf8'))).toEqual(samples);
});

test('a decoder that somebody ends says nothing of the medium; one that is told too much by it does', async () => {
  const { run, MediaError } = await import('./ffmpeg');
  await expect(run('sh', ['-c', 'kill -KILL $$'])).rejects.not.toBeInstanceOf(MediaError);
  await expect(run('sh', ['-c', 'kill -SEGV $$'])).rejects.toThrow(new MediaError('the decoder broke on it'));
  await expect(run('sh', ['-c', 'kill -XCPU $$'])).rejects.toThrow(new MediaError('it took too long to read'));
  await expect(run('yes', [], { mostBytes: 1000 })).rejects.toThrow(new MediaError('it says more about itself than can be read'));
});

test('a store that is limited lets go of what was used least recently, and never of what is in use', async () => {
  const store = new FrameStore(at('limited')),
    picture = (n: number) =>
      sharp({ create: { width: 64, height: 64, channels: 3, background: { r: n, g: 0, b: 0 } } })
        .png()
        .toFile(at(`limit${n}.png`));
  const hashes: string[] = [];
  for (const n of [1, 2, 3]) {
    await picture(n);
    const hash = await hashMedium(at(`limit${n}.png`));
    await store.add(hash, at(`limit${n}.png`), await probe(at(`limit${n}.png`)));
    hashes.push(hash);
    await new Promise((resolve) => setTimeout(resolve, 15));
  }
  await store.touch(hashes[0]!);
  const each = 64 * 64 * 3 + 400;
  await store.limitTo(2 * each, new Set());
  expect((await store.list()).sort()).toEqual([hashes[0]!, hashes[2]!].sort());
  await store.limitTo(0, new Set([hashes[2]!]));
  expect(await store.list()).toEqual([hashes[2]]);
});
