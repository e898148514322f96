import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { Arena, decodeAs, holdCodes, type Picture, type Plane } from '@wraithos/core/image';
import { chromaMatte, colourArea, differenceMatte, lumaMatte, newRefinement, refined, refinementsAt } from '@wraithos/core/matte';
import { frameName, matteCodes, writePng, openMedium } from '@wraithos/runtime';
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

export const matte: Verb = {
  name: 'matte',
  usage:
    "<clip> --difference clean.png | --chroma '#00b140' | --luma 60,100 | --colour '#d9f06a' [--threshold 5] [--softness 3] [--tolerance 30] [--smooth 3] [--shadow kept|dropped] [--grow 0] [--blur 0] [--despeckle 0] [--fill-holes 0] --out DIR",
  about:
    'Makes a matte of every frame as 16-bit grey PNG files. Threshold and softness in percent, lengths in pixels, areas in square pixels.',
  options: {
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
