import { Snowflake } from 'lucide-react';
import { useState } from 'react';
import type { Edit } from '@wraithos/core/shot';
import { useParts } from '../state/shotStore';
import { NumberField } from './fields';

/**
 * Lets something that is retimed stand still from the playhead on.
 * @param at frames since it began to play; nothing can be frozen before.
 */
export function Freeze({ at, freeze }: { at: number; freeze(at: number, frames: number): Edit }) {
  const { edit } = useParts('edit'),
    [frames, setFrames] = useState(12);
  return (
    <>
      <NumberField label="Freeze for" unit="frames" range={[1, 10000]} value={frames} onChange={(n) => setFrames(Math.round(n))} />
      <button
        type="button"
        className="btn btn-quiet btn-sm mb-1"
        disabled={at < 0}
        title={at < 0 ? 'It has not begun at this frame' : 'The picture of this frame stands for so long, then it goes on'}
        onClick={() => edit(freeze(at, frames))}
      >
        <Snowflake size={13} className="me-1" />
        Freeze at this frame
      </button>
    </>
  );
}
