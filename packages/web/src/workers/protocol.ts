import type { TrackSample } from '@wraithos/core/motion';
import type { Factor, MatteView } from '@wraithos/core/render';
import type { Clip, Shot } from '@wraithos/core/shot';

/** What the page asks of a worker. A request says what it is for, so that stale ones can be dropped. */
export type WorkerRequest =
  | {
      kind: 'frame';
      id: number;
      shot: Shot;
      frame: number;
      factor: Factor;
      upTo: string | null;
      plain: boolean;
      matte: { id: string; view: MatteView } | null;
    }
  | { kind: 'codes'; id: number; shot: Shot; frame: number }
  | { kind: 'cancel'; id: number }
  | {
      kind: 'track';
      id: number;
      clip: Clip;
      at: [number, number];
      from: number;
      to: number;
      pattern: number;
      search: number;
      policy: 'drift-corrected' | 'fixed' | 'rolling';
    };

export interface DrawnFrame {
  width: number;
  height: number;
  pixels: Uint8ClampedArray<ArrayBuffer>;
  milliseconds: number;
  cost: Record<string, number>;
}
export type WorkerAnswer =
  | { kind: 'frame'; id: number; drawn: DrawnFrame }
  | { kind: 'codes'; id: number; width: number; height: number; codes: Uint16Array }
  | { kind: 'sample'; id: number; sample: TrackSample }
  | { kind: 'tracked'; id: number }
  | { kind: 'failed'; id: number; message: string; cancelled: boolean };
