import { Layers } from 'lucide-react';
import { useState } from 'react';
import { effectOf } from '@wraithos/core/effects';
import { drawnRows, whyNotVisible, type Row } from '@wraithos/core/shot';
import { CurveEditor, CurveList } from '../cues/Curves';
import { EffectLines } from '../cues/EffectLines';
import type { TimeScale } from '../cues/scale';
import { Stockroom } from '../elements/Stockroom';
import { DepthStack } from '../stack/DepthStack';
import { useDocument, useShot, useParts } from '../state/shotStore';
import { IconButton } from '../ui/IconButton';
import { EffectOverlay } from '../viewer/EffectOverlay';
import { SubjectOverlay } from '../viewer/PlacedOverlay';
import type { Space } from '../viewer/space';
import type { StepDefinition } from './describe';

/** The selected row, where its effect is known here. */
function useSelectedRow(): Row | null {
  const shot = useDocument(),
    selection = useShot((s) => s.selection),
    row = selection?.kind === 'row' ? shot.rows[selection.id] : undefined;
  return row && effectOf(row.effect) ? row : null;
}

function Handles({ space }: { space: Space }) {
  const row = useSelectedRow();
  return row ? <EffectOverlay space={space} row={row} /> : <SubjectOverlay space={space} />;
}
function LinesAndCurves({ x, width }: { x: TimeScale; width: number }) {
  const row = useSelectedRow();
  return (
    <>
      <EffectLines x={x} />
      {row && <CurveEditor row={row} x={x} width={width} />}
    </>
  );
}
function Curves() {
  const row = useSelectedRow();
  return row && <CurveList row={row} />;
}
/** The stack, or in its place the drawer of elements. */
function StackOrStockroom() {
  const [open, setOpen] = useState(false);
  return open ? <Stockroom onClose={() => setOpen(false)} /> : <DepthStack onStockroom={() => setOpen(true)} />;
}

function UpToSelected() {
  const row = useSelectedRow(),
    { upToSelected, set } = useParts('upToSelected', 'set');
  return (
    <IconButton
      label="Picture up to the selected effect"
      on={upToSelected}
      disabled={!row}
      onClick={() => set({ upToSelected: !upToSelected })}
    >
      <Layers size={16} />
    </IconButton>
  );
}

export const effects: StepDefinition = {
  id: 'effects',
  title: 'Effects',
  about: 'Put effects behind, on and before the character, hang them on tracks, and shape them over time.',
  hint: 'Select an effect, or add one to a lane with its plus.',
  List: StackOrStockroom,
  settles: ['row', 'group', 'subject', 'cue', 'base'],
  Overlay: Handles,
  places: 'files too',
  Rail: UpToSelected,
  Time: LinesAndCurves,
  Beside: Curves,
  word({ shot, live, selection, frame }) {
    const document = live ?? shot,
      row = document && selection?.kind === 'row' ? drawnRows(document).of(selection.id)[0] : undefined,
      why = row ? whyNotVisible(row, frame) : null;
    return why && `${row!.name}: ${why}`;
  },
  view({ shot, live, selection, upToSelected }) {
    const document = live ?? shot;
    return {
      upTo: upToSelected && selection?.kind === 'row' && document?.rows[selection.id] ? selection.id : null,
      plain: false,
      matte: null,
    };
  },
};
