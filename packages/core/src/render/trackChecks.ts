import { otherSide } from '../motion/face';
import { doubtsOf } from '../motion/doubts';
import { isMeasured, trackKinds } from '../motion/kinds';
import { knownSamples } from '../motion/layers';
import type { TrackSample } from '../motion/pointTracker';
import { appearanceOf } from '../shot/appearance';
import { rowValues, type DrawnRow } from '../shot/drawn';
import type { Shot, Track } from '../shot/schema';
import { clipFrame } from '../shot/when';
import type { Check } from './check';
import type { Mounts } from './frames';
import type { Tracks } from './sources';

/** Runs of whole numbers as text: 1041, 1050–1053. */
function runs(frames: number[]): string {
  const out: string[] = [];
  for (let i = 0; i < frames.length;) {
    let j = i;
    while (frames[j + 1] === frames[j]! + 1) j++;
    out.push(i === j ? `${frames[i]}` : `${frames[i]}–${frames[j]}`);
    i = j + 1;
  }
  return out.slice(0, 4).join(', ') + (out.length > 4 ? ` and ${out.length - 4} more` : '');
}

/** What a check of rows looks at: a row as it is drawn (its twins after it), and the frames of it that are in the shot. */
export interface Looked {
  shot: Shot;
  tracks: Tracks;
  mounts: Mounts;
  row: DrawnRow;
  places: readonly DrawnRow[];
  from: number;
  to: number;
}
export type Found = Omit<Check, 'row'>;

type Bad = 'weak' | 'lost' | 'untracked';
/** What is wrong with a track at a frame of its clip; null where it is right, or is not measured there at all. */
function stateOf(track: Track, samples: readonly TrackSample[], mounts: Mounts): (clipFrame: number) => Bad | null {
  const kind = trackKinds[track.kind],
    states = new Map(samples.map((s) => [s.frame, s.state]));
  if (kind.keyed || kind.opens) return () => null;
  if (!isMeasured(kind))
    return (at) => {
      const there = mounts.ofTrack(track.id, at);
      return !there || there.lost ? 'lost' : there.certain ? null : 'weak';
    };
  // What has corners stands as it was drawn before it is tracked, as it should before a camera that stands still.
  if (!samples.length && kind.corners) return () => null;
  return (at) => {
    const state = states.get(at);
    return state === undefined ? 'untracked' : state === 'weak' || state === 'lost' ? state : null;
  };
}

/** Frames at which a track that a row uses was not measured well. A row that does without its mount, or bears its loss, is not asked. */
export function badTracks({ shot, tracks, mounts, row, places, from, to }: Looked): Found[] {
  const e = row.effect!,
    out: Found[] = [],
    seen = new Set<string>();
  for (const place of places)
    for (const input of ['mount', 'aim'] as const) {
      const mount = place[input] ? shot.mounts[place[input]] : undefined,
        track: Track | undefined = mount && shot.tracks[mount.track],
        clip = track && shot.clips[track.clip],
        name = Object.keys(e.inputs).find((key) => e.inputs[key]!.kind === input);
      if (!track || !clip || !name || seen.has(track.id)) continue;
      seen.add(track.id);
      const samples = knownSamples(tracks.get(track.id) ?? [], track),
        stateAt = stateOf(track, samples, mounts),
        jumps = new Map(doubtsOf(samples).flatMap((d) => (d.kind === 'jump' ? [[d.first, d.size] as const] : []))),
        bad: Record<Bad, number[]> = { weak: [], lost: [], untracked: [] },
        held = mount!.time === 'follows' ? null : clipFrame(shot, clip, mount!.heldAt);
      let jump: { frame: number; size: number } | null = null;
      for (let f = from; f <= to; f++) {
        const at = held ?? clipFrame(shot, clip, f),
          state = stateAt(at),
          size = jumps.get(at) ?? 0;
        if (state === null && size <= (jump?.size ?? 0)) continue;
        const v = rowValues(place, f, 1);
        if (e.without?.(v).includes(name) || (state === 'lost' && (mount!.fade > 0 || e.bearsLoss?.(v)))) continue;
        if (state) bad[state].push(f);
        else jump = { frame: f, size };
      }
      if (jump)
        out.push({
          id: 'track-jump',
          track: track.id,
          frame: jump.frame,
          text: `${row.name} ${input === 'mount' ? 'hangs on' : 'aims at'} ${track.name}, which jumps by ${jump.size.toFixed(1)} px at ${jump.frame}.`,
          fix: 'Look at it under Doubtful frames on Motion: fill it in from its neighbours, or drag the point where it belongs.',
        });
      for (const state of ['weak', 'lost', 'untracked'] as const)
        if (bad[state].length)
          out.push({
            id: `track-${state}`,
            track: track.id,
            frame: bad[state][0],
            text: `${row.name} ${input === 'mount' ? 'hangs on' : 'aims at'} ${track.name}, which ${state === 'untracked' ? 'was not tracked' : `is ${state}`} at ${runs(bad[state])}.`,
            fix:
              state === 'untracked'
                ? 'Track it over these frames on Motion: until then it stands where it was seen last.'
                : 'Look at these frames on Motion; drag the track where it is wrong, or track again.',
          });
    }
  return out;
}

/** Pixels by which an offset lies to one side at the least. */
const ASIDE = 1;
/** Twins on both sides of a face that lie off to the same side of it, and tracks of a side that a mirrored clip shows on the other one. */
export function mirroredSides({ shot, row, places, from }: Looked): Found[] {
  const out: Found[] = [],
    sides = places.flatMap((place) => {
      const track = place.mount ? shot.tracks[shot.mounts[place.mount]!.track] : undefined;
      return track?.kind === 'face part' && otherSide(track.part) !== track.part ? [{ place, track }] : [];
    }),
    aside = (place: DrawnRow) =>
      ((place.values.place as readonly [number, number] | undefined)?.[0] ?? 0) + shot.mounts[place.mount!]!.offset[0];
  for (const [i, { place, track }] of sides.entries()) {
    const other = sides.slice(0, i).find((one) => one.track.part === otherSide(track.part));
    if (other && Math.abs(aside(place)) > ASIDE && aside(place) * aside(other.place) > 0)
      out.push({
        id: 'side-same',
        track: track.id,
        frame: from,
        text: `${row.name} lies off to the same side of ${other.track.name} and ${track.name}.`,
        fix: 'Mirror the twin: then it lies off to the outside, or to the inside, of both.',
      });
    const matrix = appearanceOf(shot, shot.clips[track.clip]!, from).matrix;
    if (matrix && matrix[0]! * matrix[4]! - matrix[1]! * matrix[3]! < 0)
      out.push({
        id: 'side-mirrored',
        track: track.id,
        frame: from,
        text: `${row.name} hangs on ${track.name}, and its clip is shown mirrored: that is on the other side of the screen.`,
        fix: "Left and right of a face are the person's own, as in the clip. Hang it on the other side if the screen is meant.",
      });
  }
  return out;
}

/** Degrees of tilt from which something is meant to lie on the floor. */
const FLAT = [65, 88] as const;
/** What is tilted by hand until it seems to lie on the floor, where the shot has no ground that says how that lies. */
export function groundMissing({ shot, row, from }: Looked): Found[] {
  const tilt = rowValues(row, from, 1).tilt,
    track = row.mount ? shot.tracks[shot.mounts[row.mount]!.track] : undefined,
    lies = typeof tilt === 'number' && Math.abs(tilt) >= FLAT[0] && Math.abs(tilt) <= FLAT[1];
  if (row.type !== 'ring' || !lies || track?.kind === 'ground' || track?.kind === 'plane') return [];
  if (Object.values(shot.tracks).some((t) => t.kind === 'ground')) return [];
  return [
    {
      id: 'ground-missing',
      frame: from,
      text: `${row.name} lies on the floor by a guessed tilt of ${Math.round(tilt)} degrees: the shot has no ground.`,
      fix: 'Add a Ground on Motion by a rectangle of known size, hang it on that, and set its tilt to 0.',
    },
  ];
}
