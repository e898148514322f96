import { Contrast } from 'lucide-react';
import { matteViews } from '@wraithos/core/render';
import { clipWithRole, matteClip } from '@wraithos/core/shot';
import { EffectLines } from '../cues/EffectLines';
import { MatteDoubtMarks } from '../cues/MatteDoubtMarks';
import { KeyEase, OutlineKeys } from '../cues/OutlineKeys';
import type { TimeScale } from '../cues/scale';
import { useDocument, useParts } from '../state/shotStore';
import { IconButton } from '../ui/IconButton';
import { OutlineOverlay } from '../viewer/OutlineOverlay';
import { plainView, type StepDefinition } from './describe';
import { MattesPanel } from './MattesPanel';

function ViewOfMatte() {
  const shot = useDocument(),
    { selection, matteView, set } = useParts('selection', 'matteView', 'set'),
    order = ['off', ...matteViews] as const;
  return (
    <IconButton
      label={`View of the matte: ${matteView}`}
      disabled={selection?.kind !== 'matte' || !shot.mattes[selection.id]}
      on={matteView !== 'off'}
      onClick={() => set({ matteView: order[(order.indexOf(matteView) + 1) % order.length]! })}
    >
      <Contrast size={16} />
    </IconButton>
  );
}

/** Keys of the selected matte's outlines, and the effects' ranges under them. */
function MatteTime(props: { x: TimeScale; width: number }) {
  return (
    <>
      <MatteDoubtMarks x={props.x} />
      <OutlineKeys {...props} />
      <EffectLines x={props.x} />
    </>
  );
}

export const mattes: StepDefinition = {
  id: 'mattes',
  title: 'Mattes',
  about: 'Isolate the character and what stands before it.',
  hint: 'Make a matte, or select one, to see its settings.',
  List: MattesPanel,
  settles: ['matte', 'subject', 'cue'],
  Overlay: OutlineOverlay,
  Rail: ViewOfMatte,
  Time: MatteTime,
  Beside: KeyEase,
  matteView: 'overlay',
  count(checks) {
    const number = new Set(checks.flatMap((c) => c.matte ?? [])).size;
    return number ? { number, meaning: 'Mattes in which something is wrong where they are used' } : null;
  },
  view({ shot, live, selection, matteView, matteGround }) {
    const document = live ?? shot,
      id = selection?.kind === 'matte' && document?.mattes[selection.id] ? selection.id : null;
    const of = selection?.kind === 'matte' ? document?.mattes[selection.id] : undefined,
      clip = document && (of ? matteClip(document, of) : clipWithRole(document, 'performance'));
    return {
      ...plainView,
      plain: clip?.id ?? true,
      matte: id && matteView !== 'off' ? { id, view: matteView, ground: matteGround } : null,
    };
  },
};
