import { ChartNoAxesColumn, Expand, Flag, Maximize, PanelsTopLeft, Pause, Play, Repeat, StepBack, StepForward } from 'lucide-react';
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { Stage, Layer, Rect } from 'react-konva';
import type Konva from 'konva';
import { addCue, freshId } from '@wraithos/core/shot';
import { useDocument, useParts, useShot } from '../state/shotStore';
import type { StepDefinition } from '../steps/describe';
import { inHand, onwards } from '../tools';
import { useDropOnPicture } from '../elements/useDropOnPicture';
import { IconButton } from '../ui/IconButton';
import { JobLine } from '../ui/JobLine';
import { useTracks } from '../workbench/tracks';
import { display } from '../workers/display';
import { isolated } from '../workers/pool';
import { fit, spaceKey, toPicture, toScreen, zoomAt, type Space } from './space';
import { useFrame } from './useFrame';
import { usePlayback } from './usePlayback';
import { useView } from './useView';
import { Backdrop } from './Backdrop';
import { toggleFullScreen } from './fullScreen';
import { CompareLine, CompareMenu } from './Compare';
import { LookMenu, lookWords } from './LookMenu';
import { MeasurePanel } from './MeasurePanel';
import { boxOf, usePointer } from './pointer';
import './viewer.css';

/** The picture, its handles, and a slim rail beside it. */
export function Viewer({ step }: { step: StepDefinition }) {
  const shot = useDocument(),
    { frame, playing, loop, tool, wide, look, measuring, set, edit } = useParts(
      'frame',
      'playing',
      'loop',
      'tool',
      'wide',
      'look',
      'measuring',
      'set',
      'edit',
    ),
    held = inHand(tool),
    said = useShot((state) => step.word?.(state) ?? null);
  const box = useRef<HTMLDivElement>(null),
    canvas = useRef<HTMLCanvasElement>(null),
    [size, setSize] = useState({ width: 100, height: 100 }),
    [space, setSpace] = useState<Space | null>(null);
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
  const resting = space ?? fitted,
    { selection, holdStill } = useParts('selection', 'holdStill'),
    samples = useTracks(),
    // What is held still stays where it is on the screen, and the picture goes the other way.
    [byX, byY] = step.still?.({ shot, selection, holdStill }, samples, shown?.frame ?? frame) ?? [0, 0],
    at = byX || byY ? { ...resting, x: resting.x - byX * resting.zoom, y: resting.y - byY * resting.zoom } : resting,
    /** Keeps a place of the picture that was found with what is held still. */
    setAt = (next: Space) => setSpace({ ...next, x: next.x + byX * next.zoom, y: next.y + byY * next.zoom }),
    dropping = useDropOnPicture(at, step.places === 'files too');
  useLayoutEffect(() => {
    if (canvas.current) display().attach(canvas.current);
  }, []);
  const wheel = (event: Konva.KonvaEventObject<WheelEvent>) => {
    event.evt.preventDefault();
    setAt(zoomAt(at, at.zoom * Math.pow(1.0016, -event.evt.deltaY), event.evt.offsetX, event.evt.offsetY));
  };
  /** The corner at which a box that is measured begins. */
  const corner = useRef<[number, number] | null>(null),
    painting = useRef(false);
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
    if (event.evt.button === 0 && measuring && event.evt.shiftKey && !tool) {
      corner.current = pointer(event);
      usePointer.setState({ box: null });
      return;
    }
    if (event.evt.button !== 0 || event.target !== event.target.getStage()) return;
    painting.current = held?.definition.drag !== undefined;
    if (tool && held) set({ tool: onwards(tool, held.definition.press(held.state, pointer(event), useShot.getState())) });
  };
  const move = (event: Konva.KonvaEventObject<MouseEvent>) => {
    if (tool && held) {
      usePointer.setState({ at: pointer(event) });
      if (painting.current && held.definition.drag)
        set({ tool: onwards(tool, held.definition.drag(held.state, pointer(event), useShot.getState())) });
    } else if (measuring) {
      const here = pointer(event);
      usePointer.setState({ at: here, ...(corner.current ? { box: boxOf(corner.current, here) } : {}) });
    }
    const p = pan.current;
    if (p) {
      spaceKey.moved = true;
      setAt({ ...p.from, x: p.from.x + event.evt.clientX - p.x, y: p.from.y + event.evt.clientY - p.y });
    }
  };
  const lift = () => {
    pan.current = null;
    corner.current = null;
    if (painting.current && tool && held?.definition.lift)
      set({ tool: onwards(tool, held.definition.lift(held.state, useShot.getState())) });
    painting.current = false;
  };
  const actual = () => setAt(zoomAt(at, 1 / devicePixelRatio, size.width / 2, size.height / 2));

  const word = held ? held.definition.hint(held.state) : said;
  const percent = Math.round(at.zoom * devicePixelRatio * 100);
  return (
    <div className="viewer-wrap">
      <div className={`viewer ${dropping.over ? 'over' : ''}`} ref={box} data-testid="viewer" {...(step.places ? dropping.handlers : {})}>
        <canvas
          className="picture"
          ref={canvas}
          aria-label={`Picture at frame ${shown?.frame ?? frame}`}
          data-drawn={shown?.drawn.key}
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
          onMouseUp={lift}
          onMouseLeave={() => {
            lift();
            usePointer.setState({ at: null });
          }}
          onDblClick={(e) => {
            if (!tool && e.target === e.target.getStage()) setSpace(null);
          }}
          style={{ cursor: tool ? 'crosshair' : 'default' }}
        >
          <Layer>
            {step.Overlay && <step.Overlay space={at} />}
            <CompareLine space={at} />
            {measuring && <MeasuredBox space={at} />}
            {held?.definition.Overlay && <held.definition.Overlay state={held.state} space={at} />}
          </Layer>
        </Stage>
        {word && <div className="hint">{word}</div>}
        {dropping.over && <div className="drop-target">Drop to place it here</div>}
        {dropping.bringing && (
          <div className="hint">
            <JobLine {...dropping.bringing} onCancel={dropping.cancel} />
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
              lookWords(look) && `looked at: ${lookWords(look)}`,
              isolated() ? '' : `running on one thread, slower: open it at http://127.0.0.1:${location.port}`,
              shown && shown.drawn.width !== shot.width ? `draft 1/${Math.round(shot.width / shown.drawn.width)}` : '',
            ]
              .filter(Boolean)
              .join(' · ')}
          </div>
        )}
        {Object.keys(shot.clips).length === 0 && <div className="hint">Nothing to see yet: bring a clip in on Plates.</div>}
      </div>
      {measuring && <MeasurePanel view={view} />}
      <div className="rail" role="toolbar" aria-label="View" aria-orientation="vertical">
        <IconButton label={playing ? 'Pause' : 'Play'} keys="Space" onClick={() => set({ playing: !playing })}>
          {playing ? <Pause size={18} /> : <Play size={18} />}
        </IconButton>
        <IconButton label="Previous frame" keys="←" onClick={() => set({ playing: false, frame: frame - 1 })}>
          <StepBack size={16} />
        </IconButton>
        <IconButton label="Next frame" keys="→" onClick={() => set({ playing: false, frame: frame + 1 })}>
          <StepForward size={16} />
        </IconButton>
        <IconButton label="Loop" on={loop} onClick={() => set({ loop: !loop })}>
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
          {percent}%
        </button>
        <IconButton
          label={wide ? 'Bring the panels back' : 'Picture over the whole width'}
          keys="W"
          on={wide}
          onClick={() => set({ wide: !wide })}
        >
          <PanelsTopLeft size={16} />
        </IconButton>
        <IconButton label="Picture over the whole screen" keys="F" onClick={() => void toggleFullScreen()}>
          <Expand size={16} />
        </IconButton>
        <hr />
        <Backdrop />
        <LookMenu />
        <CompareMenu />
        <IconButton label="Measure: values, histogram, waveform" keys="M" on={measuring} onClick={() => set({ measuring: !measuring })}>
          <ChartNoAxesColumn size={16} />
        </IconButton>
        {step.Rail && <step.Rail />}
        <IconButton label="Put a cue at this frame" keys="Q" onClick={() => edit(addCue(freshId(shot.cues, 'q'), 'Cue', frame))}>
          <Flag size={16} />
        </IconButton>
      </div>
    </div>
  );
}

/** The box whose mean is measured. */
function MeasuredBox({ space }: { space: Space }) {
  const box = usePointer((state) => state.box);
  if (!box) return null;
  const [x, y] = toScreen(space, box[0], box[1]),
    [u, v] = toScreen(space, box[2], box[3]);
  return (
    <>
      <Rect x={x} y={y} width={u - x} height={v - y} stroke="#000" strokeWidth={3} listening={false} />
      <Rect x={x} y={y} width={u - x} height={v - y} stroke="#ece8df" strokeWidth={1} listening={false} />
    </>
  );
}
