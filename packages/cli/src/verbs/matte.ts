import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Arena, decodeAs, holdCodes, type Picture, type Plane } from '@wraithos/core/image';
import {
  chromaMatte,
  colourArea,
  differenceMatte,
  lumaMatte,
  newRefinement,
  refined,
  refinementsAt,
  svgOfOutlines,
} from '@wraithos/core/matte';
import { framesOf, loadTracks, outlineAt } from '@wraithos/core/render';
import { clipFrame, matteClip, type Matte, type Shot } from '@wraithos/core/shot';
import { fileSources, frameName, matteCodes, openMedium, renderRun, writePng } from '@wraithos/runtime';
import { openShot } from './render';
import { needed, numberOption, pathOf, progress, progressEnd, UsageError, type Verb } from '../command';

const text = (value: string, about: string, usual?: string) => ({ type: 'string' as const, value, about, usual });
/** A frame of a medium as light, as its file says that it is meant. */
async function lightOf({ store, hash, info }: Awaited<ReturnType<typeof openMedium>>, frame: number, arena: Arena): Promise<Picture> {
  const codes = holdCodes(await store.codes(hash, frame), arena),
    coding = { transfer: info.transfer, primaries: info.primaries ?? 'rec709', premultiplied: info.premultiplied ?? false } as const,
    out = decodeAs(codes, coding, null, 1, arena);
  arena.give(codes.bytes);
  return out;
}

/** The matte of a document that is called so, by its name or its id. */
function namedMatte(shot: Shot, name: string): Matte {
  const found = shot.mattes[name] ?? Object.values(shot.mattes).find((m) => m.name === name);
  if (!found)
    throw new UsageError(
      `There is no matte "${name}". The shot has ${
        Object.values(shot.mattes)
          .map((m) => m.name)
          .join(', ') || 'none'
      }.`,
    );
  return found;
}
/** The outlines of a matte as an SVG file for each frame of the shot. */
async function writeOutlines(shot: Shot, made: Matte, path: string, out: string): Promise<void> {
  const mounts = framesOf(shot, await loadTracks(shot, fileSources(path))),
    clip = matteClip(shot, made),
    { width, height } = clip ?? shot;
  for (let frame = shot.first; frame <= shot.last; frame++) {
    const at = clip ? clipFrame(shot, clip, frame) : frame,
      outlines = made.outlines.map((o) => ({ name: o.name, mode: o.mode, vertices: outlineAt(o, at, mounts).vertices }));
    await writeFile(join(out, frameName(frame).replace(/\.png$/, '.svg')), svgOfOutlines(width, height, outlines));
  }
}
/** Every frame of a document's matte, with all of its sources, outlines and refinements. */
async function fromDocument(path: string, name: string, out: string, outlines: boolean): Promise<number> {
  const shot = await openShot(path),
    made = namedMatte(shot, name),
    frames = Array.from({ length: shot.last - shot.first + 1 }, (_, i) => shot.first + i);
  await mkdir(out, { recursive: true });
  if (outlines) {
    if (!made.outlines.length) throw new Error(`${made.name} has no outlines.`);
    await writeOutlines(shot, made, path, out);
  } else
    await renderRun(shot, fileSources(path), frames, out, {
      bits: 16,
      alpha: 'none',
      only: `matte:${made.id}`,
      factor: 1,
      resume: false,
      onFrame: (frame) => progress(`frame ${frame}`),
    });
  progressEnd();
  return frames.length;
}

export const matte: Verb = {
  name: 'matte',
  usage:
    "<shot.json> --matte NAME [--outlines] --out DIR | <clip> --difference clean.png | --chroma '#00b140' | --luma 60,100 | --colour '#d9f06a' [--threshold 5] [--softness 3] [--tolerance 30] [--smooth 3] [--shadow kept|dropped] [--grow 0] [--blur 0] [--despeckle 0] [--fill-holes 0] --out DIR",
  about:
    'Makes a matte of every frame as 16-bit grey PNG files: one of a shot, with all that it is made of, or one of a clip. Threshold and softness in percent, lengths in pixels, areas in square pixels.',
  options: {
    matte: text('NAME', 'Name or id of the matte of a shot document.'),
    outlines: { type: 'boolean' as const, about: 'With --matte: the outlines alone, as an SVG file for each frame.' },
    difference: text('FILE', 'Clean plate: whatever differs from it is in the matte.'),
    chroma: text('#RRGGBB', 'Colour of the backing: whatever is of another colour is in the matte.'),
    luma: text('LOW,HIGH', 'Values of the display that are in the matte, %: whatever is brighter and darker is out.'),
    colour: text('#RRGGBB', 'Flat colour of a drawing: whatever is of it is in the matte.'),
    threshold: text('%', 'Difference at which a pixel counts, % of the display range; with --difference.', '5'),
    softness: text('%', 'Width of the ramp around the threshold or tolerance.', '3 with --difference, 20 with --chroma, 15 with --luma'),
    tolerance: text(
      '%',
      "Distance from the backing that still counts as backing, % of its colour's strength; with --colour, largest difference from it.",
      '30 with --chroma, 6 with --colour',
    ),
    smooth: text('PX', 'Radius by which the difference is smoothed first, against grain.', '3'),
    shadow: text('kept|dropped', 'Pixels that are only the clean plate made darker.', 'dropped'),
    grow: text('PX', 'Grows the matte, or shrinks it below 0.', '0'),
    blur: text('PX', 'Blur radius, 2 × standard deviation.', '0'),
    despeckle: text('PX2', 'Removes specks of less than this area.', '0'),
    'fill-holes': text('PX2', 'Fills holes of less than this area.', '0'),
    out: text('DIR', 'Folder for the pictures; needed.'),
  },
  positionals: [1, 1],
  async run(given) {
    if (given.values.matte !== undefined) {
      const out = pathOf(needed(given, 'out'));
      return {
        out: given.values.out,
        frames: await fromDocument(pathOf(given.positionals[0]!), needed(given, 'matte'), out, given.values.outlines === true),
      };
    }
    const { difference, chroma, luma, colour, shadow = 'dropped' } = given.values as Record<string, string | undefined>;
    if ([difference, chroma, luma, colour].filter((v) => v !== undefined).length !== 1)
      throw new UsageError('Say one of --difference clean.png, --chroma "#rrggbb", --luma LOW,HIGH and --colour "#rrggbb".');
    if (shadow !== 'kept' && shadow !== 'dropped') throw new UsageError(`--shadow wants kept or dropped, not "${shadow}".`);
    for (const [name, given] of Object.entries({ chroma, colour }))
      if (given !== undefined && !/^#[0-9a-f]{6}$/i.test(given))
        throw new UsageError(`--${name} wants a colour such as "#00b140", not "${given}".`);
    const range = luma?.split(',').map(Number);
    if (range && !(range.length === 2 && range.every((v) => v >= 0 && v <= 100) && range[0]! < range[1]!))
      throw new UsageError(`--luma wants two percentages, the lower one first, such as 60,100, not "${luma}".`);
    const out = pathOf(needed(given, 'out')),
      positive = (n: number) => n >= 0,
      option = (name: string, value: number, check = positive) => numberOption(given, name, value, check, 'a number that is not negative');
    const refine = refinementsAt(
      [
        newRefinement('f1', 'despeckle', { area: option('despeckle', 0) }),
        newRefinement('f2', 'fill holes', { area: option('fill-holes', 0) }),
        newRefinement('f3', 'grow', { by: numberOption(given, 'grow', 0, (n) => Math.abs(n) <= 100, 'a number from -100 to 100') }),
        newRefinement('f4', 'blur', { radius: option('blur', 0) }),
      ],
      1,
    );
    const threshold = option('threshold', 5),
      softness = option('softness', chroma ? 20 : luma ? 15 : 3),
      tolerance = option('tolerance', colour ? 6 : 30),
      smooth = option('smooth', 3);
    const medium = await openMedium(pathOf(given.positionals[0]!)),
      { info } = medium,
      arena = new Arena(16 * info.width * info.height * 16);
    let clean: Picture | null = null;
    if (difference) {
      const other = await openMedium(pathOf(difference));
      if (other.info.width !== info.width || other.info.height !== info.height)
        throw new Error(`The clean plate is ${other.info.width} x ${other.info.height}, the medium ${info.width} x ${info.height}.`);
      clean = await lightOf(other, 0, arena);
    }
    await mkdir(out, { recursive: true });
    const codesOf = (text: string) => [1, 3, 5].map((i) => parseInt(text.slice(i, i + 2), 16) / 255) as [number, number, number],
      make = (plate: Picture): Plane =>
        clean
          ? differenceMatte(plate, clean, { threshold, softness, smooth, shadow }, arena)
          : chroma
            ? chromaMatte(plate, codesOf(chroma), { tolerance, softness }, arena)
            : range
              ? lumaMatte(plate, { of: 'brightness', low: range[0]!, high: range[1]!, softness }, arena)
              : colourArea(plate, { colour: codesOf(colour!), similarity: tolerance, connected: null }, arena);
    for (let f = 0; f < info.frames; f++) {
      const plate = await lightOf(medium, f, arena);
      const made = make(plate);
      const fine = refined(made, refine, arena, null);
      await writePng(join(out, frameName(f)), matteCodes(fine), info.width, info.height, 1);
      arena.give(plate);
      arena.give(fine);
      progress(`frame ${f + 1} of ${info.frames}`);
    }
    progressEnd();
    return { out: given.values.out, frames: info.frames };
  },
};
