import { useLayoutEffect, useRef, useState, type PointerEvent } from 'react';
import { effectOf } from '@wraithos/core/effects';
import { changeCue, rowsInOrder, type Cue, type Row } from '@wraithos/core/shot';
import { useDocument, useShot } from '../state/shotStore';
import type { Step } from '../workbench/steps';
import { useView } from '../viewer/useView';
import { ClipLine } from './ClipLine';
import { Confidence } from './Confidence';
import { CurveEditor, CurveList } from './Curves';
import { FilmStrip } from './FilmStrip';
import { RangeLine } from './RangeLine';
import { timeScale, type TimeScale } from './scale';
import { useDrag } from './useDrag';

/** Time as pictures: cue flags, filmstrip, playhead, a line for each effect's range, and the curves of the selected one. */
export function CueStrip({ step }: { step: Step }) {
  const shot = useDocument(),
    { frame, selection, set } = useShot(),
    box = useRef<HTMLDivElement>(null),
    [width, setWidth] = useState(800),
    scrubbing = useRef(false);
  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(Math.max(100, entry!.contentRect.width)));
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, []);
  const x = timeScale(shot.first, shot.last, width),
    rows = rowsInOrder(shot).reverse(),
    row = selection?.kind === 'row' ? (shot.rows[selection.id] as Row | undefined) : undefined,
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
        <div className="quiet">hatched: not yet computed</div>
        <div style={{ height: 14 }} />
        {step === 'effects' && row && effectOf(row.effect) && <CurveList row={row} />}
        {step === 'motion' && (
          <div className="quiet" style={{ marginTop: 4 }}>
            confidence of the selected track
          </div>
        )}
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
          <div className="flags">
            {Object.values(shot.cues).map((cue) => (
              <Flag key={cue.id} cue={cue} x={x} />
            ))}
          </div>
          <FilmStrip width={width} view={view} />
        </div>
        {step === 'motion' && <Confidence x={x} width={width} />}
        {step === 'plates' && (
          <div className="ranges" style={{ height: Object.keys(shot.clips).length * 16 + 8 }}>
            {Object.values(shot.clips).map((clip, i) => (
              <ClipLine key={clip.id} clip={clip} x={x} top={6 + i * 16} />
            ))}
          </div>
        )}
        {step !== 'motion' && step !== 'plates' && (
          <div className="ranges" style={{ height: Math.max(14, rows.length * 10 + 6) }}>
            {rows.map((r, i) => (
              <RangeLine key={r.id} row={r} x={x} top={6 + i * 10} />
            ))}
          </div>
        )}
        {step === 'effects' && row && effectOf(row.effect) && <CurveEditor row={row} x={x} width={width} />}
        <div className="playhead" style={{ left: x(frame) }} />
      </div>
    </div>
  );
}

function Flag({ cue, x }: { cue: Cue; x: TimeScale }) {
  const { edit, preview, selection, set } = useShot(),
    each = x(1) - x(0);
  const start = useRef(cue.frame),
    moved = (dx: number) => changeCue(cue.id, { frame: start.current + Math.round(dx / each) });
  const drag = useDrag({
    start: () => {
      start.current = cue.frame;
    },
    move: (dx) => preview(moved(dx)),
    end: (dx) => edit(moved(dx)),
    click: () => set({ selection: { kind: 'cue', id: cue.id }, frame: cue.frame }),
  });
  return (
    <button
      type="button"
      className={`flag ${selection?.kind === 'cue' && selection.id === cue.id ? 'selected' : ''}`}
      style={{ left: x(cue.frame) }}
      title={`${cue.name}, ${cue.frame}: drag to move`}
      {...drag}
    >
      {cue.name}
    </button>
  );
}
