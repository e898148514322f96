import { useEffect, useState } from 'react';
import { contrastProblem, type Check } from '@wraithos/core/render';
import { drawnRows, whyNotVisible, type Shot } from '@wraithos/core/shot';
import { useShot } from '../state/shotStore';
import { drawer } from '../workers/pool';

/** Behind everything that somebody waits for. */
const BEHIND = 1;

/** Effects that hardly change the picture in the middle of their range: measured one after another, since each takes two small frames. */
export function useUnseen(): Check[] {
  const shot = useShot((s) => s.shot),
    [found, setFound] = useState<{ of: Shot; checks: Check[] } | null>(null);
  useEffect(() => {
    if (!shot) return;
    const control = new AbortController();
    const measure = async () => {
      const checks: Check[] = [];
      for (const row of drawnRows(shot).rows) {
        const frame = Math.round((Math.max(row.first, shot.first) + Math.min(row.last, shot.last)) / 2);
        if (row.id !== row.row || whyNotVisible(row, frame) !== null || row.effect!.removes) continue;
        const answer = await drawer().ask({ kind: 'contrast', shot, row: row.row, frame }, BEHIND, control.signal),
          problem = answer.kind === 'contrast' ? contrastProblem(row.name, !!row.effect!.light, answer.contrast) : null;
        if (!problem) continue;
        checks.push({ id: 'cannot-read', row: row.row, frame, ...problem });
        setFound({ of: shot, checks: [...checks] });
      }
    };
    // Whoever leaves the page, or a clip that is missing: the other checks still stand.
    measure().catch(() => undefined);
    return () => control.abort();
  }, [shot]);
  return found && found.of === shot ? found.checks : [];
}
