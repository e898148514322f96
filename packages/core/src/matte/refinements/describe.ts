import type { Pictures } from '../../image/arena';
import type { Picture, Plane } from '../../image/picture';
import type { Params, Values } from '../../params/describe';
import type { NearFrame } from '../steadied';

/** A picture that a refinement may look at: the clip that the matte lies on, at the same frame. */
export type RefinedBy = 'plate';
/** All that a refinement may read. */
export interface RefinementReads {
  plate: Picture;
  /** The plate at half of the clip's size, and the frames beside this one: for a refinement that looks at some. */
  half: Picture;
  near: readonly NearFrame[];
}
/**
 * One way to refine a matte, as one object: its parameters give the schema, the settings form and the documentation. Adding one touches its file, its test and
 * one line of the register.
 */
export interface Refinement<P extends Params = Params> {
  kind: string;
  title: string;
  summary: string;
  params: P;
  inputs: readonly RefinedBy[];
  /** Frames before and after the matte's own at which it looks, with their mattes as they are before this refinement; none where it is missing. */
  frames?(v: Values<P>): number;
  /** True where it changes nothing at these values, so that nothing needs to be read or drawn for it. */
  idle?(v: Values<P>): boolean;
  /**
   * The refined matte: the same plane changed in place, or another one, and the first is given back. Lengths are in the picture's own pixels, areas in its
   * square pixels.
   */
  apply(matte: Plane, v: Values<P>, pictures: Pictures, read: Readonly<RefinementReads>): Plane;
}
/** Declares a refinement; the type of its values follows from what is written. */
export const refinement = <const P extends Params, const K extends string = string>(
  one: Refinement<P> & { kind: K },
): Refinement<P> & { kind: K } => one;
