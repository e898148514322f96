import { mkdir, mkdtemp, readFile, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { readShot, type Shot } from '@wraithos/core/shot';
import { alphaModes, formatNames, framesFor, outputFormats, passOf, type Factor, type FormatName } from '@wraithos/core/render';
import { bandThreads, computingThreads, frameName, renderRun, filmWriters, fileSources } from '@wraithos/runtime';
import { needed, pathOf, progress, progressEnd, UsageError, type Verb } from '../command';

export async function openShot(path: string): Promise<Shot> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw new Error(`${path}: there is no such file.`);
  });
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    throw new Error(`${path}: this is not a shot document (it is not JSON).`);
  }
  return readShot(data);
}

/** "A-B" or "A" within the shot. */
function range(text: string | undefined, shot: Shot): number[] {
  const match = /^(-?\d+)(?:-(-?\d+))?$/.exec(text ?? `${shot.first}-${shot.last}`),
    a = Number(match?.[1]),
    b = Number(match?.[2] ?? match?.[1]);
  if (!match || b < a || a < shot.first || b > shot.last)
    throw new UsageError(`--frames wants A-B within ${shot.first}-${shot.last}, not "${String(text)}".`);
  return Array.from({ length: b - a + 1 }, (_, i) => a + i);
}

const round = (n: number) => Math.round(n * 100) / 100;
const factors: Record<string, Factor> = { '1': 1, '1/2': 2, '1/4': 4 };

export const render: Verb = {
  name: 'render',
  usage: `<shot.json> [--frames A-B] [--scale 1|1/2|1/4] [--format ${formatNames.join('|')}] [--alpha ${alphaModes.join('|')}] [--only all|base|effects|lane:NAME|row:ID|matte:ID] [--burn] [--resume] --out PATH`,
  about: 'Renders a shot: numbered PNG or OpenEXR files in a folder, or one film.',
  options: {
    frames: { type: 'string', value: 'A-B', about: 'Range of shot frames, or one frame.', usual: 'all frames of the shot' },
    scale: { type: 'string', value: '1|1/2|1/4', about: 'Size of the picture.', usual: '1' },
    format: {
      type: 'string',
      value: formatNames.join('|'),
      about: 'PNG files of 8 or 16 bit, OpenEXR files, one film, or one sheet of twelve frames.',
      usual: 'png16',
    },
    alpha: { type: 'string', value: alphaModes.join('|'), about: 'Cover in the files, beside colours or in them.', usual: 'none' },
    only: { type: 'string', value: 'PASS', about: 'What of the shot: all, base, effects, lane:NAME, row:ID or matte:ID.', usual: 'all' },
    burn: { type: 'boolean', about: "Writes the shot's code and the frame into each picture." },
    resume: { type: 'boolean', about: 'Leaves frames alone that are finished already.' },
    out: { type: 'string', value: 'PATH', about: 'Folder for the files, or name of the film; needed.' },
  },
  positionals: [1, 1],
  async run(given) {
    const path = pathOf(given.positionals[0]!),
      out = pathOf(needed(given, 'out')),
      name = String(given.values.format ?? 'png16'),
      format = Object.hasOwn(outputFormats, name) ? outputFormats[name as FormatName] : null;
    if (!format) throw new UsageError(`--format wants ${formatNames.join(', ')}, not "${name}".`);
    const factor = factors[String(given.values.scale ?? '1')];
    if (!factor) throw new UsageError(`--scale wants 1, 1/2 or 1/4, not "${String(given.values.scale)}".`);
    const shot = await openShot(path),
      asked = range(given.values.frames as string | undefined, shot),
      frames = framesFor(format, asked[0]!, asked.at(-1)!),
      burn = given.values.burn === true,
      { bits, film, files: ending, title } = format,
      mode = String(given.values.alpha ?? 'none'),
      alpha = alphaModes.find((m) => m === mode),
      only = String(given.values.only ?? 'all');
    if (!alpha) throw new UsageError(`--alpha wants ${alphaModes.join(', ')}, not "${mode}".`);
    if (alpha !== 'none' && !format.alpha) throw new UsageError(`${title} carries no alpha.`);
    if (burn && bits === 'half') throw new UsageError(`${title} takes nothing burnt in.`);
    passOf(shot, only);
    await mkdir(film ? dirname(out) : out, { recursive: true });
    const helpers = bandThreads(computingThreads() - 1),
      folder = film ? await mkdtemp(join(dirname(out), '.wraith-')) : out;
    try {
      const done = await renderRun(shot, fileSources(path), frames, folder, {
        bits,
        alpha,
        only,
        factor,
        burn: burn ? (frame) => `${shot.code}  ${frame}` : undefined,
        resume: given.values.resume === true,
        helpers,
        onFrame: (frame, kept) => progress(`frame ${frame}${kept ? ' (kept)' : ''}`),
      });
      if (film)
        await filmWriters[film](
          out,
          frames.map((frame) => join(folder, frameName(frame, ending))),
          shot.rate,
          { alpha: alpha !== 'none' },
        );
      progressEnd();
      const each = done.drawn ? done.milliseconds / done.drawn : 0;
      return {
        out: given.values.out,
        frames: frames.length,
        kept: done.kept,
        first: frames[0],
        last: frames[frames.length - 1],
        files: film ? undefined : frames.map((frame) => frameName(frame, ending)),
        millisecondsPerFrame: round(each),
        cost: Object.fromEntries(
          Object.entries(done.cost).map(([row, ms]) => [shot.rows[row]?.name ?? row, round(ms / Math.max(1, done.drawn))]),
        ),
      };
    } finally {
      await helpers.close();
      if (film) await rm(folder, { recursive: true, force: true });
    }
  },
};
