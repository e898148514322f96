import { useLayoutEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { cueFrame, moveCue, type Cue } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { useShownFrame } from '../state/shownFrame';
import type { StepDefinition } from '../steps/describe';
import { useView } from '../viewer/useView';
import { FilmStrip } from './FilmStrip';
import { PlayedRange } from './PlayedRange';
import { SuggestButton, SuggestedFlags } from './SuggestedCues';
import { timeScale, type TimeScale } from './scale';
import { useDrag } from './useDrag';
import './cues.css';

/** Time as pictures: cue flags, filmstrip, playhead, a line for each effect's range, and the curves of the selected one. */
export function CueStrip({ step }: { step: StepDefinition }) {
  const shot = useDocument(),
    { set } = useParts('set'),
    frame = useShownFrame(),
    box = useRef<HTMLDivElement>(null),
    [width, setWidth] = useState(800),
    scrubbing = useRef(false);
  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(Math.max(100, entry!.contentRect.width)));
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, []);
  const x = useMemo(() => timeScale(shot.first, shot.last, width), [shot.first, shot.last, width]),
    count = shot.last - shot.first + 1;
  const scrub = (e: PointerEvent) => {
    const left = box.current!.getBoundingClientRect().left;
    set({ playing: false, frame: Math.round(x.invert(e.clientX - left)) });
  };
  const view = useView(step);
  return (
    <div className="cue-strip">
      <div className="side">
        <div>{count === 1 ? '1 frame' : `${count} frames`}</div>
        <div className="quiet">pale: the plate, until the frame is drawn</div>
        <div className="mt-1">
          <SuggestButton />
        </div>
        <div className="gap" />
        {step.Beside && <step.Beside />}
      </div>
      <div className="time" ref={box}>
        <div
          onPointerDown={(e) => {
            if (e.button) return;
            e.currentTarget.setPointerCapture(e.pointerId);
            scrubbing.current = true;
            scrub(e);
          }}
          onPointerMove={(e) => {
            if (scrubbing.current) scrub(e);
          }}
          onPointerUp={() => {
            scrubbing.current = false;
          }}
          role="slider"
          aria-label="Playhead"
          aria-valuemin={shot.first}
          aria-valuemax={shot.last}
          aria-valuenow={frame}
          tabIndex={0}
        >
          <div className="flag-room" />
          <FilmStrip width={width} view={view} />
        </div>
        <div className="flags">
          {Object.values(shot.cues).map((cue) => (
            <Flag key={cue.id} cue={cue} x={x} />
          ))}
          <SuggestedFlags x={x} />
          <PlayedRange x={x} />
        </div>
        {step.Time && <step.Time x={x} width={width} />}
        <div className="playhead" style={{ left: x(frame) }} />
      </div>
    </div>
  );
}

function Flag({ cue, x }: { cue: Cue; x: TimeScale }) {
  const shot = useDocument(),
    pinned = cue.clip ? shot.clips[cue.clip] : undefined,
    { edit, preview, selection, set } = useParts('edit', 'preview', 'selection', 'set'),
    each = x(1) - x(0),
    at = cueFrame(shot, cue.id),
    // Near the right edge its name stands at its left.
    atEnd = x(at) + cue.name.length * 7 + 20 > x.range()[1]!;
  const start = useRef(at),
    moved = (dx: number) => moveCue(cue.id, start.current + Math.round(dx / each));
  const drag = useDrag({
    start: () => {
      start.current = at;
    },
    move: (dx) => preview(moved(dx)),
    end: (dx) => edit(moved(dx)),
    click: () => set({ selection: { kind: 'cue', id: cue.id }, frame: at }),
  });
  return (
    <button
      type="button"
      className={`flag ${selection?.kind === 'cue' && selection.id === cue.id ? 'selected' : ''} ${atEnd ? 'at-end' : ''}`}
      style={{ left: x(at) }}
      title={`${cue.name}, ${at}${pinned ? `, pinned to ${pinned.name}` : ''}: drag to move`}
      {...drag}
    >
      {cue.name}
    </button>
  );
}
