import type { View } from '../state/frameCache';
import { useDocument, useShot } from '../state/shotStore';
import type { Step } from '../workbench/steps';

/** What the picture shows in a step: everything, the picture up to a row, the base alone, or a matte on it. */
export function useView(step: Step): View {
  const shot = useDocument(),
    { factor, selection, matteView, upToSelected } = useShot(),
    matte = selection?.kind === 'matte' && shot.mattes[selection.id] ? selection.id : null,
    row = selection?.kind === 'row' && shot.rows[selection.id] ? selection.id : null;
  return {
    factor,
    upTo: upToSelected ? row : null,
    plain: step !== 'effects',
    matte: step === 'mattes' && matte && matteView !== 'off' ? { id: matte, view: matteView } : null,
  };
}
