import { useEffect, useState } from 'react';
import { knownSamples, rectangleOf, drawnCorners, trackKinds, type PatchPicture } from '@wraithos/core/motion';
import { clipFrame, type Track } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { ThumbCanvas } from '../ui/ThumbCanvas';
import { useTracks } from '../workbench/tracks';
import { measurer } from '../workers/pool';

/** Side of a tile, screen pixels; frames that are asked for at a time; and pixels of the clip that a track without a box shows. */
const TILE = 40,
  AT_A_TIME = 8,
  USUAL = 61;

/** Pixels of the clip to each side of what a track shows of itself. */
function sideOf(track: Track): number {
  const kind = trackKinds[track.kind],
    values = track as unknown as Record<string, number>;
  if (kind.corners) {
    const { width, height } = rectangleOf(drawnCorners(track as never, track.at), 0);
    return Math.max(width, height);
  }
  return kind.boxes[0] ? values[kind.boxes[0]]! : USUAL;
}

/** What a track follows, cut from every frame without its motion: a frame that is wrong leaps to the eye, and a press goes there. */
export function TrackPatches({ track }: { track: Track }) {
  const shot = useDocument(),
    tracks = useTracks(),
    { frame, set } = useParts('frame', 'set'),
    clip = shot.clips[track.clip],
    frames = clip ? Array.from({ length: shot.last - shot.first + 1 }, (_, i) => shot.first + i) : [],
    known = new Map(knownSamples(tracks.get(track.id) ?? [], track).map((s) => [s.frame, s.state])),
    // Cut anew whenever the track goes another way.
    key = JSON.stringify([track, shot.first, shot.last]),
    [cut, setCut] = useState<{ key: string; patches: Map<number, PatchPicture | null> }>({ key: '', patches: new Map() });
  useEffect(() => {
    if (!clip) return;
    const control = new AbortController(),
      patches = new Map<number, PatchPicture | null>(),
      wanted = [...new Set(frames.map((f) => clipFrame(shot, clip, f)))];
    void (async () => {
      for (let i = 0; i < wanted.length; i += AT_A_TIME) {
        const some = wanted.slice(i, i + AT_A_TIME),
          answer = await measurer().ask(
            { kind: 'patches', shot, track: track.id, frames: some, side: sideOf(track), size: TILE },
            30,
            control.signal,
          );
        if (answer.kind !== 'patches' || control.signal.aborted) return;
        answer.patches.forEach((patch, k) => patches.set(some[k]!, patch));
        setCut({ key, patches: new Map(patches) });
      }
    })().catch(() => undefined);
    return () => control.abort();
  }, [key]); // eslint-disable-line react-hooks/exhaustive-deps -- the key says all that counts
  if (!clip) return null;
  return (
    <div className="patches" role="list" aria-label={`Pattern of ${track.name} on every frame`}>
      {frames.map((f) => {
        const ofClip = clipFrame(shot, clip, f),
          patch = cut.patches.get(ofClip),
          state = known.get(ofClip),
          bad = state === 'weak' || state === 'lost';
        return (
          <button
            key={f}
            type="button"
            role="listitem"
            className={`patch ${f === frame ? 'now' : ''} ${bad ? 'bad' : ''}`}
            title={`${f}${state ? `, ${state === 'keyed' ? 'set by hand' : state}` : ''}`}
            aria-label={`Frame ${f}`}
            onClick={() => set({ frame: f, playing: false })}
          >
            {patch ? <ThumbCanvas thumb={patch} width={TILE} height={TILE} /> : <span>{state === 'lost' ? '×' : ''}</span>}
          </button>
        );
      })}
    </div>
  );
}
