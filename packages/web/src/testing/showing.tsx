import { createCanvas } from '@napi-rs/canvas';
import { cleanup, render } from '@testing-library/react';
import type { ReactElement } from 'react';
import { MemoryRouter } from 'react-router';
import { SWRConfig } from 'swr';
import * as s from '@wraithos/core/shot';
import { useShot } from '../state/shotStore';

/** A shot of 1280 x 720 and 96 frames from 1001 on: a performance and its clean plate, a track, a matte, a subject and two effects. */
export function aShot(...more: s.Edit[]): s.Shot {
  const clip = (name: string, role: s.Clip['role'], frames: number): s.NewClip => ({
    name,
    role,
    media: { path: name },
    width: 1280,
    height: 720,
    frames,
    rate: { num: 24, den: 1 },
    alpha: false,
    bits: 8,
    transfer: 'srgb',
    start: 1001,
  });
  const edits = [
    s.addClip(clip('walk', 'performance', 96), 'c1'),
    s.addClip(clip('empty street', 'clean', 1), 'c2'),
    s.addTrack({ id: 't1', name: 'Lantern', clip: 'c1', at: [640, 360], frame: 0 }),
    s.addMatte({ id: 'k1', name: 'Body', source: null, clip: 'c1' }),
    s.addSubject('s1', 'Walker', 'c1'),
    s.changeSubject('s1', { matte: 'k1' }),
    s.addRow({ id: 'r1', effect: 'glow', lane: 'front', subject: 's1', track: 't1' }),
    s.addRow({ id: 'r2', effect: 'blur', lane: 'whole', subject: null }),
    ...more,
  ];
  return edits.reduce(
    (shot, edit) => s.applyEdit(shot, edit).shot,
    s.newShot({ code: 'TW_010', width: 1280, height: 720, rate: { num: 24, den: 1 }, frames: 96 }),
  );
}

/** Opens a shot in the store, as it is after loading, without a server. */
export function opens(shot: s.Shot = aShot()): void {
  useShot.setState({
    id: null,
    shot,
    live: null,
    done: [],
    undone: [],
    notice: null,
    error: null,
    frame: shot.first,
    selection: null,
    outline: null,
    tool: null,
    playing: false,
    aside: [],
    save: 'saved',
  });
}
export const shotNow = (): s.Shot => useShot.getState().shot!;

/** Shows a part of the interface. Nothing is asked of a server: what is not in `answers` stays open. */
export function show(what: ReactElement, answers: Record<string, unknown> = {}) {
  return render(
    <SWRConfig
      value={{ provider: () => new Map(), fallback: answers, revalidateIfStale: false, fetcher: () => new Promise(() => undefined) }}
    >
      <MemoryRouter>{what}</MemoryRouter>
    </SWRConfig>,
  );
}

/** Canvases that can be drawn on, which jsdom does not have, and a fresh page for every test. */
export function fillIn(): void {
  HTMLCanvasElement.prototype.getContext = function (this: HTMLCanvasElement) {
    return createCanvas(Math.max(1, this.width), Math.max(1, this.height)).getContext('2d');
  } as never;
  afterEach(cleanup);
}
