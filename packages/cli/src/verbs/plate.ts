import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { cameras, type Camera } from '@wraithos/core/plate';
import { Arena, decodeAs, holdCodes } from '@wraithos/core/image';
import { bandThreads, computingThreads, frameName, openMedium, plateOf, writeExr, writePng } from '@wraithos/runtime';
import { needed, pathOf, progress, progressEnd, UsageError, type Verb } from '../command';

const CAMERAS = ['measured', 'still', 'shift', 'turn', 'free'] as const;
/** "A-B" or "A,B,C" (both may be mixed) as numbers of frames, counted from 0. */
function framesOption(text: string, count: number): number[] {
  const out: number[] = [];
  for (const part of text.split(',')) {
    const range = /^(\d+)(?:-(\d+))?$/.exec(part.trim()),
      from = Number(range?.[1]),
      to = Number(range?.[2] ?? range?.[1]);
    if (!range || to < from) throw new UsageError(`--frames wants frames such as 0-40 or 3,9,20-30, not "${text}".`);
    if (to >= count) throw new UsageError(`--frames: the clip has frames 0 to ${count - 1}, and ${to} is none of them.`);
    for (let f = from; f <= to; f++) out.push(f);
  }
  return out;
}
const grey = (data: ArrayLike<number>, i: number, channels: number): number => data[i * channels]!;

export const plate: Verb = {
  name: 'plate',
  usage: '<clip> --out clean.png|DIR [--frames 0-95] [--exclude MATTE] [--camera measured] [--flicker kept] [--grain kept] [--unsure FILE]',
  about:
    'Builds a clean plate from the moving shot: what stands behind whoever moves. The drift of the camera and the flicker of the light are taken out first. A folder gets a plate for each frame, with its drift and light put back; a file gets one plate.',
  options: {
    out: {
      type: 'string',
      value: 'FILE|DIR',
      about: 'Name of the picture (.png, or .exr for values above white), or a folder for a plate of each frame; needed.',
    },
    frames: { type: 'string', value: 'A-B', about: 'Frames that are looked at, counted from 0, such as 0-40 or 3,9,20-30.', usual: 'all' },
    exclude: {
      type: 'string',
      value: 'MATTE',
      about: 'A matte of what is left out, as grey pictures of the same size: one for each frame, or one for all.',
    },
    camera: {
      type: 'string',
      value: CAMERAS.join('|'),
      about: 'What the camera does: stands still, shifts, also turns and zooms, or moves freely.',
      usual: 'measured',
    },
    flicker: { type: 'string', value: 'evened|kept', about: 'Whether the light of the frames is evened out.', usual: 'evened' },
    grain: { type: 'string', value: 'none|kept', about: 'Grain of one frame on the plate, or none.', usual: 'none' },
    unsure: { type: 'string', value: 'FILE', about: 'Where little is known, as a grey picture (.png): white is unsure.' },
  },
  positionals: [1, 1],
  async run(given) {
    const values = given.values as Record<string, string | undefined>,
      out = pathOf(needed(given, 'out')),
      { camera = 'measured', flicker = 'evened', grain = 'none' } = values,
      which = CAMERAS.indexOf(camera as (typeof CAMERAS)[number]);
    if (which < 0) throw new UsageError(`--camera wants ${CAMERAS.join(', ')}, not "${camera}".`);
    if (flicker !== 'evened' && flicker !== 'kept') throw new UsageError(`--flicker wants evened or kept, not "${flicker}".`);
    if (grain !== 'none' && grain !== 'kept') throw new UsageError(`--grain wants none or kept, not "${grain}".`);
    if (values.unsure !== undefined && !values.unsure.endsWith('.png')) throw new UsageError('--unsure wants a .png file.');
    const single = /\.(png|exr)$/.test(out),
      { store, hash, info } = await openMedium(pathOf(given.positionals[0]!)),
      use = values.frames === undefined ? undefined : framesOption(values.frames, info.frames),
      mask = values.exclude === undefined ? null : await openMedium(pathOf(values.exclude)),
      helpers = bandThreads(computingThreads() - 1);
    const floats = info.bitDepth === 32;
    if (floats && out.endsWith('.png'))
      throw new UsageError('The clip has values above white, which a .png cannot hold; name a .exr file or a folder.');
    if (mask && (mask.info.width !== info.width || mask.info.height !== info.height))
      throw new Error(`The matte is ${mask.info.width} x ${mask.info.height}, the clip ${info.width} x ${info.height}.`);
    if (mask && mask.info.frames !== 1 && mask.info.frames < info.frames)
      throw new Error(`The matte has ${mask.info.frames} frames, the clip ${info.frames}; it needs one, or as many.`);
    try {
      const built = await plateOf(
        store,
        hash,
        { camera: cameras[which] as Camera, flicker: flicker === 'evened', grain: grain === 'kept', use },
        {
          helpers,
          tell: (done, what) => progress(`${what}, ${Math.round(100 * done)} %`),
          covered: mask
            ? async (frame, columns, rows) => {
                const { data, width, height, channels, bits } = await mask.store.codes(mask.hash, mask.info.frames === 1 ? 0 : frame),
                  cells = new Float32Array(columns * rows),
                  side = Math.ceil(width / columns);
                for (let y = 0, i = 0; y < height; y++)
                  for (let x = 0; x < width; x++, i++) {
                    const cell = Math.floor(y / side) * columns + Math.floor(x / side);
                    cells[cell] = Math.max(cells[cell]!, grey(data, i, channels) / (bits === 8 ? 255 : 65535));
                  }
                return cells;
              }
            : undefined,
        },
      );
      const write = async (path: string, index: number) => {
        const made = await built.frame(index);
        if (!path.endsWith('.exr')) return writePng(path, made.data, made.width, made.height, made.channels);
        const arena = Arena.forShot(made.width, made.height),
          coding = { transfer: built.info.transfer, primaries: info.primaries ?? 'rec709', premultiplied: false };
        await writeExr(path, decodeAs(holdCodes(made, arena), coding, null, 1, arena), false);
      };
      if (single) await write(out, built.anchor);
      else {
        await mkdir(out, { recursive: true });
        for (let f = 0; f < built.count; f++) {
          await write(join(out, floats ? frameName(f).replace(/png$/, 'exr') : frameName(f)), f);
          progress(`writing ${f + 1} of ${built.count}`);
        }
      }
      if (values.unsure !== undefined) await writePng(pathOf(values.unsure), built.unsure, info.width, info.height, 1);
      progressEnd();
      const { frames, leftOut, drift, flicker: flickered, unsure, areas } = built.report;
      return {
        out: given.values.out,
        frames,
        leftOut,
        width: info.width,
        height: info.height,
        plates: single ? 1 : built.count,
        drift: Number(drift.toFixed(2)),
        flicker: Number(flickered.toFixed(2)),
        unsure: Number((100 * unsure).toFixed(3)),
        areas,
      };
    } finally {
      await helpers.close();
    }
  },
};
