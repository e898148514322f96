/**
 * What a render can be written as. Frames are always drawn into numbered files first, so that it can go on after a cut; a film is made of them at the end
 * by the writer of its name (packages/runtime/src/films). Adding a format touches this list and, for a new kind of film, one writer.
 */
export interface OutputFormat {
  title: string;
  /** Bits of a channel of the files; `half` is a 16-bit float. */
  bits: 8 | 16 | 'half';
  /** Ending of the numbered files. */
  files: 'png' | 'exr';
  /** Ending of the one file that is made of the frames; without it they stay a sequence. */
  film?: string;
  /** So many frames of the range, spread evenly over it, are drawn; all of them where nothing is said. */
  samples?: number;
  /** Browsers play the film. */
  plays?: boolean;
  /** It can carry alpha. */
  alpha?: boolean;
}
const register = {
  png16: { title: 'PNG sequence, 16 bit', bits: 16, files: 'png', alpha: true },
  png: { title: 'PNG sequence, 8 bit', bits: 8, files: 'png', alpha: true },
  exr: { title: 'OpenEXR sequence, half float', bits: 'half', files: 'exr', alpha: true },
  webm: { title: 'WebM video (VP9)', bits: 8, files: 'png', film: 'webm', plays: true, alpha: true },
  mp4: { title: 'MP4 video (H.264)', bits: 8, files: 'png', film: 'mp4', plays: true },
  mov: { title: 'MOV video (ProRes 4444)', bits: 16, files: 'png', film: 'mov', alpha: true },
  sheet: { title: 'Contact sheet (PNG)', bits: 8, files: 'png', film: 'png', samples: 12 },
} as const satisfies Record<string, OutputFormat>;

export type FormatName = keyof typeof register;
/** Endings of films that need a writer. */
export type FilmEnding = Extract<(typeof register)[FormatName], { film: string }>['film'];
export const outputFormats: Readonly<Record<FormatName, OutputFormat & { film?: FilmEnding }>> = register;
export const formatNames = Object.keys(register) as [FormatName, ...FormatName[]];

/** Frames of a range that a format draws. */
export function framesFor(format: OutputFormat, first: number, last: number): number[] {
  const count = last - first + 1,
    wanted = Math.min(count, format.samples ?? count);
  return Array.from({ length: wanted }, (_, i) =>
    wanted === count ? first + i : first + Math.round((i * (count - 1)) / Math.max(1, wanted - 1)),
  );
}

/**
 * How files carry coverage: not at all (on black); beside colours as they are (straight, what PNG and most programs mean); or with colours that are
 * already times it (premultiplied). OpenEXR is premultiplied always.
 */
export const alphaModes = ['none', 'straight', 'premultiplied'] as const;
export type AlphaMode = (typeof alphaModes)[number];

/** Pictures of a moving thumbnail of a clip, side by side in one file. */
export const STRIP_TILES = 10;
