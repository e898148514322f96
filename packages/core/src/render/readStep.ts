import type { Arena } from '../image/arena';
import { holdCodes, type HeldCodes } from '../image/codes';
import { decodeAs, type NamedCube } from '../image/coding';
import type { Picture } from '../image/picture';
import { reducedSize } from '../image/resize';
import type { Clip } from '../shot/schema';
import type { Step } from './evaluate';
import { keyOf } from './key';
import type { Factor } from './factor';
import type { Sources } from './sources';

/** True where a sequence has no picture for a frame, and black is to be there. */
const isBlack = (clip: Clip, at: number): boolean =>
  clip.gaps === 'black' && clip.missing.some(([first, last]) => at >= first && at <= last);
/** True for a clip that a table with an entry for each code reads, at every frame. */
export const plainlyRead = (clip: Clip): boolean =>
  clip.bits !== 32 &&
  clip.primaries === 'rec709' &&
  !clip.lut &&
  !(clip.premultiplied && clip.alpha) &&
  !clip.missing.length &&
  !clip.repairs.length;
/** All that says what light a frame of a clip is. */
export const readKey = (clip: Clip, at: number): string =>
  keyOf('read', clip.media, clip.transfer, clip.primaries, clip.premultiplied, clip.lut, isBlack(clip, at) ? 'black' : at);

/** A frame's codes in the arena: read once, however many sizes of it are wanted. */
export function codesStep(clip: Clip, at: number, sources: Sources): Step<HeldCodes> {
  return {
    key: keyOf('codes', clip.media, at),
    inputs: [],
    keep: 'never',
    run: async (_, arena) => holdCodes(await sources.frame(clip, at), arena),
  };
}
async function cubeOf(lut: NonNullable<Clip['lut']>, clip: Clip, sources: Sources): Promise<NamedCube> {
  // The codes of a table are its values: they are kept as a picture of floats.
  const { data } = await sources.frame({ ...clip, name: lut.name, media: lut.media }, 0);
  return { name: keyOf(lut.media), cube: { ...lut, values: data as Float32Array } };
}
/** The table of a clip. */
const cubeStep = (clip: Clip, lut: NonNullable<Clip['lut']>, sources: Sources): Step<NamedCube> => ({
  key: keyOf('table', lut),
  inputs: [],
  keep: 'never',
  run: () => cubeOf(lut, clip, sources),
});
function blackPicture(clip: Clip, factor: Factor, arena: Arena): Picture {
  const out = arena.takePicture(reducedSize(clip.width, factor), reducedSize(clip.height, factor));
  out.data.fill(0);
  if (!clip.alpha) for (let i = 3; i < out.data.length; i += 4) out.data[i] = 1;
  return out;
}

/** One frame of a clip as light, in its own shape, at a draft size. */
export function readStep(clip: Clip, at: number, factor: Factor, sources: Sources): Step<Picture> {
  const same = { key: keyOf('own', readKey(clip, at), factor), keep: clip.frames === 1 ? 'for frames' : 'for edits' } as const;
  if (isBlack(clip, at)) return { ...same, inputs: [], run: (_, arena) => blackPicture(clip, factor, arena) };
  return {
    ...same,
    inputs: [codesStep(clip, at, sources), ...(clip.lut ? [cubeStep(clip, clip.lut, sources)] : [])],
    run: ([codes, cube]: [HeldCodes, NamedCube?], arena: Arena) => decodeAs(codes, clip, cube ?? null, factor, arena),
  } as Step<Picture>;
}
/** The same at once, for who reads many frames of small elements. */
export async function readClip(clip: Clip, at: number, factor: Factor, sources: Sources, arena: Arena): Promise<Picture> {
  if (isBlack(clip, at)) return blackPicture(clip, factor, arena);
  const codes = holdCodes(await sources.frame(clip, at), arena),
    cube = clip.lut && (await cubeOf(clip.lut, clip, sources)),
    out = decodeAs(codes, clip, cube, factor, arena);
  arena.give(codes.bytes);
  return out;
}
