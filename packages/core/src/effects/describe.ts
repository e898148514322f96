import type { Pictures } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import type { Frame } from '../motion/frame';
import type { Params, StoredValue, Values } from '../params/describe';
import type { Carried } from '../placing/carry';
import type { Outline, Sizes } from '../placing/place';
import type { Throws } from './surroundings';
import type { Curve } from '../time/curve';

/**
 * The description of an effect: one object gives its value types, the schema of its values, the settings form, the curves, the
 * handles on the picture, docs/effects.md and the tests of every effect.
 */
export type Lane = 'whole' | 'foreground' | 'front' | 'on' | 'behind' | 'background';
/** What people read of a lane. */
export const laneTitles: Record<Lane, string> = {
  whole: 'Whole picture',
  foreground: 'Foreground',
  front: 'Front',
  on: 'On',
  behind: 'Behind',
  background: 'Background',
};
export const lanes: readonly Lane[] = ['whole', 'foreground', 'front', 'on', 'behind', 'background'];

/**
 * `pattern` is the matte whose values say in which order something arrives, or by how much it is bent. `mount` and `aim` are the frames of what the row hangs on and of what it reaches for; where an optional one is not there, the picture's own frame
 * stands in. `element` is all pictures of the clip that the row uses, small and in their own shape; `moment` is what its own parameters of time (see
 * `placing/retime.ts`) show of it at the frame, at the draft's size and in its own shape; `plates` and
 * `mattes` are those of the frames that the effect's `times` names.
 */
export type InputKind = 'below' | 'plate' | 'clean' | 'matte' | 'pattern' | 'mount' | 'aim' | 'element' | 'moment' | 'plates' | 'mattes';
export interface Input {
  kind: InputKind;
  optional?: boolean;
  size?: 'draft' | 'quarter';
  /** A mount as it stood at the first frame of the row, or as it stands a frame earlier or later. */
  at?: 'start' | 'before' | 'next';
  title: string;
}
export type Inputs = Record<string, Input>;
type Got<K extends InputKind> = K extends 'matte' | 'pattern'
  ? Plane
  : K extends 'mount' | 'aim'
    ? Frame
    : K extends 'element' | 'plates'
      ? readonly Picture[]
      : K extends 'mattes'
        ? readonly Plane[]
        : Picture;
/** What an effect reads; an optional input that is not there is null, but for frames. */
export type Read<I extends Inputs> = {
  readonly [K in keyof I]: I[K]['kind'] extends 'mount' | 'aim'
    ? Frame
    : I[K] extends { optional: true }
      ? Got<I[K]['kind']> | null
      : Got<I[K]['kind']>;
};

/** What a picture is drawn with: where rasters come from, and its size; `scale` is its pixels for each whole-shot pixel. */
export interface Canvas {
  pictures: Pictures;
  width: number;
  height: number;
  scale: number;
}
/** A line, whole-shot pixels from the mount, that the front of an arrival reaches at a progress. */
export interface FrontStroke {
  progress: number;
  points: readonly (readonly [number, number])[];
}
/** A line that was drawn for a frame of the row, whole-shot pixels from the mount. */
export interface DrawnLine {
  frame: number;
  points: readonly (readonly [number, number])[];
}
/**
 * What an effect may know of its surroundings. It gets only what it names in `facts`, and all of that is in the keys of its pictures, so that none is
 * ever stale.
 */
export interface Facts {
  /** The shot frame. */
  frame: number;
  framesPerSecond: number;
  /** Frames since the row began, and how many it lasts. */
  frameInRow: number;
  rowLength: number;
  /** Height of the subject on the picture (whole-shot pixels) and in the world (metres). */
  subjectPixels: number;
  subjectMetres: number;
  /** The subject has traces in the plate (shadow, light) that fade with it. */
  traces: boolean;
  /** Lines that the front of its arrival reaches at a progress, 0..1, in the coordinates of what it hangs on. */
  strokes: readonly FrontStroke[];
  /** Lines that were drawn for it, in the coordinates of what it hangs on. */
  lines: readonly DrawnLine[];
  /** Shot frames of the cues, earliest first. */
  cues: readonly number[];
  /** The values of the row a frame earlier and a frame later. */
  around: readonly Values<Params>[];
}
export type Fact = keyof Facts;
/** The canvas, with those facts that an effect (or a part of it) reads. */
export type Draw<F extends Fact = never> = Canvas & Readonly<Pick<Facts, F>>;

/**
 * Pictures for the lanes. `changed` is the picture below, changed; `layer` is premultiplied and blended by the row's own blend;
 * `shade` is laid on plainly under light, premultiplied: the darker surround in which light reads where the ground is bright; `light` spills past edges and is laid on by linear screen;
 * it may be of half the size (rounded up), since it is soft. A dissolve gives `removal` (0..1, what shows the clean plate),
 * `fading` (how far traces have gone there, 0..1), what burns on it and flies before it as `front`, and what flies `behind`.
 */
export interface Layers {
  changed?: Picture;
  layer?: Picture;
  shade?: Picture;
  light?: Picture;
  removal?: Plane;
  fading?: Plane;
  front?: Picture;
  behind?: Picture;
}

export type Handle<P> =
  /** The outline of a placed picture: its place, size (by this parameter) and turns; `round` where it is a circle in its plane. */
  | { shape: 'placed'; sizes: keyof P & string; round?: boolean }
  | { shape: 'point'; moves: keyof P & string }
  | { shape: 'radius'; sets: keyof P & string; about?: keyof P & string }
  | { shape: 'arrow'; turns: keyof P & string; stretches: keyof P & string; about: keyof P & string };

/** A front that moves over the picture: a circle, or a straight line across a direction (degrees). */
export type Front =
  | { shape: 'circle'; about: readonly [number, number]; radius: number }
  | { shape: 'line'; about: readonly [number, number]; direction: number };

/** What a row has at hand, for the checks of its effect. */
export interface RowFacts<V> {
  name: string;
  clean: boolean;
  matte: boolean;
  mount: boolean;
  aim: boolean;
  element: boolean;
  /** A matte whose values are its pattern. */
  pattern: boolean;
  /** How many cues lie within it. */
  cues: number;
  /** How many lines were drawn for it. */
  lines: number;
  values: V;
}
/** A problem that an effect can have on a row. */
export interface EffectCheck<V> {
  id: string;
  find(facts: RowFacts<V>): { text: string; fix: string; mend?: 'clean plate' } | null;
}

/** Where a new row of an effect is laid: what it can set itself up for. */
export interface Site {
  width: number;
  height: number;
  framesPerSecond: number;
  /** The shot frame at the playhead, and how many frames there are from it to the end of the shot. */
  frame: number;
  rest: number;
  /** Height of the subject, whole-shot pixels. */
  subjectPixels: number;
  /** It hangs on a track. */
  hung: boolean;
  /** Another track of the shot, to reach for. */
  otherTrack: string | null;
}
/** How a new row is set up so that it looks right at once. */
export interface Suggestion {
  values?: Record<string, StoredValue>;
  curves?: Record<string, Curve>;
  start?: number;
  length?: number;
  /** The track that it aims at. */
  aim?: string;
}

/** A look that comes with an effect. Lengths and offsets are pixels for a subject 430 px tall; curves are frames and values. */
export interface OwnRecipe {
  name: string;
  values: Record<string, StoredValue>;
  /** The lane that it is for; the effect's first one where nothing is said. */
  lane?: Lane;
  /** Frames that it lasts; to the end of the shot where nothing is said. */
  length?: number;
  curves?: Readonly<Record<string, readonly (readonly [frame: number, value: number])[]>>;
  opacity?: number;
}
/** How an effect is drawn for the documentation: on the demo's first shot, as it comes. */
export interface Shown {
  /** Frame that is drawn; 1080 where nothing is said. */
  frame?: number;
  /** Frame at which its row begins; 1064 where nothing is said. */
  begins?: number;
  /** What it hangs on; the pin where nothing is said. */
  on?: 'lantern';
  /** The element of the stockroom that it shows, where it shows a clip. */
  clip?: string;
  values?: Record<string, StoredValue>;
}

export interface Effect<
  P extends Params = Params,
  I extends Inputs = Inputs,
  S = unknown,
  F extends Fact = Fact,
  U extends keyof P & string = keyof P & string,
> {
  type: string;
  version: number;
  title: string;
  summary: string;
  lanes: readonly Lane[];
  params: P;
  inputs: I;
  /** It takes its subject apart: gives `removal`, and stands in the lane On. */
  removes?: boolean;
  /** What it gives is light: laid on by linear screen, or added. */
  light?: boolean;
  /** What its light does to the subject, the ground and the air: drawn by the plan from the light that it gives. */
  throws?(v: Values<P>): Throws;
  /** What it knows of its surroundings; `render` and `step` get nothing else of them. */
  facts?: readonly F[];
  /** It draws with edges as sharp as its pixels, which are softened as the plate is where the shot wants that. */
  sharp?: boolean;
  /** It gives what was drawn the grain of the plate, in place of the shot. */
  grains?: boolean;
  /** Some of it flies behind the subject: it gives `behind` too. */
  flies?: boolean;
  /** Optional inputs that it does without with these values: nobody makes them, and nobody needs to look after them. */
  without?(v: Values<P>): readonly (keyof I & string)[];
  /** With these values it does what is wanted while its track is lost, so that nobody needs to be told. */
  bearsLoss?(v: Values<P>): boolean;
  /** Frames of the shot whose plates and mattes it shows, oldest first; `first` is the first frame of its row, `cues` are the shot frames of the cues. */
  times?(v: Values<P>, frame: number, first: number, cues: readonly number[]): readonly number[];
  /** Where points are counted from on a row without a mount. */
  origin: 'middle' | 'corner';
  /** Looks that come with it. */
  recipes?: readonly OwnRecipe[];
  /** How its picture in the documentation is drawn. */
  shown?: Shown;
  /** It happens at a moment: a new row of it begins at the playhead. */
  happens?: boolean;
  /** How a new row of it is set up, beyond its defaults. */
  suggest?(site: Site): Suggestion;
  /** Values and curves that an earlier version of it stored, as this version has them. Twins and treatments have values alone. */
  upgrade?(
    old: { values: Record<string, StoredValue>; curves: Record<string, Curve> },
    version: number,
  ): { values: Record<string, StoredValue>; curves: Record<string, Curve> };
  /** True where the step may be left out, bit-exact. `at` gives the values at other frames of the row, for what has a past. */
  idle?(v: Values<P>, frameInRow: number, at: (frameInRow: number) => Values<P>): boolean;
  /**
   * The most of its particles that can live at once: on a body of `area` square pixels of the whole shot, over a row of so many frames. What
   * a render may cost is worked out from it before it begins.
   */
  alive?(v: Values<P>, facts: { area: number; framesPerSecond: number; frames: number }): number;
  /** For what has a past. Its state sees, and is keyed by, only the parameters in `uses`, so a change of the look simulates nothing. */
  history?: {
    uses: readonly U[];
    /** Which inputs the step to these values needs; none where nothing is born. */
    reads(v: Pick<Values<P>, U>, before: Pick<Values<P>, U>): readonly (keyof I & string)[];
    /** What the values were before the row began. */
    before: Partial<Pick<Values<P>, U>>;
    start(): S;
    bytes(state: S): number;
    /** One frame on. `before` are the values one frame earlier. Lengths, points and frames are in whole-shot pixels here. */
    step(state: S, v: Pick<Values<P>, U>, before: Pick<Values<P>, U>, read: Read<I>, draw: Draw<F>): S;
  };
  /** Draws it. Lengths, points and frames are in the picture's own pixels here. */
  render(draw: Draw<F>, v: Values<P>, read: Read<I>, state: S): Layers;
  /** Where its front stands with these values, in whole-shot pixels from the mount; null while it is nowhere. */
  front?(v: Values<P>): Front | null;
  /**
   * Of an arrival whose front is no simple line: the order in which pixels are reached, and the order that has been reached with some values (in whole-shot
   * pixels), so that its contour lines can be drawn.
   */
  arrives?: {
    reads: readonly (keyof I & string)[];
    order(draw: Draw<F>, v: Values<P>, read: Read<I>): Plane;
    reached(v: Values<P>): number;
  };
  /** How much of each pixel its front has passed, 0..1: where a take comes in that it leads. Lengths and points are in the picture's own pixels. */
  passed?(draw: Canvas, v: Values<P>, mounts: { mount: Frame; begun: Frame }): Plane;
  /** How what it places goes with its mount; wholly where nothing is said. */
  carried?(v: Values<P>): Carried;
  /** Where the corners of what it places stand, from its mount; for the handle `placed`. */
  outline?(v: Values<P>, sizes: Sizes): Outline | null;
  handles?: readonly Handle<P>[];
  checks?: readonly EffectCheck<Values<P>>[];
}

/** Declares an effect; the types of its values, inputs, facts and past follow from what is written. */
export const effect = <
  const P extends Params,
  const I extends Inputs,
  S = undefined,
  const F extends Fact = never,
  const U extends keyof P & string = never,
>(
  e: Effect<P, I, S, F, U>,
): Effect<P, I, S, F, U> => e;

/** True for an effect whose picture depends on how long its row has lasted. */
export const isTimed = (e: Effect): boolean => (e.facts ?? []).some((fact) => fact === 'frameInRow' || fact === 'rowLength');
