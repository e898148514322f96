import type { Codes } from '../image/picture';
import type { TrackSample } from '../motion/pointTracker';
import type { Clip, Shot } from '../shot/schema';

/** Where pictures and measured tracks come from: the network in a browser, the frame store on the server, files on the command line. */
export interface Sources {
  /** Source codes of one frame of a clip. @throws an Error in plain words where the medium is missing. */
  frame(clip: Clip, frame: number): Promise<Codes>;
  samples(hash: string): Promise<TrackSample[]>;
}

export type Tracks = ReadonlyMap<string, readonly TrackSample[]>;

/** Loads the samples of every measured track of a shot, by track id. */
export async function loadTracks(shot: Shot, sources: Sources): Promise<Tracks> {
  const out = new Map<string, readonly TrackSample[]>();
  for (const track of Object.values(shot.tracks)) out.set(track.id, track.samples ? await sources.samples(track.samples) : []);
  return out;
}
