import type { Check, Compare, Contrast, Factor, FrontLine, Likeness, Look, MatteLook, Scope, Skin, Standing } from '@wraithos/core/render';
import type { AreaLine, AreaStroke, CarriedShape, EdgeCosts, FollowedBody, LightChanges, Vertex, MatteMeasure } from '@wraithos/core/matte';
import type { Clip, Shot, Track } from '@wraithos/core/shot';
import type { FoundMoment, PatchPicture, Place, TrackSample } from '@wraithos/core/motion';

/** What the viewer shows behind transparent parts of a picture. Renders without alpha stand on black. */
export const backdrops = ['black', 'grey', 'white', 'checker'] as const;
export type Backdrop = (typeof backdrops)[number];

/** What is asked of a drawing or measuring worker. A request says what it is for, so that stale ones can be dropped. */
export type WorkerRequest =
  /** First of all: cells that hold requests that are no longer wanted, threads to draw with, and the way to the display. */
  | { kind: 'begin'; cancel: SharedArrayBuffer | null; helpers: number; display: MessagePort | null }
  /** Bytes that may be remembered: steps, and frames of clips. */
  | { kind: 'limit'; steps: number; sources: number }
  /** Bytes that are remembered now. */
  | { kind: 'memory'; id: number }
  | {
      kind: 'frame';
      id: number;
      /** Null where the request before it had the same document: a document is sent once. */
      shot: Shot | null;
      frame: number;
      factor: Factor;
      upTo: string | null;
      plain: boolean | string;
      matte: ({ id: string } & MatteLook) | null;
      /** A clip laid over it, to compare two takes. */
      skin?: { clip: string; how: Skin } | null;
      /** What stands behind what is transparent. */
      backdrop?: Backdrop;
      /** How it is looked at; as it is where nothing is said. */
      look?: Look;
      /** What it is looked at beside. */
      compare?: Compare | null;
      /** Somebody looks at it. */
      playhead: boolean;
      /** Equal for documents that draw the same. */
      document: string;
      /** What the display may be waiting for it by. */
      ticket: string;
      /** Breadth of its small picture; the usual one where nothing is said. */
      thumb?: number;
    }
  | { kind: 'codes'; id: number; shot: Shot; frame: number; plain?: boolean | string }
  /** Where these mattes are at a frame, and what they are worth at a place. */
  | { kind: 'mattes'; id: number; shot: Shot; frame: number; mattes: readonly string[]; at: readonly [number, number] | null }
  /** How the values of a picture are spread; the worker keeps it, so that single values can be asked for. */
  | {
      kind: 'measure';
      id: number;
      shot: Shot;
      frame: number;
      factor: Factor;
      upTo: string | null;
      plain: boolean | string;
      matte: ({ id: string } & MatteLook) | null;
      skin?: { clip: string; how: Skin } | null;
    }
  /** The mean light of a box of the picture that was measured last, in shares of its size; answered at once. */
  | { kind: 'values'; id: number; box: readonly [number, number, number, number] }
  /** What a row changes on the picture. */
  | { kind: 'contrast'; id: number; shot: Shot; row: string; frame: number }
  /** Checks of clean plates and mattes that need pictures. */
  | { kind: 'measured checks'; id: number; shot: Shot }
  /** Where the front of an arrival stands at some frames, on the body at one. */
  | { kind: 'front lines'; id: number; shot: Shot; row: string; frame: number; frames: readonly number[] }
  /** A clip against another take at a frame: in time, in the picture, or in light. */
  | { kind: 'takes'; id: number; shot: Shot; clip: string; other: string; frame: number; what: 'offset' | 'place' | 'light' }
  /** Moments of a clip that may want a cue, on its pictures and tracks. */
  | { kind: 'moments'; id: number; clip: Clip; tracks: readonly { name: string; pattern: number; samples: readonly TrackSample[] }[] }
  /** How much the place of a track looks on every frame of its clip as it does on one. */
  | { kind: 'likeness'; id: number; clip: Clip; track: string; along: readonly TrackSample[]; frame: number; side: number }
  /** Where a matte is on every frame of its clip, for a track that stands on it. */
  | { kind: 'matte frames'; id: number; shot: Shot; track: string }
  /** What a track carries, cut out of frames of its clip, `side` pixels of it as a picture of `size`. */
  | { kind: 'patches'; id: number; shot: Shot; track: string; frames: readonly number[]; side: number; size: number }
  /** A square of a frame, as a picture of `size` whose sides are `side` pixels of the clip, about a place. */
  | { kind: 'square'; id: number; clip: Clip; frame: number; at: readonly [number, number]; side: number; size: number }
  /** Follows the body at a place of a matte, on every frame of the matte's clip, from a frame on. */
  | {
      kind: 'isolate';
      id: number;
      shot: Shot;
      mattes: Readonly<Record<LightChanges, string>>;
      at: readonly [number, number];
      frame: number;
    }
  /** The area that strokes over a clip, as it stands in the base, mean; strokes in whole-shot pixels. */
  | { kind: 'strokes'; id: number; shot: Shot; clip: string | null; frame: number; strokes: readonly AreaStroke[] }
  /** How dear a step to each pixel of a clip is, as it stands in the base, for ways along its edges. */
  | { kind: 'edge costs'; id: number; shot: Shot; clip: string | null; frame: number }
  /** What is measured of a matte on each frame of the shot, to find those on which it is doubtful. */
  | { kind: 'matte doubts'; id: number; shot: Shot; matte: string }
  /** Carries an outline on from one frame of a clip to another. */
  | { kind: 'carry'; id: number; clip: Clip; vertices: readonly Vertex[]; from: number; to: number }
  | { kind: 'cancel'; id: number }
  /** Pictures that the display no longer has. */
  | { kind: 'forget'; keys: string[] }
  | {
      kind: 'track';
      id: number;
      clip: Clip;
      /** Tracks of the clip, with where each begins. */
      tracks: readonly { track: Track; from: Place }[];
      from: number;
      to: number;
    };

/** A small picture for strips and cards. */
export interface Thumb {
  width: number;
  height: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
}
/** A picture that the display has. Its pixels never come to the page. */
export interface DrawnFrame {
  key: string;
  width: number;
  height: number;
  bytes: number;
  thumb: Thumb;
  milliseconds: number;
  cost: Record<string, number>;
}
/** Bytes that a drawing worker has: remembered steps, frames of clips, and the working memory for its size of shot. */
export interface WorkerMemory {
  steps: number;
  sources: number;
  working: number;
}
/** Where a matte is: the box around what is more than half in it (left, top, right, bottom; whole-shot pixels), and its value at a place. */
export interface FoundMatte {
  id: string;
  box: [number, number, number, number] | null;
  value: number;
}
export type WorkerAnswer =
  /** `drawn` is null where the display has a picture of this key already. */
  | { kind: 'frame'; id: number; key: string; drawn: DrawnFrame | null }
  | { kind: 'codes'; id: number; width: number; height: number; codes: Uint16Array }
  | { kind: 'mattes'; id: number; found: FoundMatte[] }
  | { kind: 'measure'; id: number; scope: Scope }
  /** Null beside the picture, and where none was measured. */
  | { kind: 'values'; id: number; value: [number, number, number, number] | null }
  | { kind: 'contrast'; id: number; contrast: Contrast }
  | { kind: 'front lines'; id: number; lines: FrontLine[] }
  | { kind: 'measured checks'; id: number; checks: Check[] }
  | { kind: 'takes'; id: number; offset?: Likeness | null; place?: Standing; light?: [number, number, number] }
  | { kind: 'sample'; id: number; track: string; sample: TrackSample }
  | { kind: 'tracked'; id: number }
  /** With which of the two mattes it was followed: shadows dropped, where that takes nothing of the body. */
  | { kind: 'isolated'; id: number; bodies: FollowedBody[]; shadow: LightChanges }
  | { kind: 'matte doubts'; id: number; measures: MatteMeasure[] }
  /** Lines around the area, whole-shot pixels. */
  | { kind: 'strokes'; id: number; lines: AreaLine[] }
  /** At `factor` whole-shot pixels to one of theirs. */
  | { kind: 'edge costs'; id: number; costs: EdgeCosts; factor: number }
  /** An outline on the next frame that it was carried to. */
  | { kind: 'carried'; id: number; shape: CarriedShape }
  /** Null where the track is nowhere. */
  | { kind: 'patches'; id: number; patches: (PatchPicture | null)[] }
  | { kind: 'square'; id: number; picture: PatchPicture }
  /** How far long work is, 0..1. */
  | { kind: 'share'; id: number; share: number }
  | { kind: 'moments'; id: number; found: FoundMoment[] }
  | ({ kind: 'memory'; id: number } & WorkerMemory)
  | { kind: 'failed'; id: number; message: string; cancelled: boolean };

/** From the drawing worker to the display. */
export interface DrawnPixels {
  key: string;
  ticket: string;
  /** Null where the display has a picture of this key already. */
  picture: { width: number; height: number; pixels: Uint8ClampedArray<ArrayBuffer> } | null;
}
/** A frame of a film and the picture of it; null while it is not drawn yet. */
export type FilmFrame = { frame: number; key: string | null };
/** From the page to the display. */
export type DisplayRequest =
  | { kind: 'port'; port: MessagePort }
  | { kind: 'canvas'; canvas: OffscreenCanvas }
  /** Size of the sharp pictures that are shown from now on. A draft is drawn in the same room, larger. */
  | { kind: 'room'; width: number; height: number }
  | { kind: 'show'; key: string; frame: number }
  /** Shows what comes by one of these tickets, at once. */
  | { kind: 'await'; tickets: string[]; frame: number }
  | { kind: 'forget'; keys: string[] }
  /** Plays these frames from `at` on; a frame without a picture is waited for. */
  | { kind: 'play'; film: FilmFrame[]; at: number; perSecond: number; loop: boolean }
  /** The picture of a frame that is being played is there now. */
  | { kind: 'film'; frame: number; key: string }
  | { kind: 'stop' };
export type DisplayAnswer =
  /** A picture is on the canvas; the time in milliseconds since the epoch. */
  | { kind: 'shown'; key: string; frame: number; width: number; time: number }
  /** Where the film stands, now and then: frames shown a second, frames that were not shown at all, and what it waits for. */
  | { kind: 'playing'; frame: number; perSecond: number; skipped: number; waitsFor: number | null }
  /** It came to its end. */
  | { kind: 'ended'; frame: number };
