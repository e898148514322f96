import type { Codes, Plane } from '../../image/picture';
import type { Params, StoredOf } from '../../params/describe';
import type { Quad } from '../fitHomography';
import type { Point } from '../frame';
import type { FlatFrame } from '../seen';
import type { TrackSample } from '../pointTracker';

/** What is known of a track, and of the other tracks that it names. */
export interface Measured<V = Record<string, unknown>> {
  samples: readonly TrackSample[];
  /** Samples of each of the tracks that it names. */
  others: readonly (readonly TrackSample[])[];
  /** Clip frame at which it was placed, and where: turn and growth count from there. */
  reference: number;
  at: Point;
  /** Values of its kind. */
  values: V;
}

/** Where something is begun to be followed. */
export interface Begin {
  x: number;
  y: number;
  corners?: Quad;
}

/** Follows something from one frame of a clip to the next, forwards or backwards. */
export interface Follower {
  /** What it was given at its first frame. */
  start: TrackSample;
  /** @param luma what it is measured on, 0..1, in the clip's own pixels. @param codes the whole frame. */
  step(luma: Plane, clipFrame: number, codes: Codes): TrackSample;
}

/**
 * One kind of track, as one object: what can be set before it is measured, and the frame of reference that it carries. Adding one touches its file, its
 * test and one line of the register.
 */
export interface TrackKind<P extends Params = Params> {
  kind: string;
  title: string;
  summary: string;
  /** What is clicked to place it, after "Click"; a kind without it is made without a click. */
  click?: string;
  params: P;
  /** It names another track, or several, or a matte. */
  joins?: 'pair' | 'several' | 'matte';
  /** What the track that it names is called, and what it is for. */
  joinWords?: readonly [label: string, help: string];
  /** It is set by hand alone: every frame that was set is a key. */
  keyed?: boolean;
  /** Stored values that fit each other, near to those that are wanted: in place of refusing what a hand drags. */
  fit?(values: StoredOf<P>): StoredOf<P>;
  /** Parameters that are sides of boxes around its place, px: drawn and sized on the picture, the inmost first. */
  boxes: readonly (keyof P & string)[];
  /** Parameters that are corners, pixels from its place: drawn and moved on the picture, clockwise. */
  corners?: readonly (keyof P & string)[];
  /** It compares the place of the track that it names with its look on one frame: the parameter that is the side of the box, px. */
  compares?: keyof P & string;
  /** What finds it, where it is not followed from frame to frame. */
  finds?: 'face' | 'matte';
  /** It is a gate: how far it is open, 0..1, where what it measures (the confidence of its samples) is so much. */
  opens?(values: StoredOf<P>, amount: number): number;
  /** What its samples' confidence says, where that is not how sure they are. */
  measures?: string;
  /** Its plane goes on beyond its corners, to the horizon. */
  goesOn?: boolean;
  /** Begins to follow it at a place of a frame, clip pixels; none where nothing of it is measured in the picture. */
  follow?(values: StoredOf<P>, luma: Plane, clipFrame: number, from: Begin, codes: Codes): Follower;
  /** The frame that it carries at a frame of its clip, whole-shot pixels; null where it was never seen. */
  frame(measured: Measured<StoredOf<P>>, clipFrame: number): FlatFrame | null;
}
/** Its own samples say where it is good, weak and lost. */
export const isMeasured = (kind: TrackKind): boolean => kind.follow !== undefined || (kind.finds !== undefined && !kind.opens);
/** Declares a kind of track; the types of its values follow from what is written. */
export const trackKind = <
  const P extends Params,
  const K extends string,
  const J extends 'pair' | 'several' | 'matte' | undefined = undefined,
>(
  kind: TrackKind<P> & { kind: K; joins?: J },
): TrackKind<P> & { kind: K; joins?: J } => kind;
