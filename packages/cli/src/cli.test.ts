import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import type { TrackSample } from '@wraithos/core/motion';
import { addMatte, addOutline, applyEdit, refineMatte, setSourceValues, type Shot } from '@wraithos/core/shot';

const media = join(process.cwd(), 'packages', 'demo', 'media', 'TW_010');
let folder = '';
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'wraithos-cli-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** Runs `wraith` as a person does, standing in the test's folder. */
function wraith(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [join(process.cwd(), 'scripts', 'wraith.mjs'), ...args], {
    encoding: 'utf8',
    env: { ...process.env, INIT_CWD: folder, WRAITH_CACHE: join(folder, 'cache') },
  });
  return { status, json: () => JSON.parse(stdout) as Record<string, never>, stdout, error: stderr.trim() };
}
/** A short sequence: a bright square that moves 3 px a frame before a still wall, and the wall alone. */
async function sequence(): Promise<void> {
  const wall = (x: number, y: number) => 60 + ((x * 7 + y * 13) % 31);
  const draw = (left: number | null) => {
    const data = new Uint8Array(96 * 64 * 3);
    for (let y = 0; y < 64; y++)
      for (let x = 0; x < 96; x++) {
        const inside = left !== null && x >= left && x < left + 20 && y >= 20 && y < 44;
        data.set(
          inside
            ? [180 + (((x - left) * (y - 3) * 7) % 53), 110 + (((x - left) * 31 + y * 17) % 47), 40]
            : [wall(x, y), wall(x, y), wall(x, y)],
          (y * 96 + x) * 3,
        );
      }
    return sharp(data, { raw: { width: 96, height: 64, channels: 3 } }).png();
  };
  await mkdir(join(folder, 'take'));
  for (let f = 0; f < 12; f++) await draw(6 + 5 * f).toFile(join(folder, 'take', `take.${String(f).padStart(3, '0')}.png`));
  await draw(null).toFile(join(folder, 'clean.png'));
}

test('help, unknown verbs and bad use: words, and the right exit', () => {
  expect(wraith('--help')).toMatchObject({ status: 0, stdout: expect.stringContaining('wraith render <shot.json>') });
  for (const verb of ['new', 'probe', 'track', 'matte', 'plate', 'render', 'check'])
    expect(wraith(verb, '--help')).toMatchObject({ status: 0, stdout: expect.stringContaining(`wraith ${verb}`) });
  expect(wraith()).toMatchObject({ status: 2 });
  expect(wraith('paint')).toMatchObject({ status: 2, error: 'wraith: There is no verb "paint". See wraith --help.' });
  expect(wraith('bundle', 'x.json')).toMatchObject({ status: 2, error: 'wraith: There is no verb "bundle". See wraith --help.' });
  const help = wraith('track', '--help').stdout;
  expect(help).toMatch(/--pattern PX +Side of the box that is looked for, px, odd\. Otherwise: 41\./);
  expect(help).toMatch(/--at X,Y .*needed, but for a plane and the camera\./);
  expect(wraith('track', 'x.mp4')).toMatchObject({ status: 2, error: 'wraith: --at is needed.' });
  expect(wraith('track', 'x.mp4', '--at', '1,1', '--mode', 'cloud')).toMatchObject({
    status: 2,
    error: 'wraith: --mode wants point, pair, area, plane, colour, camera, face, not "cloud".',
  });
  expect(wraith('track', 'x.mp4', '--at', '1,1', '--area', '40')).toMatchObject({
    status: 2,
    error: expect.stringContaining('an odd number'),
  });
  expect(wraith('render', 'x.json', '--out', 'o', '--format', 'tiff')).toMatchObject({
    status: 2,
    error: 'wraith: --format wants png16, png, exr, webm, mp4, mov, sheet, not "tiff".',
  });
  expect(wraith('render', 'x.json', '--out', 'o', '--colour')).toMatchObject({ status: 2 });
  expect(wraith('probe', 'nowhere.mp4')).toMatchObject({ status: 1, error: 'wraith: nowhere.mp4: there is no such file or folder' });
  expect(wraith('check', 'nowhere.json').status).toBe(1);
});

describe('from media to a film', () => {
  beforeAll(sequence);
  test('probe', () => {
    expect(wraith('probe', 'take').json()).toEqual({
      width: 96,
      height: 64,
      frames: 12,
      frameRate: { num: 24, den: 1 },
      alpha: false,
      bitDepth: 8,
      codec: 'png',
    });
    expect(wraith('probe', join(media, 'performance.mp4')).json()).toMatchObject({ width: 1280, height: 720, frames: 96, codec: 'h264' });
  });
  test('track: one sample for every frame, each where the square went', () => {
    const result = wraith(
      'track',
      'take',
      '--at',
      '16,32',
      '--pattern',
      '21',
      '--search',
      '41',
      '--out',
      'track.json',
    ).json() as unknown as { mode: string; samples: { frame: number; x: number; y: number; state: string }[] };
    expect([result.mode, result.samples.length]).toEqual(['point', 12]);
    for (const s of result.samples) {
      expect([s.frame, s.state === 'good' || s.state === 'keyed']).toEqual([s.frame, true]);
      expect(Math.hypot(s.x - 16 - 5 * s.frame, s.y - 32)).toBeLessThan(0.3);
    }
    expect(existsSync(join(folder, 'track.json'))).toBe(true);
    const area = wraith('track', 'take', '--at', '16,32', '--mode', 'area', '--area', '31').json() as unknown as typeof result;
    expect([area.mode, area.samples.filter((s) => s.state === 'good').length]).toEqual(['area', 11]);
    for (const s of area.samples) expect(Math.hypot(s.x - 16 - 5 * s.frame, s.y - 32)).toBeLessThan(1);
    const pair = wraith('track', 'take', '--at', '16,32', '--to', '16,32', '--mode', 'pair', '--pattern', '21', '--search', '41').json();
    expect((pair as unknown as typeof result).samples.map((s) => Math.round(s.x / 5))).toEqual(
      result.samples.map((s) => Math.round(s.x / 5)),
    );
    const plane = wraith('track', 'take', '--mode', 'plane', '--corners', '6,12,60,12,60,52,6,52').json() as unknown as {
      samples: { state: string; corners?: number[][] }[];
    };
    expect(plane.samples[0]!.corners).toEqual([
      [6, 12],
      [60, 12],
      [60, 52],
      [6, 52],
    ]);
    for (const s of plane.samples) expect(s.corners === undefined).toBe(s.state === 'lost');
    for (const bad of ['6,12,60', '6,12,60,12,60,52,6,', '6,12,60,52,60,12,6,52'])
      expect(wraith('track', 'take', '--mode', 'plane', '--corners', bad).status).toBe(2);
  });
  test('ground: a floor by a rectangle of known size, its horizon and its scale', () => {
    const floor = wraith('ground', 'take', '--corners', '40,40,56,40,64,48,32,48', '--wide', '2', '--deep', '4').json() as unknown as {
      horizon: number[][];
      at: { metresPerPixel: number };
      middle: number[];
    };
    // Its near side is twice as long as its far side: the horizon is as far above the far side as that is above the near one.
    expect(floor.horizon).toEqual([
      [0, expect.closeTo(32, 6)],
      [96, expect.closeTo(32, 6)],
    ]);
    expect(floor.middle).toEqual([expect.closeTo(48, 6), expect.closeTo(42.6667, 3)]);
    expect(floor.at.metresPerPixel).toBeCloseTo(2 / (16 * (10.6667 / 8)), 3);
    expect(wraith('ground', 'take', '--corners', '0,0,9,0,18,0,0,9', '--wide', '2')).toMatchObject({ status: 2 });
    expect(wraith('ground', 'take', '--corners', '40,40,56,40,64,48,32,48')).toMatchObject({
      status: 2,
      error: 'wraith: --wide is needed.',
    });
  });
  test('track: a face is found by Chromium, with its parts and lids; beside it a sentence says so', () => {
    const face = join(folder, 'face.mp4');
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-y', '-i', join(process.cwd(), 'packages', 'demo', 'media', 'TW_025', 'performance.mp4')],
      ...['-frames:v', '2', '-c:v', 'libx264', '-crf', '14', face],
    ]);
    const found = wraith('track', face, '--mode', 'face', '--at', '676,350').json() as unknown as {
      samples: TrackSample[];
      parts: Record<string, TrackSample[]>;
      lids: Record<string, TrackSample[]>;
    };
    expect(found.samples.map((s) => [s.frame, s.state])).toEqual([
      [0, 'good'],
      [1, 'good'],
    ]);
    expect(Math.hypot(found.parts['left eye']![0]!.x! - 750, found.parts['left eye']![0]!.y! - 328)).toBeLessThan(6);
    expect(found.lids['right eye']![0]!.confidence).toBeGreaterThan(0.8);
    const none = wraith('track', face, '--mode', 'face', '--at', '100,100');
    expect([none.status, none.error]).toEqual([1, expect.stringMatching(/No face was found here/)]);
  }, 120_000);
  test('matte by difference and by chroma: 16-bit grey pictures', async () => {
    expect(wraith('matte', 'take', '--difference', 'clean.png', '--smooth', '0', '--out', 'mattes').json()).toEqual({
      out: 'mattes',
      frames: 12,
    });
    const files = await readdir(join(folder, 'mattes'));
    expect(files).toHaveLength(12);
    const meta = await sharp(join(folder, 'mattes', files[0]!)).metadata();
    expect([meta.depth, meta.channels, meta.width]).toEqual(['ushort', 1, 96]);
    const { data } = await sharp(join(folder, 'mattes', files[2]!))
      .toColourspace('grey16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    const values = new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2);
    expect([values[32 * 96 + 26], values[32 * 96 + 5], values[5 * 96 + 26]]).toEqual([65535, 0, 0]);
    expect(wraith('matte', 'take', '--chroma', '#3c3c3c', '--out', 'keyed').status).toBe(0);
    expect(wraith('matte', 'take', '--difference', 'clean.png', '--chroma', '#00b140', '--out', 'm').status).toBe(2);
    // The square is brighter than its wall.
    expect(wraith('matte', 'take', '--luma', '40,100', '--softness', '2', '--out', 'bright').status).toBe(0);
    expect(wraith('matte', 'take', '--colour', '#4d4d4d', '--out', 'flat').status).toBe(0);
    const middleOf = async (name: string) => {
      const read = await sharp(join(folder, name, files[2]!))
        .toColourspace('grey16')
        .raw({ depth: 'ushort' })
        .toBuffer();
      const codes = new Uint16Array(read.buffer, read.byteOffset, read.byteLength / 2);
      return [codes[32 * 96 + 26], codes[32 * 96 + 5]];
    };
    expect([await middleOf('bright'), await middleOf('flat')]).toEqual([
      [65535, 0],
      [0, 65535],
    ]);
    expect(wraith('matte', 'take', '--luma', '60,10', '--out', 'm').status).toBe(2);
  });
  test('matte of a document: all that it is made of as 16-bit grey, and its outlines as SVG', async () => {
    expect(wraith('new', '--performance', 'take', '--clean', 'clean.png', '--name', 'M1', '--out', 'mattes.json').status).toBe(0);
    const shot = JSON.parse(await readFile(join(folder, 'mattes.json'), 'utf8')) as Shot,
      made = [
        addMatte({ id: 'k1', name: 'Square', source: 'difference', clip: null }),
        setSourceValues('k1', { looks: 'each pixel that differs', smooth: 0 }),
        refineMatte('k1', { blur: { radius: 0 }, despeckle: { area: 0 } }),
        // Only its upper half.
        addOutline(
          'k1',
          'keep inside',
          [
            [0, 0],
            [96, 0],
            [96, 32],
            [0, 32],
          ],
          0,
        ),
      ].reduce((now, edit) => applyEdit(now, edit).shot, shot);
    await writeFile(join(folder, 'mattes.json'), JSON.stringify(made));
    expect(wraith('matte', 'mattes.json', '--matte', 'Square', '--out', 'half').json()).toEqual({ out: 'half', frames: 12 });
    const files = await readdir(join(folder, 'half')),
      read = await sharp(join(folder, 'half', files.sort()[2]!))
        .toColourspace('grey16')
        .raw({ depth: 'ushort' })
        .toBuffer(),
      codes = new Uint16Array(read.buffer, read.byteOffset, read.byteLength / 2);
    expect([codes[26 * 96 + 26], codes[38 * 96 + 26], codes[26 * 96 + 5]]).toEqual([65535, 0, 0]);
    expect(wraith('matte', 'mattes.json', '--matte', 'k1', '--outlines', '--out', 'lines').json()).toEqual({ out: 'lines', frames: 12 });
    const lines = await readdir(join(folder, 'lines'));
    expect(lines).toHaveLength(12);
    expect(await readFile(join(folder, 'lines', lines[0]!), 'utf8')).toContain('d="M0 0 L96 0 L96 32 L0 32 L0 0 Z"');
    expect(wraith('matte', 'mattes.json', '--matte', 'Hat', '--out', 'x')).toMatchObject({
      status: 2,
      error: expect.stringContaining('The shot has Square.'),
    });
  });
  test('plate: the wall without the square', async () => {
    expect(wraith('plate', 'take', '--out', 'built.png').status).toBe(0);
    const read = (name: string) => sharp(join(folder, name)).removeAlpha().raw().toBuffer();
    const built = await read('built.png'),
      clean = await read('clean.png');
    let off = 0;
    for (let i = 0; i < built.length; i++) if (built[i] !== clean[i]) off++;
    expect(off / built.length).toBeLessThan(0.001);
  });
  test('new, render and check: an idle shot is its plate; resuming keeps what is there', async () => {
    expect(wraith('new', '--performance', 'take', '--clean', 'clean.png', '--name', 'square', '--out', 'shot.json').json()).toMatchObject({
      code: 'square',
      frames: 12,
      first: 1001,
      last: 1012,
    });
    expect(
      wraith(
        'new',
        '--performance',
        'take',
        '--element',
        'clean.png',
        '--element',
        'take',
        '--background',
        'clean.png',
        '--out',
        'many.json',
      ).json(),
    ).toMatchObject({ clips: 4 });
    expect(
      wraith('render', 'many.json', '--frames', '1002', '--format', 'exr', '--alpha', 'premultiplied', '--out', 'exr').json(),
    ).toMatchObject({
      files: ['1002.exr'],
    });
    expect(wraith('render', 'shot.json', '--format', 'mp4', '--alpha', 'straight', '--out', 'x.mp4')).toMatchObject({
      status: 2,
      error: 'wraith: MP4 video (H.264) carries no alpha.',
    });
    expect(wraith('render', 'shot.json', '--only', 'row:r9', '--out', 'x')).toMatchObject({
      status: 1,
      error: expect.stringContaining('There is no pass "row:r9" in this shot. There are: all, base, effects'),
    });
    const done = wraith('render', 'shot.json', '--frames', '1003-1005', '--format', 'png', '--out', 'out').json();
    expect(done).toMatchObject({ frames: 3, kept: 0, first: 1003, files: ['1003.png', '1004.png', '1005.png'] });
    const read = (path: string) => sharp(join(folder, path)).removeAlpha().raw().toBuffer();
    expect((await read('out/1004.png')).equals(await read('take/take.003.png'))).toBe(true);
    expect(wraith('render', 'shot.json', '--frames', '1003-1006', '--format', 'png', '--resume', '--out', 'out').json()).toMatchObject({
      frames: 4,
      kept: 3,
    });
    expect(wraith('render', 'shot.json', '--scale', '1/2', '--frames', '1001', '--out', 'half').status).toBe(0);
    expect((await sharp(join(folder, 'half', '1001.png')).metadata()).width).toBe(48);
    expect(wraith('render', 'shot.json', '--frames', '990-995', '--out', 'x')).toMatchObject({
      status: 2,
      error: expect.stringContaining('--frames wants A-B within 1001-1012'),
    });
    expect(wraith('render', 'shot.json', '--format', 'webm', '--out', 'film.webm').status).toBe(0);
    expect(wraith('probe', 'film.webm').json()).toMatchObject({ frames: 12, width: 96, height: 64, codec: 'vp9' });
    expect((await readdir(folder)).filter((n) => n.startsWith('.wraith-'))).toEqual([]);
  });
  test('check points at what is wrong, and a broken document is told where', async () => {
    const shot = JSON.parse(await readFile(join(folder, 'shot.json'), 'utf8')) as {
      clips: Record<string, unknown>;
      rows: Record<string, unknown>;
      subjects: Record<string, unknown>;
    };
    expect(wraith('check', 'shot.json').json()).toEqual([]);
    shot.subjects = {
      s1: {
        id: 's1',
        name: 'Square',
        clip: 'c1',
        matte: null,
        traces: null,
        mount: null,
        order: 'a0',
        metres: 1,
        pixels: 24,
        detached: false,
        placed: { values: {}, curves: {} },
      },
    };
    shot.rows = {
      r1: {
        id: 'r1',
        name: 'Gone',
        effect: 'dissolve',
        version: 1,
        lane: 'on',
        subject: 's1',
        order: 'a0',
        muted: false,
        solo: false,
        opacity: 100,
        blend: 'normal',
        cue: null,
        start: 1001,
        length: 12,
        curveTiming: 'from its start',
        gate: null,
        mount: null,
        aim: null,
        clip: null,
        matte: null,
        source: null,
        under: null,
        group: null,
        twins: [],
        strokes: [],
        pattern: null,
        treatments: [],
        values: {},
        curves: {},
      },
    };
    delete shot.clips.c2;
    await writeFile(join(folder, 'shot2.json'), JSON.stringify(shot));
    expect((wraith('check', 'shot2.json').json() as unknown as { id: string }[]).map((c) => c.id)).toEqual([
      'no-clean-plate',
      'no-matte',
      'row-idle',
    ]);
    await writeFile(join(folder, 'broken.json'), JSON.stringify({ ...shot, last: 5 }));
    expect(wraith('check', 'broken.json')).toMatchObject({
      status: 1,
      error: 'wraith: The shot document is not valid at last: The last frame comes before the first.',
    });
    await writeFile(join(folder, 'letter.json'), 'Dear harbour');
    expect(wraith('render', 'letter.json', '--out', 'x').error).toMatch(/this is not a shot document/);
  });
});
