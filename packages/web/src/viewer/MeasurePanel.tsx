import { X } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { encodeValue } from '@wraithos/core/image';
import { SCOPE_COLUMNS, SCOPE_PLOT, SCOPE_STEPS, type Scope } from '@wraithos/core/render';
import type { View } from '../state/frameCache';
import { useParts } from '../state/shotStore';
import { IconButton } from '../ui/IconButton';
import { drawer, Dropped } from '../workers/pool';
import type { WorkerAnswer } from '../workers/protocol';
import { usePointer, type Box } from './pointer';

/** Measuring waits behind pictures that somebody waits for. */
const PRIORITY = 5;
type Light = readonly [number, number, number, number];

/** How the values of the picture at the playhead are spread; the last ones stay until the next are there. Nothing is measured while it plays. */
function useScope(view: View): { scope: Scope | null; version: number } {
  const { shot, live, frame, playing } = useParts('shot', 'live', 'frame', 'playing'),
    [measured, setMeasured] = useState<{ scope: Scope | null; version: number }>({ scope: null, version: 0 }),
    document = live ?? shot;
  useEffect(() => {
    if (!document || playing) return;
    const control = new AbortController();
    drawer()
      .ask(
        {
          kind: 'measure',
          shot: document,
          frame,
          factor: view.factor,
          upTo: view.upTo,
          plain: view.plain,
          matte: view.matte,
          skin: view.skin,
        },
        PRIORITY,
        control.signal,
      )
      .then(
        (answer) =>
          setMeasured(({ version }) => ({ scope: (answer as Extract<WorkerAnswer, { kind: 'measure' }>).scope, version: version + 1 })),
        (error: unknown) => {
          // What cannot be drawn is said over the picture.
          if (!(error instanceof Dropped)) setMeasured(({ version }) => ({ scope: null, version: version + 1 }));
        },
      );
    return () => control.abort();
  }, [document, frame, view, playing]);
  return measured;
}

/** The light of a box of the measured picture; asked for again with every version of it. */
function useLight(box: Box | null, { width, height }: { width: number; height: number }, version: number): Light | null {
  const [light, setLight] = useState<Light | null>(null),
    [left, top, right, bottom] = box ?? [NaN, NaN, NaN, NaN];
  useEffect(() => {
    if (Number.isNaN(left)) {
      setLight(null);
      return;
    }
    let wanted = true;
    void drawer()
      .values([left / width, top / height, right / width, bottom / height])
      .then((value) => wanted && setLight(value));
    return () => {
      wanted = false;
    };
  }, [left, top, right, bottom, width, height, version]);
  return light;
}

const LINES = ['#e5735c', '#6fc7b0', '#8aa4e8', '#ece8df'];
function drawHistogram(canvas: HTMLCanvasElement, { histogram }: Scope): void {
  const { width, height } = canvas,
    c = canvas.getContext('2d')!;
  c.clearRect(0, 0, width, height);
  // The ends hold all that is clipped; they would flatten everything else.
  const most = Math.max(1, ...[0, 1, 2, 3].map((k) => Math.max(...histogram.subarray(256 * k + 1, 256 * k + 255))));
  c.globalCompositeOperation = 'lighter';
  LINES.forEach((colour, k) => {
    c.strokeStyle = colour;
    c.globalAlpha = k === 3 ? 0.9 : 0.7;
    c.beginPath();
    for (let v = 0; v < 256; v++)
      c.lineTo((v * (width - 1)) / 255, height - 1 - Math.min(1, histogram[256 * k + v]! / most) * (height - 3));
    c.stroke();
  });
  c.globalAlpha = 1;
  c.globalCompositeOperation = 'source-over';
}
function drawCounts(canvas: HTMLCanvasElement, counts: Uint16Array, at: (i: number) => [number, number], wide: number, high: number): void {
  const small = document.createElement('canvas');
  small.width = wide;
  small.height = high;
  const image = new ImageData(wide, high),
    most = Math.max(1, ...counts);
  counts.forEach((n, i) => {
    if (!n) return;
    const [x, y] = at(i),
      p = (y * wide + x) * 4;
    image.data.set([236, 232, 223, Math.min(255, 60 + 195 * Math.sqrt(n / most) * 1.6)], p);
  });
  small.getContext('2d')!.putImageData(image, 0, 0);
  const c = canvas.getContext('2d')!;
  c.clearRect(0, 0, canvas.width, canvas.height);
  c.imageSmoothingEnabled = false;
  c.drawImage(small, 0, 0, canvas.width, canvas.height);
}
function drawWaveform(canvas: HTMLCanvasElement, { waveform }: Scope): void {
  drawCounts(canvas, waveform, (i) => [Math.floor(i / SCOPE_STEPS), SCOPE_STEPS - 1 - (i % SCOPE_STEPS)], SCOPE_COLUMNS, SCOPE_STEPS);
}
function drawPlot(canvas: HTMLCanvasElement, { plot }: Scope): void {
  drawCounts(canvas, plot, (i) => [i % SCOPE_PLOT, Math.floor(i / SCOPE_PLOT)], SCOPE_PLOT, SCOPE_PLOT);
  const c = canvas.getContext('2d')!,
    middle = canvas.width / 2;
  c.strokeStyle = 'rgba(167, 163, 152, 0.5)';
  c.strokeRect(middle - 2, middle - 2, 4, 4);
}

function Plot({
  label,
  width,
  height,
  scope,
  draw,
}: {
  label: string;
  width: number;
  height: number;
  scope: Scope | null;
  draw(canvas: HTMLCanvasElement, scope: Scope): void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (scope) draw(canvas.current!, scope);
  }, [scope, draw]);
  return (
    <figure>
      <canvas ref={canvas} width={width} height={height} aria-label={label} />
      <figcaption className="quiet">{label}</figcaption>
    </figure>
  );
}

const three = (n: number): string => n.toFixed(3);
/** A light in three ways: the code of a display (0..1 and 0..255), and the scene's linear value. */
function Values({ title, light }: { title: string; light: Light | null }) {
  const codes = light?.slice(0, 3).map((v) => encodeValue(v));
  return (
    <tbody aria-label={title}>
      <tr>
        <th colSpan={4}>{title}</th>
      </tr>
      {light && codes ? (
        [
          ['0 to 1', codes.map(three)],
          ['0 to 255', codes.map((v) => String(Math.round(255 * v)))],
          ['scene', light.slice(0, 3).map(three)],
        ].map(([name, of]) => (
          <tr key={name as string} className="num">
            <td className="quiet">{name}</td>
            {(of as string[]).map((text, i) => (
              <td key={i}>{text}</td>
            ))}
          </tr>
        ))
      ) : (
        <tr>
          <td colSpan={4} className="quiet">
            nothing
          </td>
        </tr>
      )}
    </tbody>
  );
}

/** What is under the pointer, the mean of a dragged box, and how the values of the picture are spread. */
export function MeasurePanel({ view }: { view: View }) {
  const { shot, set } = useParts('shot', 'set'),
    { at, box } = usePointer(),
    { scope, version } = useScope(view),
    size = { width: shot!.width, height: shot!.height },
    pixel = at ? ([Math.floor(at[0]), Math.floor(at[1]), Math.floor(at[0]) + 1, Math.floor(at[1]) + 1] as const) : null,
    under = useLight(pixel, size, version),
    mean = useLight(box, size, version);
  return (
    <aside className="measure-panel" aria-label="Measure">
      <div className="d-flex align-items-center">
        <strong className="flex-grow-1">Measure</strong>
        <IconButton label="Close" onClick={() => set({ measuring: false })}>
          <X size={14} />
        </IconButton>
      </div>
      <table>
        <Values title={pixel && under ? `At ${pixel[0]}, ${pixel[1]}` : 'Under the pointer'} light={under} />
        <Values title={box ? `Mean of ${Math.round(box[2] - box[0])} x ${Math.round(box[3] - box[1])} px` : 'Mean of a box'} light={mean} />
      </table>
      {!box && <p className="quiet fine mb-1">Shift-drag a box on the picture for its mean.</p>}
      <Plot label="Histogram" width={196} height={60} scope={scope} draw={drawHistogram} />
      <Plot label="Waveform of luma" width={196} height={72} scope={scope} draw={drawWaveform} />
      <Plot label="Colours: blue to the right, red upwards" width={SCOPE_PLOT} height={SCOPE_PLOT} scope={scope} draw={drawPlot} />
    </aside>
  );
}
