import { effectOf } from '../effects';
import { hypot } from '../image/exactMath';
import { matteSources } from '../matte/sources';
import { doubtsOf } from '../motion/doubts';
import { isMeasured, trackKinds } from '../motion/kinds';
import { knownSamples } from '../motion/layers';
import type { TrackSample } from '../motion/pointTracker';
import { drawnRows, isIdle, rowValues, type DrawnRow } from '../shot/drawn';
import { momentsOf } from '../placing';
import { clipFrame } from '../shot/when';
import { clipWithRole } from '../shot/clips';
import type { Shot, Track } from '../shot/schema';
import { valueAt } from '../time/curve';
import { baseChecks } from './baseChecks';
import type { Check } from './check';
import { framesOf, type Mounts } from './frames';
import { needProblem } from './need';
import type { Tracks } from './sources';

export type { Check };

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
interface Looked {
  shot: Shot;
  tracks: Tracks;
  mounts: Mounts;
  row: DrawnRow;
  places: readonly DrawnRow[];
  from: number;
  to: number;
}
type Found = Omit<Check, 'row'>;

/** Twins this near to each other (share of the subject's height) lie on top of each other. */
const TOO_NEAR = 0.015;
function nearTwins({ mounts, row, places, from }: Looked): Found[] {
  const points = places.map((place) => {
    const frame = place.mount ? mounts.at(place.mount, from, place.subject?.id) : null;
    return frame?.toPicture((place.values.place ?? [0, 0]) as [number, number]);
  });
  for (let i = 1; i < points.length; i++)
    for (let j = 0; j < i; j++) {
      const [a, b] = [points[i], points[j]];
      if (a && b && hypot(a[0] - b[0], a[1] - b[1]) <= TOO_NEAR * row.subjectPixels)
        return [
          {
            id: 'twin-near',
            frame: from,
            text: `Twins of ${row.name} stand on top of each other at ${from}.`,
            fix: 'Hang one on another track, or give it an offset of its own.',
          },
        ];
    }
  return [];
}

/** What the effect itself says of its row. */
function ofEffect({ row, from }: Looked): Found[] {
  const facts = {
    name: row.name,
    // Behind a subject that was taken off its plate stands whatever the base has.
    clean: row.clean !== null || !!row.subject?.detached,
    matte: row.source !== null,
    mount: row.mount !== null,
    aim: row.aim !== null,
    element: row.element !== null,
    values: rowValues(row, from, 1),
  };
  return (row.effect!.checks ?? []).flatMap((check) => {
    const problem = check.find(facts);
    return problem ? [{ id: check.id, frame: from, ...problem }] : [];
  });
}

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
function badTracks({ shot, tracks, mounts, row, places, from, to }: Looked): Found[] {
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

/** Curves that have not come to their last value when their row ends. */
function cutCurves({ row, to }: Looked): Found[] {
  return Object.entries(row.curves).flatMap(([key, curve]) => {
    const end = curve.points.at(-1)!,
      p = row.effect!.params[key.replace(/\.[xy]$/, '')],
      reached = valueAt(curve, to - row.first);
    if (!p || end.frame <= to - row.first || Math.abs(reached - end.value) < 1e-6) return [];
    const unit = p.unit ? ` ${p.unit}` : '',
      later = end.frame - (to - row.first);
    return [
      {
        id: 'curve-cut',
        frame: to,
        text: `${row.name} ends at ${to} with ${p.title} at ${Math.round(reached * 10) / 10}${unit}: its curve reaches ${end.value}${unit} only ${later} frame${later === 1 ? '' : 's'} later.`,
        fix: 'Make the effect longer, or move the last point of the curve to its end.',
      },
    ];
  });
}

/** A row whose values draw nothing at any of its frames. */
function drawsNothing({ row, from, to }: Looked): Found[] {
  for (let f = from; f <= to; f++) if (!isIdle(row, f)) return [];
  return [
    {
      id: 'row-idle',
      frame: from,
      text: `${row.name} draws nothing at any of its frames.`,
      fix: 'Look at its strength, amount or progress, and at their curves; or remove it.',
    },
  ];
}

/** An element whose clip is over before its row is, or that has no frame for some of it. */
function elementEnds({ shot, row, from, to }: Looked): Found[] {
  if (!row.element || !Object.values(row.effect!.inputs).some((i) => i.kind === 'moment')) return [];
  for (let f = from; f <= to; f++)
    if (!momentsOf(row.values, row.curves, f - row.first, row.element, shot.rate).length)
      return [
        {
          id: 'element-ends',
          frame: f,
          text: `${row.element.name} is over at ${f}, and ${row.name} goes on to ${to}.`,
          fix: 'Let it loop or stay at its last frame, slow it down, or make the effect shorter.',
        },
      ];
  return [];
}

const rowChecks: readonly ((looked: Looked) => Found[])[] = [ofEffect, nearTwins, badTracks, cutCurves, drawsNothing, elementEnds];

/** Why a row is drawn at no frame at all. */
function never(shot: Shot, row: DrawnRow): Found {
  const entry = shot.rows[row.row]!,
    group = entry.group ? shot.groups[entry.group] : undefined,
    known = effectOf(row.type);
  if (!known)
    return {
      id: 'effect-unknown',
      text: `${row.name} uses an effect that is not known here ("${row.type}"); it was kept and is left out.`,
      fix: 'Open the shot with a version that has it.',
    };
  if (!row.effect)
    return {
      id: 'effect-newer',
      text: `${row.name} was made by a newer version of ${known.title} than there is here; it was kept and is left out.`,
      fix: 'Open the shot with the version that made it.',
    };
  if (entry.muted || group?.muted)
    return {
      id: 'row-muted',
      text: `${row.name} is muted${entry.muted ? '' : ` with its group ${group!.name}`} and will not be in the render.`,
      fix: entry.muted ? 'Unmute it, or remove it.' : 'Unmute the group.',
    };
  return {
    id: 'row-hidden',
    text: `${row.name} will not be in the render: ${row.never}.`,
    fix: 'Show it, or remove it.',
  };
}

/**
 * Looks a shot over before it is rendered: tracks that are weak or lost where they are used, removals without a clean plate, effects that nobody can
 * see, curves that are cut off, and a cost that is too high.
 * @param tracks the measured samples of each track, by its id.
 */
export function checkShot(shot: Shot, tracks: Tracks): Check[] {
  const found: Check[] = [],
    drawn = drawnRows(shot),
    mounts = framesOf(shot, tracks),
    costly = needProblem(shot);
  if (costly) found.push({ id: 'too-costly', ...costly });
  for (const id of Object.keys(shot.rows)) {
    const places = drawn.of(id),
      row = places[0]!,
      from = Math.max(row.first, shot.first),
      to = Math.min(row.last, shot.last);
    if (row.never !== null) found.push({ row: id, ...never(shot, row) });
    else if (from > to)
      found.push({
        id: 'row-outside',
        row: id,
        text: `${row.name} runs from ${row.first} to ${row.last}, outside the shot.`,
        fix: 'Drag its range into the shot.',
      });
    else
      for (const look of rowChecks)
        for (const one of look({ shot, tracks, mounts, row, places, from, to })) found.push({ row: id, ...one });
  }
  found.push(...baseChecks(shot));
  if (!clipWithRole(shot, 'clean'))
    for (const subject of Object.values(shot.subjects))
      if (subject.matte && shot.mattes[subject.matte] && matteSources[shot.mattes[subject.matte]!.source.kind].inputs.includes('clean'))
        found.push({
          id: 'no-clean-plate',
          text: `The matte of ${subject.name} is a difference from a clean plate, and there is none.`,
          fix: 'Build it from the performance, or bring one in on Plates and give it the role Clean plate.',
          mend: 'clean plate',
        });
  return found;
}
