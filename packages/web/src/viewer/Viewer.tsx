import { Contrast, Crosshair, Flag, Layers, Maximize, Pause, Play, Repeat, StepBack, StepForward } from 'lucide-react';
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { Stage, Layer } from 'react-konva';
import type Konva from 'konva';
import { addCue, freshId, addTrack, pickColour, clipWithRole, drawnRows, whyNotVisible, type Row } from '@wraithos/core/shot';
import { matteViews } from '@wraithos/core/render';
import { clipFrame } from '@wraithos/core/time';
import { useDocument, useShot } from '../state/shotStore';
import type { Step } from '../workbench/steps';
import { useTracks } from '../workbench/tracks';
import { IconButton } from '../ui/IconButton';
import { display } from '../workers/display';
import { colourAt } from '../workers/colourAt';
import { isolated } from '../workers/pool';
import { EffectOverlay } from './EffectOverlay';
import { OutlineOverlay } from './OutlineOverlay';
import { TrackOverlay } from './TrackOverlay';
import { fit, spaceKey, toPicture, zoomAt, type Space } from './space';
import { useFrame } from './useFrame';
import { usePlayback } from './usePlayback';
import { useView } from './useView';

/** The picture, its handles, and a slim rail beside it. */
export function Viewer({ step }: { step: Step }) {
  const shot = useDocument(),
    { frame, playing, loop, selection, tool, matteView, upToSelected, set, edit } = useShot(),
    tracks = useTracks();
  const box = useRef<HTMLDivElement>(null),
    canvas = useRef<HTMLCanvasElement>(null),
    [size, setSize] = useState({ width: 100, height: 100 }),
    [space, setSpace] = useState<Space | null>(null);
  const selectedMatte = selection?.kind === 'matte' && shot.mattes[selection.id] ? selection.id : null,
    selectedRow = selection?.kind === 'row' ? (shot.rows[selection.id] as Row | undefined) : undefined;
  const view = useView(step);
  const { shown, error, busy } = useFrame(view),
    rate = usePlayback(view);

  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => {
      const r = entry!.contentRect;
      setSize({ width: Math.max(50, r.width), height: Math.max(50, r.height) });
    });
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, []);
  const fitted = useMemo(() => fit(size.width, size.height, shot), [size.width, size.height, shot.width, shot.height]); // eslint-disable-line react-hooks/exhaustive-deps -- only the size of the shot counts
  const at = space ?? fitted;
  useLayoutEffect(() => {
    if (canvas.current) display().attach(canvas.current);
  }, []);
  const wheel = (event: Konva.KonvaEventObject<WheelEvent>) => {
    event.evt.preventDefault();
    setSpace(zoomAt(at, at.zoom * Math.pow(1.0016, -event.evt.deltaY), event.evt.offsetX, event.evt.offsetY));
  };
  const pan = useRef<{ x: number; y: number; from: Space } | null>(null);
  useEffect(() => {
    const down = (e: KeyboardEvent) => {
        if (e.code === 'Space' && !e.repeat) {
          spaceKey.held = true;
          spaceKey.moved = false;
        }
      },
      up = (e: KeyboardEvent) => {
        if (e.code === 'Space') spaceKey.held = false;
      };
    addEventListener('keydown', down);
    addEventListener('keyup', up);
    return () => {
      removeEventListener('keydown', down);
      removeEventListener('keyup', up);
    };
  }, []);
  const pointer = (event: Konva.KonvaEventObject<MouseEvent>): [number, number] => toPicture(at, event.evt.offsetX, event.evt.offsetY);
  const press = (event: Konva.KonvaEventObject<MouseEvent>) => {
    if (event.evt.button === 1 || (event.evt.button === 0 && spaceKey.held)) {
      event.evt.preventDefault();
      pan.current = { x: event.evt.clientX, y: event.evt.clientY, from: at };
      return;
    }
    if (event.evt.button !== 0 || event.target !== event.target.getStage()) return;
    const [x, y] = pointer(event);
    if (tool.kind === 'add track') {
      const clip = clipWithRole(shot, 'performance');
      if (!clip || x < 0 || y < 0 || x > shot.width || y > shot.height) return;
      const id = freshId(shot.tracks, 't');
      edit(addTrack({ id, name: 'Point', clip: clip.id, at: [x, y], frame: clipFrame(clip, frame) }));
      set({ selection: { kind: 'track', id }, tool: { kind: 'none' } });
    } else if (tool.kind === 'pick colour') {
      set({ tool: { kind: 'none' } });
      colourAt(shot, frame, x, y).then(
        (colour) => colour && edit(pickColour(shot, tool.matte, tool.param, colour, [Math.round(x), Math.round(y)])),
        (error: Error) => set({ notice: error.message }),
      );
    } else if (tool.kind === 'draw outline') set({ tool: { ...tool, points: [...tool.points, [x, y]] } });
  };
  const move = (event: Konva.KonvaEventObject<MouseEvent>) => {
    const p = pan.current;
    if (p) {
      spaceKey.moved = true;
      setSpace({ ...p.from, x: p.from.x + event.evt.clientX - p.x, y: p.from.y + event.evt.clientY - p.y });
    }
  };
  const actual = () => setSpace(zoomAt(at, 1 / devicePixelRatio, size.width / 2, size.height / 2));

  const drawnRow = selectedRow && drawnRows(shot).of(selectedRow.id)[0],
    why = drawnRow ? whyNotVisible(drawnRow, frame) : null;
  const percent = Math.round(at.zoom * devicePixelRatio * 100);
  return (
    <div className="viewer-wrap">
      <div className="viewer" ref={box} data-testid="viewer">
        <canvas
          className="picture"
          ref={canvas}
          aria-label={`Picture at frame ${shown?.frame ?? frame}`}
          style={{
            width: shot.width,
            height: shot.height,
            transform: `translate(${at.x}px, ${at.y}px) scale(${at.zoom})`,
            imageRendering: percent >= 200 ? 'pixelated' : 'auto',
          }}
        />
        <Stage
          className="overlay"
          width={size.width}
          height={size.height}
          onWheel={wheel}
          onMouseDown={press}
          onMouseMove={move}
          onMouseUp={() => {
            pan.current = null;
          }}
          onMouseLeave={() => {
            pan.current = null;
          }}
          onDblClick={(e) => {
            if (tool.kind === 'none' && e.target === e.target.getStage()) setSpace(null);
          }}
          style={{ cursor: tool.kind === 'none' ? 'default' : 'crosshair' }}
        >
          <Layer>
            {step === 'motion' && <TrackOverlay space={at} tracks={tracks} />}
            {step === 'mattes' && <OutlineOverlay space={at} />}
            {step === 'effects' && selectedRow && <EffectOverlay space={at} row={selectedRow} />}
          </Layer>
        </Stage>
        {tool.kind === 'add track' && <div className="hint">Click the point to follow. Esc leaves.</div>}
        {tool.kind === 'pick colour' && <div className="hint">Click the colour. Esc leaves.</div>}
        {tool.kind === 'draw outline' && (
          <div className="hint">
            {tool.points.length < 3 ? 'Click around the area.' : 'Click the first point or press Enter to close it.'} Esc leaves.
          </div>
        )}
        {why && step === 'effects' && (
          <div className="hint">
            {selectedRow!.name}: {why}
          </div>
        )}
        {error ? (
          <div className="status bad" role="alert">
            {error}
          </div>
        ) : (
          <div className="status num">
            {[
              rate ? `${rate.toFixed(1)} fps` : busy ? 'drawing' : '',
              isolated() ? '' : 'one thread: this page may not share memory with its workers',
              shown && shown.drawn.width !== shot.width ? `draft 1/${Math.round(shot.width / shown.drawn.width)}` : '',
            ]
              .filter(Boolean)
              .join(' · ')}
          </div>
        )}
        {Object.keys(shot.clips).length === 0 && <div className="hint">Nothing to see yet: bring a clip in on Plates.</div>}
      </div>
      <div className="rail" role="toolbar" aria-label="View" aria-orientation="vertical">
        <IconButton label={playing ? 'Stop' : 'Play'} keys="Space" onClick={() => set({ playing: !playing })}>
          {playing ? <Pause size={18} /> : <Play size={18} />}
        </IconButton>
        <IconButton label="One frame back" keys="←" onClick={() => set({ playing: false, frame: frame - 1 })}>
          <StepBack size={16} />
        </IconButton>
        <IconButton label="One frame on" keys="→" onClick={() => set({ playing: false, frame: frame + 1 })}>
          <StepForward size={16} />
        </IconButton>
        <IconButton label="Play over and over" on={loop} onClick={() => set({ loop: !loop })}>
          <Repeat size={16} />
        </IconButton>
        <hr />
        <IconButton label="Fit the picture" keys="double-click" onClick={() => setSpace(null)}>
          <Maximize size={16} />
        </IconButton>
        <button
          type="button"
          className="icon-button zoom num"
          title="One picture pixel on one screen pixel"
          aria-label={`Zoom ${percent} percent; show at 100`}
          onClick={actual}
        >
          {percent}
        </button>
        <hr />
        {step === 'effects' && (
          <IconButton
            label="Picture up to the selected row"
            on={upToSelected}
            disabled={!selectedRow}
            onClick={() => set({ upToSelected: !upToSelected })}
          >
            <Layers size={16} />
          </IconButton>
        )}
        {step === 'motion' && (
          <IconButton
            label="Add a point"
            on={tool.kind === 'add track'}
            disabled={!clipWithRole(shot, 'performance')}
            onClick={() => set({ tool: tool.kind === 'add track' ? { kind: 'none' } : { kind: 'add track' } })}
          >
            <Crosshair size={16} />
          </IconButton>
        )}
        {step === 'mattes' && (
          <IconButton
            label={`Matte: ${matteView}`}
            disabled={!selectedMatte}
            on={matteView !== 'off'}
            onClick={() => {
              const order = ['off', ...matteViews] as const;
              set({ matteView: order[(order.indexOf(matteView) + 1) % order.length]! });
            }}
          >
            <Contrast size={16} />
          </IconButton>
        )}
        <IconButton label="Put a cue at this frame" keys="Q" onClick={() => edit(addCue(freshId(shot.cues, 'q'), 'Cue', frame))}>
          <Flag size={16} />
        </IconButton>
      </div>
    </div>
  );
}
