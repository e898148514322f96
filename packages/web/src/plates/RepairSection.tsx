import { Brush, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { clipFrame, clipWithRole, removeRepair, type Clip, type Repair } from '@wraithos/core/shot';
import { ChoiceField, NumberField, SwitchField } from '../settings/fields';
import { useDocument, useParts } from '../state/shotStore';
import { stateOf, take } from '../tools';
import { IconButton } from '../ui/IconButton';

type Settings = Omit<Repair, 'id' | 'points'>;

/** Repairs of a clip: where their pixels come from, the brush, and the strokes that were painted. */
export function RepairSection({ clip }: { clip: Clip }) {
  const shot = useDocument(),
    { tool, frame, edit, set } = useParts('tool', 'frame', 'edit', 'set'),
    held = stateOf(tool, 'repair'),
    still = clip.frames === 1,
    others = Object.values(shot.clips).filter((c) => c.id !== clip.id && c.width === clip.width && c.height === clip.height),
    performance = clipWithRole(shot, 'performance'),
    [own, setOwn] = useState<Settings>(() => {
      const from = still && performance && others.some((c) => c.id === performance.id) ? performance : null;
      return {
        ...{
          radius: 24,
          softness: 50,
          clip: from?.id ?? null,
          frame: from ? clipFrame(shot, from, frame) : 0,
          offset: [0, 0],
          matched: true,
        },
      };
    }),
    painting = held?.of === clip.id,
    change = (to: Partial<Settings>) => {
      const next = { ...own, ...to };
      setOwn(next);
      if (painting) set({ tool: take('repair', { ...next, of: clip.id, points: [] }) });
    },
    source = own.clip ? shot.clips[own.clip] : clip,
    nameOf = (id: string | null) => (id ? (shot.clips[id]?.name ?? 'a clip') : 'itself');
  return (
    <section aria-label="Repair">
      <h3>Repair</h3>
      <ChoiceField
        label="Pixels from"
        value={own.clip ?? ''}
        of={['', ...others.map((c) => c.id)]}
        words={Object.fromEntries([['', 'this clip'], ...others.map((c) => [c.id, c.name])])}
        onChange={(id) => change({ clip: id || null, frame: 0 })}
      />
      {still && source && source.frames > 1 && (
        <NumberField
          label="Its frame"
          help="Frame of that clip, counted from 0"
          value={own.frame}
          range={[0, source.frames - 1]}
          onChange={(value) => change({ frame: Math.round(value) })}
        />
      )}
      {!still && (
        <NumberField
          label="Later by"
          unit="frames"
          help="How much later than the frame that is repaired; less than 0 is earlier"
          value={own.frame}
          range={[-clip.frames, clip.frames]}
          onChange={(value) => change({ frame: Math.round(value) })}
        />
      )}
      <NumberField
        label="From beside, x"
        unit="px"
        value={own.offset[0]}
        range={[-8192, 8192]}
        onChange={(x) => change({ offset: [Math.round(x), own.offset[1]] })}
      />
      <NumberField
        label="From beside, y"
        unit="px"
        value={own.offset[1]}
        range={[-8192, 8192]}
        onChange={(y) => change({ offset: [own.offset[0], Math.round(y)] })}
      />
      <NumberField label="Brush radius" unit="px" value={own.radius} range={[1, 1000]} onChange={(radius) => change({ radius })} />
      <NumberField label="Softness" unit="%" value={own.softness} range={[0, 100]} onChange={(softness) => change({ softness })} />
      <SwitchField
        label="Match its light"
        help="Makes the pixels as bright as what is around the stroke"
        checked={own.matched}
        onChange={(matched) => change({ matched })}
      />
      <button
        type="button"
        className={`btn btn-quiet btn-sm mt-1 ${painting ? 'active' : ''}`}
        aria-pressed={painting}
        onClick={() => set({ tool: painting ? null : take('repair', { ...own, of: clip.id, points: [] }) })}
      >
        <Brush size={14} className="me-1" />
        {painting ? 'Stop painting' : 'Paint'}
      </button>
      {clip.repairs.map((one, i) => (
        <div key={one.id} className="d-flex align-items-center gap-1 mt-1">
          <span className="quiet flex-grow-1">
            Stroke {i + 1}, from {nameOf(one.clip)}
            {one.offset[0] || one.offset[1] ? `, ${one.offset[0]}, ${one.offset[1]} px beside` : ''}
          </span>
          <IconButton small label={`Remove stroke ${i + 1}`} onClick={() => edit(removeRepair(clip.id, one.id))}>
            <Trash2 size={12} />
          </IconButton>
        </div>
      ))}
    </section>
  );
}
