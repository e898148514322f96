import { Brush, Circle, Copy, Eye, EyeOff, FlipHorizontal2, LassoSelect, PenTool, Route, Square, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { matteModes, outlineParams } from '@wraithos/core/matte';
import { changeOutline, copyOutline, removeOutline, rideOutline, type Matte, type Outline, type OutlineMode } from '@wraithos/core/shot';
import { framesOf, keysRiding, outlineAt } from '@wraithos/core/render';
import { useOutlinePoints } from '../state/outlinePoints';
import { useDocument, useParts } from '../state/shotStore';
import { onwards, stateOf, take } from '../tools';
import { shapes } from '../tools/drawShape';
import { IconButton } from '../ui/IconButton';
import { boxAround } from '../viewer/outlineGeometry';
import { useTracks } from '../workbench/tracks';
import { CarryOn } from './CarryOn';
import { TextField } from './CueSettings';
import { ChoiceField } from './fields';
import { modeWords } from './matteWords';
import { OutlineParts } from './OutlineParts';
import { ParamFields } from './ParamFields';
import { placedTarget } from './PlacedFields';
import { SoloButton } from './SoloButton';

const ways = ['points', 'edge', ...shapes, 'strokes'] as const;
const wayWords = {
  points: 'point by point',
  edge: "along the picture's edges",
  rectangle: 'a rectangle',
  ellipse: 'an ellipse',
  freehand: 'freehand',
  strokes: 'by strokes inside and outside',
} as const;
const wayIcons = { points: PenTool, edge: Route, rectangle: Square, ellipse: Circle, freehand: LassoSelect, strokes: Brush } as const;

/** The outlines of a matte, how new ones are drawn, and the settings of the selected one. `at` is the frame of its clip. */
export function OutlineSettings({ matte, at }: { matte: Matte; at: number }) {
  const { edit, set, outline, tool } = useParts('edit', 'set', 'outline', 'tool'),
    [mode, setMode] = useState<OutlineMode>('add'),
    drawing = stateOf(tool, 'draw outline')
      ? 'points'
      : stateOf(tool, 'follow edge')
        ? 'edge'
        : stateOf(tool, 'strokes')
          ? 'strokes'
          : stateOf(tool, 'draw shape')?.shape;
  return (
    <>
      <h3>Outlines</h3>
      <div className="d-flex align-items-center gap-1 mb-1">
        <select
          className="form-select form-select-sm"
          aria-label="A new outline"
          value={mode}
          onChange={(e) => {
            const next = e.target.value as OutlineMode;
            setMode(next);
            if (tool && drawing) set({ tool: onwards(tool, { ...tool.state, mode: next }) });
          }}
        >
          {matteModes.map((m) => (
            <option key={m} value={m}>
              {modeWords[m]}
            </option>
          ))}
        </select>
        {ways.map((way) => {
          const Icon = wayIcons[way];
          return (
            <IconButton
              key={way}
              small
              on={drawing === way}
              label={`Draw ${wayWords[way]}`}
              onClick={() =>
                set({
                  tool:
                    way === 'points'
                      ? take('draw outline', { matte: matte.id, mode, points: [] })
                      : way === 'edge'
                        ? take('follow edge', { matte: matte.id, mode, ways: [] })
                        : way === 'strokes'
                          ? take('strokes', { matte: matte.id, mode, inside: true, strokes: [] })
                          : take('draw shape', { matte: matte.id, mode, shape: way, way: [] }),
                })
              }
            >
              <Icon size={15} />
            </IconButton>
          );
        })}
      </div>
      {matte.outlines.map((o) => (
        <div key={o.id} className={`outline-entry ${o.id === outline ? 'selected' : ''}`}>
          <div className="d-flex align-items-center">
            <button type="button" className="btn btn-link btn-sm p-0 flex-grow-1 text-start plain" onClick={() => set({ outline: o.id })}>
              {o.name}{' '}
              <span className="quiet">
                {modeWords[o.mode].toLowerCase()}
                {o.keys.length > 1 && `, ${o.keys.length} keys`}
              </span>
            </button>
            <SoloButton on={o.solo} name={o.name} onClick={() => edit(changeOutline(matte.id, o.id, { solo: !o.solo }))} />
            <IconButton
              small
              label={o.muted ? `Let ${o.name} count` : `Mute ${o.name}`}
              onClick={() => edit(changeOutline(matte.id, o.id, { muted: !o.muted }))}
            >
              {o.muted ? <EyeOff size={13} /> : <Eye size={13} />}
            </IconButton>
            <IconButton small label={`Remove ${o.name}`} onClick={() => edit(removeOutline(matte.id, o.id))}>
              <Trash2 size={13} />
            </IconButton>
          </div>
          {o.id === outline && <OneOutline matte={matte} outline={o} at={at} />}
        </div>
      ))}
    </>
  );
}

function OneOutline({ matte, outline, at }: { matte: Matte; outline: Outline; at: number }) {
  const shot = useDocument(),
    tracks = useTracks(),
    { edit } = useParts('edit'),
    { sets } = useOutlinePoints(),
    mounts = framesOf(shot, tracks),
    target = placedTarget({ kind: 'outline', matte: matte.id, id: outline.id }, outline, outlineParams, at, 0);
  return (
    <>
      <TextField label="Name" value={outline.name} onChange={(name) => edit(changeOutline(matte.id, outline.id, { name }))} />
      <ChoiceField
        label="Outline"
        value={outline.mode}
        of={matteModes}
        words={modeWords}
        onChange={(mode) => edit(changeOutline(matte.id, outline.id, { mode }))}
      />
      <CarryOn matte={matte} outline={outline} at={at} />
      <ParamFields params={outlineParams} title="" target={target} />
      <ChoiceField
        label="Hangs on"
        value={(outline.mount && shot.mounts[outline.mount]?.track) ?? ''}
        of={['', ...Object.keys(shot.tracks)]}
        words={Object.fromEntries([['', 'nothing'], ...Object.values(shot.tracks).map((t) => [t.id, t.name])])}
        help="The outline moves, turns and grows with this track; its keys count from there."
        onChange={(track) => edit(rideOutline(matte.id, outline.id, track || null, at, keysRiding(outline, track || null, at, mounts)))}
      />
      <ChoiceField
        label="A change keys"
        value={sets}
        of={['the whole outline', 'only moved points'] as const}
        help="Set on a frame when something of the outline is moved there: all of it, or the moved points alone, while the others go on along their own keys."
        onChange={(to) => useOutlinePoints.setState({ sets: to })}
      />
      <div className="d-flex flex-wrap gap-1 mb-1">
        <button type="button" className="btn btn-quiet btn-sm" onClick={() => edit(copyOutline(matte.id, outline.id))}>
          <Copy size={12} className="me-1" />
          Copy
        </button>
        <button
          type="button"
          className="btn btn-quiet btn-sm"
          title="A copy, left and right swapped about its middle on this frame"
          onClick={() => {
            const [left, , right] = boxAround(outlineAt(outline, at, mounts).vertices);
            edit(copyOutline(matte.id, outline.id, (left + right) / 2));
          }}
        >
          <FlipHorizontal2 size={12} className="me-1" />
          Mirrored copy
        </button>
      </div>
      <OutlineParts matte={matte} outline={outline} />
      <div className="quiet">Move it on another frame to key it there. Double-click the line to add a point, a point to round it.</div>
    </>
  );
}
