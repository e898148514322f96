import { FrameStore, hashMedium, MediaError, probe, type MediaInfo, type StoredInfo } from '@wraithos/runtime';

/** An uploaded medium, to be decoded into the frame store. */
export interface BringInTask {
  kind: 'bring in';
  /** A file or folder of our own making. */
  path: string;
  framesFolder: string;
  /** Name of the folder in the store that holds it until it is whole. */
  part: string;
}
export interface BroughtIn {
  hash: string;
  info: StoredInfo;
  /** Frames that the medium said it has. */
  promised: number;
}
/** How far it is: the medium's facts first, then bytes read, then the name that it will have in the store, then frames. */
export type BringInProgress = { info: MediaInfo } | { read: number } | { hash: string } | { frame: number };

/** Reads a medium into the frame store. @throws MediaError in plain words that follow its name. */
export async function bringIn(task: BringInTask, progress: (value: BringInProgress) => void): Promise<BroughtIn> {
  const store = new FrameStore(task.framesFolder);
  const info = await probe(task.path).catch((error: unknown) => {
    // The name of our own file means nothing to anybody.
    throw error instanceof MediaError ? new MediaError(error.message.replace(/^[^:]*: /, '')) : error;
  });
  progress({ info });
  let told = 0;
  const hash = await hashMedium(task.path, (read) => {
    if (read - told < 64 * 2 ** 20) return;
    told = read;
    progress({ read });
  });
  progress({ hash });
  const stored = (await store.has(hash))
    ? await store.info(hash)
    : await store.add(hash, task.path, info, (frame) => progress({ frame }), undefined, task.part);
  return { hash, info: stored, promised: info.frames };
}
