import type { Pictures } from '../../image/arena';
import type { Picture, Plane } from '../../image/picture';
import type { Params, Values } from '../../params/describe';

/** All that a source may read at a frame: the clip that it is made from, the shot's clean plate, another matte. */
export interface SourceReads {
  plate: Picture;
  clean: Picture;
  matte: Plane;
  /** What a row draws over nothing: premultiplied, with its light. */
  row: Picture;
}
export type SourceInput = keyof SourceReads;

/** What a source is drawn with. */
export interface SourceCanvas {
  pictures: Pictures;
  width: number;
  height: number;
  /** The clip that it is made from carries alpha. */
  alpha: boolean;
}

/**
 * One way to make a matte, as one object: its parameters give the schema, the settings form and the documentation. Adding one touches its file, its
 * test and one line of the register.
 */
export interface MatteSource<P extends Params = Params, I extends SourceInput = SourceInput> {
  kind: string;
  title: string;
  /** What a new matte of this kind is called. */
  called: string;
  summary: string;
  /** Its clip is one that carries a matte, and not the performance. */
  carriesOwn?: boolean;
  params: P;
  /** It names another matte, or a row of effects. */
  names?: 'matte' | 'row';
  inputs: readonly I[];
  /** Where the refinements of a new matte of this kind stand: pixels, square pixels, square pixels. */
  refined: { blur: number; despeckle: number; fillHoles: number };
  /**
   * The matte, 0..1, before it is refined; the caller gives it back. Null where there is nothing in it. Lengths and points are in the picture's own
   * pixels.
   */
  make(canvas: SourceCanvas, v: Values<P>, read: Readonly<Pick<SourceReads, I>>): Plane | null;
}

/** Declares a source; the types of its values and inputs follow from what is written. */
export const matteSource = <const P extends Params, const I extends SourceInput = never, const K extends string = string>(
  source: MatteSource<P, I> & { kind: K },
): MatteSource<P, I> & { kind: K } => source;
