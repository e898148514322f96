import { useEffect, useState } from 'react';
import { contrastProblem } from '@wraithos/core/render';
import { effectOf } from '@wraithos/core/effects';
import type { Row } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { drawer } from '../workers/pool';
import type { WorkerAnswer } from '../workers/protocol';

/** How long nothing may change before a row is measured, milliseconds. */
const REST = 900;

/** What was measured to be wrong with how a row reads at this frame; null while it reads, is not live, or was not measured yet. */
export function useContrast(row: Row, live: boolean): { text: string; fix: string } | null {
  const shot = useDocument(),
    { frame, playing } = useParts('frame', 'playing'),
    [found, setFound] = useState<{ text: string; fix: string } | null>(null);
  useEffect(() => {
    setFound(null);
    if (!live || playing || effectOf(row.effect)?.removes) return;
    const control = new AbortController(),
      timer = setTimeout(() => {
        drawer()
          .ask({ kind: 'contrast', shot, row: row.id, frame }, 0, control.signal)
          .then(
            (answer) => {
              const { contrast } = answer as Extract<WorkerAnswer, { kind: 'contrast' }>;
              if (!control.signal.aborted) setFound(contrastProblem(row.name, !!effectOf(row.effect)?.light, contrast));
            },
            // Somebody went on working; it is measured again when the hand rests.
            () => undefined,
          );
      }, REST);
    return () => {
      clearTimeout(timer);
      control.abort();
    };
  }, [shot, row, frame, live, playing]);
  return found;
}
