import type { Pictures } from '../../image/arena';
import type { Picture, Plane } from '../../image/picture';
import type { Params, Values } from '../../params/describe';

/** A picture that a refinement may look at: the clip that the matte lies on, at the same frame. */
export type RefinedBy = 'plate';
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
  /** True where it changes nothing at these values, so that nothing needs to be read or drawn for it. */
  idle?(v: Values<P>): boolean;
  /**
   * The refined matte: the same plane changed in place, or another one, and the first is given back. Lengths are in the picture's own pixels, areas in its
   * square pixels.
   */
  apply(matte: Plane, v: Values<P>, pictures: Pictures, read: Readonly<Record<RefinedBy, Picture>>): Plane;
}
/** Declares a refinement; the type of its values follows from what is written. */
export const refinement = <const P extends Params, const K extends string = string>(
  one: Refinement<P> & { kind: K },
): Refinement<P> & { kind: K } => one;
