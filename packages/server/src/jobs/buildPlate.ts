import { FrameRenderer } from '@wraithos/core/render';
import { clipParams } from '@wraithos/core/placing';
import type { PlateReport } from '@wraithos/core/plate';
import { newPlacing, type MadePlate, type Shot } from '@wraithos/core/shot';
import { bandThreads, BlobStore, FrameStore, keepPlate, MediaError, plateOf, type StoredInfo } from '@wraithos/runtime';

/** A clip of a shot, of which a clean plate is to be built. */
export interface PlateTask {
  kind: 'plate';
  shot: Shot;
  clip: string;
  settings: Pick<MadePlate, 'camera' | 'flicker' | 'grain' | 'first' | 'last' | 'matte'>;
  framesFolder: string;
  blobsFolder: string;
  /** Name of the folder in the store that holds it until it is whole. */
  part: string;
  helpers: number;
}
export interface PlateDone {
  hash: string;
  info: StoredInfo;
  report: PlateReport;
  doubt: string | null;
}

/** The shot with nothing but a clip as it was filmed: mattes are made in a clip's own frames and pixels. */
function filmed(shot: Shot, id: string): Shot {
  const clip = shot.clips[id]!;
  return {
    ...shot,
    width: clip.width,
    height: clip.height,
    rate: clip.rate,
    first: 0,
    last: clip.frames - 1,
    clips: Object.fromEntries(
      Object.entries(shot.clips)
        .filter(([, c]) => c.continues !== id)
        .map(([key, c]) => [key, key === id ? { ...c, start: 0, placed: newPlacing(clipParams) } : c]),
    ),
    subjects: Object.fromEntries(Object.entries(shot.subjects).map(([key, s]) => [key, { ...s, detached: false }])),
  };
}

/** How far a matte covers the cells of a clip's frames. */
function coveredBy(task: PlateTask, store: FrameStore): (frame: number, columns: number, rows: number) => Promise<Float32Array> {
  const { matte } = task.settings,
    shot = filmed(task.shot, task.clip),
    blobs = new BlobStore(task.blobsFolder),
    renderer = new FrameRenderer(
      {
        frame: (clip, frame) => {
          if (!('hash' in clip.media)) throw new MediaError(`its clip ${clip.name} is not in the store`);
          return store.codes(clip.media.hash, frame);
        },
        samples: (hash) => blobs.get(hash),
      },
      shot,
      64 * 2 ** 20,
      undefined,
      false,
    );
  return (frame, columns, rows) =>
    renderer.renderMatte(shot, matte!, frame, 4, ({ width, height, data }) => {
      const out = new Float32Array(columns * rows),
        kx = columns / width,
        ky = rows / height;
      for (let y = 0, i = 0; y < height; y++)
        for (let x = 0; x < width; x++, i++) {
          const cell = Math.min(rows - 1, Math.floor((y + 0.5) * ky)) * columns + Math.min(columns - 1, Math.floor((x + 0.5) * kx));
          if (data[i]! > out[cell]!) out[cell] = data[i]!;
        }
      return out;
    });
}

/** Builds a clean plate and keeps it in the store. @throws MediaError in plain words that follow the clip's name. */
export async function buildPlateTask(task: PlateTask, progress: (value: { done: number; what: string }) => void): Promise<PlateDone> {
  const store = new FrameStore(task.framesFolder),
    { media } = task.shot.clips[task.clip]!,
    { first, last, matte, camera, flicker, grain } = task.settings,
    helpers = bandThreads(task.helpers);
  if (!('hash' in media)) throw new MediaError('it is not in the store');
  try {
    const built = await plateOf(
      store,
      media.hash,
      { camera, flicker, grain, use: Array.from({ length: last - first + 1 }, (_, i) => first + i) },
      {
        helpers,
        covered: matte && task.shot.mattes[matte] ? coveredBy(task, store) : undefined,
        tell: (done, what) => progress({ done: 0.9 * done, what }),
      },
    );
    return await keepPlate(store, built, (n, of) => progress({ done: 0.9 + (0.1 * n) / of, what: `keeping ${n} of ${of}` }), task.part);
  } finally {
    await helpers.close();
  }
}
