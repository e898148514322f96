import { useRef } from 'react';
import { keyEasings, shapeAt, SURE_ENOUGH, type KeyEasing } from '@wraithos/core/matte';
import {
  clipFrame,
  copyKey,
  easeKey,
  matteClip,
  moveKey,
  removeKey,
  shotFrame,
  type Edit,
  type Matte,
  type Outline,
} from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import type { TimeScale } from './scale';
import { useDrag } from './useDrag';

const LINE = 17;
export const easingWords: Record<KeyEasing, string> = {
  flows: 'flows through keys',
  linear: 'even',
  smooth: 'eases out and in',
  'ease in': 'starts slowly',
  'ease out': 'ends slowly',
  hold: 'holds',
};

/** The keys of each outline of the selected matte, to be dragged, and how the way on from the one at the playhead is eased. */
export function OutlineKeys({ x }: { x: TimeScale; width: number }) {
  const shot = useDocument(),
    { selection, outline, set } = useParts('selection', 'outline', 'set'),
    matte = selection?.kind === 'matte' ? shot.mattes[selection.id] : undefined;
  if (!matte?.outlines.length) return null;
  return (
    <div className="ranges outline-keys" style={{ height: Math.max(14, matte.outlines.length * LINE + 6) }}>
      {matte.outlines.map((o, i) => (
        <div key={o.id} className={`key-line ${o.id === outline ? 'selected' : ''}`} style={{ top: 3 + i * LINE }}>
          <button type="button" className="name" onClick={() => set({ outline: o.id })}>
            {o.name}
          </button>
          {o.keys.map((k) => (
            <KeyMark key={k.frame} matte={matte} outline={o} at={k.frame} x={x} />
          ))}
        </div>
      ))}
    </div>
  );
}

/** A key at a frame of its clip, where the shot shows that frame. */
function KeyMark({ matte, outline, at, x }: { matte: Matte; outline: Outline; at: number; x: TimeScale }) {
  const shot = useDocument(),
    { edit, preview, set } = useParts('edit', 'preview', 'set'),
    clip = matteClip(shot, matte),
    shown = clip ? shotFrame(shot, clip, at) : at,
    each = x(1) - x(0),
    begun = useRef({ at, copies: false, shape: shapeAt(outline.keys, at) }),
    moved = (dx: number): { change: Edit; frame: number } => {
      const frame = (shown ?? at) + Math.round(dx / each),
        to = clip ? clipFrame(shot, clip, frame) : frame,
        { at: from, copies, shape } = begun.current;
      return { change: copies ? copyKey(matte.id, outline.id, shape, to) : moveKey(matte.id, outline.id, from, to), frame };
    },
    drag = useDrag({
      start: (e) => {
        begun.current = { at, copies: e.altKey, shape: shapeAt(outline.keys, at) };
      },
      move: (dx) => {
        // A copy is shown where it will be only when the hand lets go: the key itself stays under it.
        if (begun.current.copies) return;
        preview(moved(dx).change);
      },
      end: (dx) => {
        const { change, frame } = moved(dx);
        edit(change);
        set({ outline: outline.id, frame });
      },
      click: () => set({ outline: outline.id, playing: false, ...(shown === null ? {} : { frame: shown }) }),
    });
  if (shown === null) return null;
  const key = outline.keys.find((k) => k.frame === at),
    some = key?.vertices.some((v) => v === null),
    doubtful = key?.sure && Math.min(...key.sure) < SURE_ENOUGH,
    kind = doubtful ? 'carried doubtful' : key?.sure ? 'carried' : some ? 'some' : '',
    what = doubtful ? ', carried here, doubtful' : key?.sure ? ', carried here' : some ? ', of some points' : '';
  return (
    <button
      type="button"
      className={`key-mark ${kind}`}
      style={{ left: x(shown) }}
      title={`Key at ${shown}${what}: drag to move, Alt drag to copy, double-click to remove`}
      aria-label={`Key of ${outline.name} at ${shown}`}
      onDoubleClick={() => {
        if (outline.keys.length > 1) edit(removeKey(matte.id, outline.id, at));
        else set({ notice: 'The last key of an outline stays; remove the outline in its settings.' });
      }}
      {...drag}
    />
  );
}

/** How the selected outline goes on from its key at the playhead. */
export function KeyEase() {
  const shot = useDocument(),
    { selection, outline, frame, edit } = useParts('selection', 'outline', 'frame', 'edit'),
    matte = selection?.kind === 'matte' ? shot.mattes[selection.id] : undefined,
    it = matte?.outlines.find((o) => o.id === outline);
  if (!matte || !it) return null;
  const clip = matteClip(shot, matte),
    at = clip ? clipFrame(shot, clip, frame) : frame,
    key = it.keys.find((k) => k.frame === at);
  return (
    <label className="quiet mt-1">
      {key ? 'From this key on it' : 'No key on this frame'}
      {key && (
        <select
          className="form-select form-select-sm mt-1"
          aria-label="Way on from this key"
          value={key.ease}
          onChange={(e) => edit(easeKey(matte.id, it.id, at, e.target.value as KeyEasing))}
        >
          {keyEasings.map((ease) => (
            <option key={ease} value={ease}>
              {easingWords[ease]}
            </option>
          ))}
        </select>
      )}
    </label>
  );
}
