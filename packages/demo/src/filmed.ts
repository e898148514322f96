import type { Arena, Picture } from '@wraithos/core/image';
import type { Stance } from './figure/stance';
import { eyeOf, glassOf, pinOf } from './figure/ilse';
import { project, type Camera } from './figure/view';
import type { V3 } from './figure/vector';
import type { StillSet, Take } from './film';
import { TALL } from './measures';

/** A still that belongs to a shot: a picture to be developed, or coverage. */
export interface Still {
  name: string;
  picture?: Picture;
  cover?: Float32Array;
  /** Kept in all of its colours; where nothing is said, in the 256 that serve it best, dithered: a quarter of the size. */
  allColours?: boolean;
}

/** How a filmed shot is made: its set once, in bands of rows, then frame by frame. Every pixel depends on nothing but its place, its frame and fixed seeds. */
export interface Filmed {
  code: string;
  frames: number;
  /** Another take of a shot: its files lie in the shot's folder under this name. */
  take?: { folder: string; name: string };
  /** Frames a second, where they are not 24. */
  rate?: number;
  /** Rows of the set, beginning and end of which a band may ask for. */
  rows: readonly [number, number];
  set(rows: readonly [number, number]): StillSet;
  frame(set: StillSet, frame: number, arena: Arena): Take;
  stills(set: StillSet, arena: Arena): Still[];
  /** A reference clip, from the coverage of all frames. */
  reference?(mattes: readonly Uint8Array[]): { frames: Uint8Array[]; width: number; height: number };
  truth(): Record<string, unknown>;
}

export type Place = readonly [number, number];
export const rounded = ({ x, y }: { x: number; y: number }): Place => [Math.round(x * 1000) / 1000, Math.round(y * 1000) / 1000];

/** Where the named points of Ilse are seen at a frame. `shift` is where the camera stands, in pixels. */
export function seen(camera: Camera, s: Stance, shift = { x: 0, y: 0 }): Record<string, Place> {
  const at = (p: V3): Place => {
    const { x, y } = project(camera, p);
    return rounded({ x: x + shift.x, y: y + shift.y });
  };
  const glass = glassOf(s);
  return {
    pin: at(pinOf(s)),
    rightHand: at(s.arms[0].hand),
    leftHand: at(s.arms[1].hand),
    ...(glass ? { lantern: at(glass) } : {}),
    rightEye: at(eyeOf(s, -1)),
    leftEye: at(eyeOf(s, 1)),
    rightFoot: at([s.legs[0].ankle[0], 0, s.legs[0].ankle[2]]),
    leftFoot: at([s.legs[1].ankle[0], 0, s.legs[1].ankle[2]]),
  };
}
/** The same for all frames: one list for each point. */
export function seenOver(frames: number, at: (frame: number) => Record<string, Place>): Record<string, Place[]> {
  const out: Record<string, Place[]> = {};
  for (let f = 0; f < frames; f++) for (const [name, place] of Object.entries(at(f))) (out[name] ??= []).push(place);
  return out;
}

export { TALL };
export const tallAt = (camera: Camera, depth: number): number => Math.round((camera.focal * TALL) / depth);
export const groundTruth = (camera: Camera): Record<string, unknown> => ({
  about: 'The planks: a place x, z (metres right of and away from the camera) is seen at centre + focal (x, height) / z.',
  focal: camera.focal,
  height: camera.height,
  centre: camera.centre,
});
