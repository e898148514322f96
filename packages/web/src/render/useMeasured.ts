import { useEffect, useState } from 'react';
import type { Check } from '@wraithos/core/render';
import type { Shot } from '@wraithos/core/shot';
import { useShot } from '../state/shotStore';
import { measurer } from '../workers/pool';

/** Checks of clean plates and mattes that need pictures; measured once for a document, beside everything that somebody waits for. */
export function useMeasured(): Check[] {
  const shot = useShot((s) => s.shot),
    [found, setFound] = useState<{ of: Shot; checks: Check[] } | null>(null);
  useEffect(() => {
    if (!shot) return;
    const control = new AbortController();
    measurer()
      .ask({ kind: 'measured checks', shot }, 0, control.signal)
      .then(
        (answer) => answer.kind === 'measured checks' && setFound({ of: shot, checks: answer.checks }),
        // Whoever leaves the page, or a clip that is missing: the other checks still stand.
        () => undefined,
      );
    return () => control.abort();
  }, [shot]);
  return found && found.of === shot ? found.checks : [];
}
