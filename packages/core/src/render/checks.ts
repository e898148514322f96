import { drawnBy, effectOf } from '../effects';
import { hypot } from '../image/exactMath';
import { correctedSamples } from '../motion/repair';
import { clipFrame, clipWithRole, rowRange } from '../shot/query';
import type { Row, Shot } from '../shot/schema';
import { expandRow } from '../shot/expand';
import { rowValues } from './effectSteps';
import { needProblem } from './need';
import { posesOf } from './plan';
import type { Tracks } from './sources';

/** A problem that was measured and can be pointed at. `row` or `track` names the place, `fix` says what to do. */
export interface Check {
  id: string;
  text: string;
  fix: string;
  row?: string;
  track?: string;
  frame?: number;
}

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

/** Twins this near to each other (share of the subject's height) lie on top of each other. */
const TOO_NEAR = 0.015;

/** Twins of a row that stand where another one stands. */
function nearTwins(shot: Shot, row: Row, tracks: Tracks, frame: number): Check[] {
  const poseOf = posesOf(shot, tracks),
    drawn = expandRow(shot, row),
    height = Object.values(shot.subjects)[0]?.pixels ?? shot.height * 0.55,
    places = drawn.map((r) => {
      const pose = r.mount ? poseOf(r.mount, frame) : null,
        place = (r.values.place ?? [0, 0]) as [number, number];
      return pose && [pose.x + place[0], pose.y + place[1]];
    }),
    out: Check[] = [];
  for (let i = 1; i < places.length; i++)
    for (let j = 0; j < i; j++) {
      const [a, b] = [places[i], places[j]];
      if (!a || !b || hypot(a[0]! - b[0]!, a[1]! - b[1]!) > TOO_NEAR * height) continue;
      out.push({
        id: 'twin-near',
        row: row.id,
        frame,
        text: `Twins of ${row.name} stand on top of each other at ${frame}.`,
        fix: 'Hang one on another track, or give it an offset of its own.',
      });
    }
  return out;
}

/** Looks a shot over before it is rendered: tracks that are weak or lost where they are used, removals without a clean plate, rows that are off. */
export function checkShot(shot: Shot, tracks: Tracks): Check[] {
  const found: Check[] = [],
    clean = clipWithRole(shot, 'clean'),
    costly = needProblem(shot);
  if (costly) found.push({ id: 'too-costly', ...costly });
  for (const row of Object.values(shot.rows) as Row[]) {
    const [first, last] = rowRange(shot, row),
      from = Math.max(first, shot.first),
      to = Math.min(last, shot.last);
    if (row.muted) {
      found.push({
        id: 'row-muted',
        row: row.id,
        text: `${row.name} is muted and will not be in the render.`,
        fix: 'Unmute it, or delete it.',
      });
      continue;
    }
    if (!effectOf(row.effect))
      found.push({
        id: 'effect-unknown',
        row: row.id,
        text: `${row.name} uses an effect that is not known here ("${row.effect}"); it was kept and is left out.`,
        fix: 'Open the shot with a version that has it.',
      });
    else if (!drawnBy(row))
      found.push({
        id: 'effect-newer',
        row: row.id,
        text: `${row.name} was made by a newer version of ${effectOf(row.effect)!.title} than there is here; it was kept and is left out.`,
        fix: 'Open the shot with the version that made it.',
      });
    if (from > to)
      found.push({
        id: 'row-outside',
        row: row.id,
        text: `${row.name} runs from ${first} to ${last}, outside the shot.`,
        fix: 'Drag its range into the shot.',
      });
    const effect = drawnBy(row),
      matte = row.source ?? (row.subject ? shot.subjects[row.subject]?.matte : null);
    if (effect) {
      const facts = {
        name: row.name,
        clean: clean !== undefined,
        matte: !!matte && Object.hasOwn(shot.mattes, matte),
        mount: row.mount !== null,
        aim: row.aim !== null,
        element: row.clip !== null,
        values: rowValues(shot, row, from, 1) as never,
      };
      for (const check of effect.checks ?? []) {
        const problem = check.find(facts);
        if (problem) found.push({ id: check.id, row: row.id, frame: from, ...problem });
      }
    }
    if (row.twins.length) found.push(...nearTwins(shot, row, tracks, from));
    const mount = row.mount ? shot.mounts[row.mount] : undefined,
      track = mount ? shot.tracks[mount.track] : undefined,
      clip = track ? shot.clips[track.clip] : undefined;
    if (!track || !clip) continue;
    const states = new Map(correctedSamples(tracks.get(track.id) ?? [], track.corrections).map((s) => [s.frame, s.state]));
    const bad = (state: 'weak' | 'lost') => {
      const out: number[] = [];
      for (let f = from; f <= to; f++) {
        const s = states.get(clipFrame(clip, f)) ?? 'lost';
        if (s === state) out.push(f);
      }
      return out;
    };
    for (const state of ['weak', 'lost'] as const) {
      const frames = bad(state);
      if (frames.length)
        found.push({
          id: `track-${state}`,
          row: row.id,
          track: track.id,
          frame: frames[0],
          text: `${row.name} hangs on ${track.name}, which is ${state} at ${runs(frames)}.`,
          fix: 'Look at these frames on Motion; drag the point where it is wrong, or track again.',
        });
    }
  }
  for (const subject of Object.values(shot.subjects))
    if (!clean && subject.matte && shot.mattes[subject.matte]?.source === 'difference')
      found.push({
        id: 'no-clean-plate',
        text: `The matte of ${subject.name} is a difference from a clean plate, and there is none.`,
        fix: 'Bring one in on Plates and give it the role Clean plate.',
      });
  return found;
}
