import { effectOf } from '../effects';
import { hypot } from '../image/exactMath';
import { matteSources } from '../matte/sources';
import { drawnRows, isIdle, rowValues, type DrawnRow } from '../shot/drawn';
import { momentsOf } from '../placing';
import { clipWithRole, counting } from '../shot/clips';
import type { Shot } from '../shot/schema';
import { cueFrames } from '../shot/when';
import { valueAt } from '../time/curve';
import { baseChecks } from './baseChecks';
import type { Check } from './check';
import { framesOf } from './frames';
import { matteChecks } from './matteChecks';
import { needProblem } from './need';
import { badTracks, groundMissing, mirroredSides, type Found, type Looked } from './trackChecks';
import type { Tracks } from './sources';

export type { Check };

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
function ofEffect({ shot, row, from, to }: Looked): Found[] {
  const facts = {
    name: row.name,
    // Behind a subject that was taken off its plate stands whatever the base has.
    clean: row.clean !== null || !!row.subject?.detached,
    matte: row.source !== null,
    mount: row.mount !== null,
    aim: row.aim !== null,
    element: row.element !== null,
    pattern: row.pattern !== null,
    cues: cueFrames(shot).filter((f) => f >= row.first && f <= row.last).length,
    lines: row.strokes.length,
  };
  // What its curves mend later on is no problem: a rate that rises from nothing is one.
  const frames = [from, (from + to) >> 1, to];
  return (row.effect!.checks ?? []).flatMap((check) => {
    const problems = frames.map((f) => check.find({ ...facts, values: rowValues(row, f, 1) }));
    return problems.every(Boolean) ? [{ id: check.id, frame: from, ...problems[0]! }] : [];
  });
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

const rowChecks: readonly ((looked: Looked) => Found[])[] = [
  ofEffect,
  nearTwins,
  badTracks,
  mirroredSides,
  groundMissing,
  cutCurves,
  drawsNothing,
  elementEnds,
];

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
  found.push(...baseChecks(shot), ...matteChecks(shot));
  if (!clipWithRole(shot, 'clean'))
    for (const subject of Object.values(shot.subjects))
      if (
        subject.matte &&
        counting(shot.mattes[subject.matte]!).sources.some(({ source }) => matteSources[source.kind].inputs.includes('clean'))
      )
        found.push({
          id: 'no-clean-plate',
          text: `The matte of ${subject.name} is a difference from a clean plate, and there is none.`,
          fix: 'Build it from the performance, or bring one in on Plates and give it the role Clean plate.',
          mend: 'clean plate',
        });
  return found;
}
