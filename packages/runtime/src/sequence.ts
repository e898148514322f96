import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { MediaError } from './ffmpeg';

const STILLS = new Set(['png', 'jpeg', 'jpg', 'webp', 'tiff', 'tif', 'exr']);
const extensionOf = (name: string): string => (name.split('.').pop() ?? '').toLowerCase();
const isStillName = (name: string): boolean => STILLS.has(extensionOf(name));

/** The parts of a numbered name: what stands around its last number, and the number; null where it has none. */
export function numberedName(name: string): { stem: string; before: string; number: number } | null {
  const m = /^(.*?)(\d+)(\D*)$/.exec(name);
  return m ? { stem: `${m[1]!}#${m[3]!}`, before: m[1]!, number: Number(m[2]) } : null;
}

/** Names in order of the last number in them, with their frames from 0 on. @throws MediaError where they are not one sequence. */
export function orderSequence(names: string[]): { name: string; frame: number }[] {
  const parts = names.filter(isStillName).map((name) => ({ name, parts: numberedName(name) }));
  if (parts.length === 0) throw new MediaError('there is no numbered sequence of pictures in it');
  if (parts.some((p) => p.parts === null)) throw new MediaError('some picture files carry no number');
  const all = parts as { name: string; parts: NonNullable<ReturnType<typeof numberedName>> }[];
  if (new Set(all.map((p) => p.parts.stem)).size > 1) throw new MediaError('it holds more than one sequence');
  const ordered = all.map((p) => ({ name: p.name, number: p.parts.number })).sort((a, b) => a.number - b.number),
    first = ordered[0]!.number,
    twice = ordered.find((p, i) => i > 0 && p.number === ordered[i - 1]!.number);
  if (twice) throw new MediaError(`two of its pictures have the number ${twice.number}`);
  const span = ordered.at(-1)!.number - first + 1;
  if (span > 4 * ordered.length + 100)
    throw new MediaError(`its ${ordered.length} pictures are numbered from ${first} to ${ordered.at(-1)!.number}: too many are missing`);
  return ordered.map((p) => ({ name: p.name, frame: p.number - first }));
}

export interface Sequence {
  files: { path: string; frame: number }[];
  /** Frames in all, with those that have no picture. */
  frames: number;
  /** First and last frame of each gap. */
  missing: [number, number][];
}
/** The numbered sequence in a folder. @throws MediaError when there is none or there are several. */
export async function sequenceOf(folder: string): Promise<Sequence> {
  const ordered = orderSequence((await readdir(folder)).filter((n) => !n.startsWith('.'))),
    missing: [number, number][] = [];
  ordered.forEach(({ frame }, i) => {
    const before = i ? ordered[i - 1]!.frame : -1;
    if (frame > before + 1) missing.push([before + 1, frame - 1]);
  });
  return { files: ordered.map(({ name, frame }) => ({ path: join(folder, name), frame })), frames: ordered.at(-1)!.frame + 1, missing };
}
