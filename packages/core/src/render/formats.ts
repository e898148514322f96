/**
 * What a render can be written as. Frames are always drawn into PNG files first, so that it can go on after a cut; a film is made of them at the end by
 * the writer of its name (packages/runtime/src/films). Adding a format touches this list and, for a new kind of film, one writer.
 */
export interface OutputFormat {
  title: string;
  /** Bits of a channel of the PNG files. */
  bits: 8 | 16;
  /** Ending of the one file that is made of the frames; without it they stay a sequence. */
  film?: string;
  /** Browsers play the film. */
  plays?: boolean;
}
const register = {
  png16: { title: 'PNG sequence, 16 bit', bits: 16 },
  png: { title: 'PNG sequence, 8 bit', bits: 8 },
  webm: { title: 'WebM video', bits: 8, film: 'webm', plays: true },
} as const satisfies Record<string, OutputFormat>;

export type FormatName = keyof typeof register;
/** Endings of films that need a writer. */
export type FilmEnding = Extract<(typeof register)[FormatName], { film: string }>['film'];
export const outputFormats: Readonly<Record<FormatName, OutputFormat & { film?: FilmEnding }>> = register;
export const formatNames = Object.keys(register) as [FormatName, ...FormatName[]];

/** Pictures of a moving thumbnail of a clip, side by side in one file. */
export const STRIP_TILES = 10;
