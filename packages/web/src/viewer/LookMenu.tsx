import { Contrast } from 'lucide-react';
import { displayNames } from '@wraithos/core/image';
import { AS_IT_IS, isAsItIs, lookChannels, type Look } from '@wraithos/core/render';
import { ChoiceField, NumberField } from '../settings/fields';
import { useParts } from '../state/shotStore';
import { RailMenu } from './RailMenu';

/** How pictures are looked at, in a few words; empty where they are as they are. */
export function lookWords({ channel, exposure, gamma, display }: Look): string {
  const stops = exposure ? `${exposure > 0 ? '+' : '−'}${Math.abs(exposure)} stops` : '';
  return [channel === 'colour' ? '' : channel, stops, gamma === 1 ? '' : `gamma ${gamma}`, display === 'srgb' ? '' : 'for a display of 2.4']
    .filter(Boolean)
    .join(', ');
}

/** One channel, brighter or darker, or what is out of range: for looking only. */
export function LookMenu() {
  const { look, set } = useParts('look', 'set'),
    change = (to: Partial<Look>) => set({ look: { ...look, ...to } });
  return (
    <RailMenu name="Look" label="Channels and exposure, for looking only" icon={<Contrast size={16} />} on={!isAsItIs(look)}>
      <ChoiceField
        label="Shows"
        help="Out of range: rust where a value lies above 1, green where one lies below 0."
        value={look.channel}
        of={lookChannels}
        onChange={(channel) => change({ channel })}
      />
      <NumberField
        label="Exposure"
        unit="stops"
        range={[-12, 12]}
        step={0.1}
        value={look.exposure}
        onChange={(exposure) => change({ exposure })}
      />
      <NumberField label="Gamma" range={[0.2, 5]} step={0.05} value={look.gamma} onChange={(gamma) => change({ gamma })} />
      <ChoiceField
        label="Display"
        help="The curve of the screen that it is looked at on"
        value={look.display}
        of={displayNames}
        words={{ srgb: 'sRGB', gamma24: 'Rec.709, 2.4' }}
        onChange={(display) => change({ display })}
      />
      <p className="quiet mb-1">For looking only; no render changes.</p>
      <button type="button" className="btn btn-quiet btn-sm" disabled={isAsItIs(look)} onClick={() => set({ look: AS_IT_IS })}>
        As it is
      </button>
    </RailMenu>
  );
}
