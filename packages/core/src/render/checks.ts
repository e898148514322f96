import { effects } from '../effects';
import { correctedSamples } from '../motion/repair';
import { clipFrame, clipWithRole, rowRange } from '../shot/query';
import type { Row, Shot } from '../shot/schema';
import { rowValues } from './effectSteps';
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

/** Looks a shot over before it is rendered: tracks that are weak or lost where they are used, removals without a clean plate, rows that are off. */
export function checkShot(shot: Shot, tracks: Tracks): Check[] {
  const found: Check[] = [],
    clean = clipWithRole(shot, 'clean');
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
    if (!effects[row.effect])
      found.push({
        id: 'effect-unknown',
        row: row.id,
        text: `${row.name} uses an effect that is not known here ("${row.effect}"); it was kept and is left out.`,
        fix: 'Open the shot with a version that has it.',
      });
    if (from > to)
      found.push({
        id: 'row-outside',
        row: row.id,
        text: `${row.name} runs from ${first} to ${last}, outside the shot.`,
        fix: 'Drag its range into the shot.',
      });
    const effect = effects[row.effect],
      matte = row.source ?? (row.subject ? shot.subjects[row.subject]?.matte : null);
    if (effect) {
      const facts = {
        name: row.name,
        clean: clean !== undefined,
        matte: !!matte && matte in shot.mattes,
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
