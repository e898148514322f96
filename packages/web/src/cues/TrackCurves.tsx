import { line } from 'd3-shape';
import { scaleLinear } from 'd3-scale';
import { isPlaced } from '@wraithos/core/motion';
import { framesOf } from '@wraithos/core/render';
import { clipFrame, type Track } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { useTracks } from '../workbench/tracks';
import type { TimeScale } from './scale';

const curves = {
  x: { words: 'x', unit: 'px', ink: '#6fc7b0' },
  y: { words: 'y', unit: 'px', ink: '#b79fe0' },
  turn: { words: 'turn', unit: '°', ink: '#f0c987' },
  growth: { words: 'growth', unit: '%', ink: '#9fc0e0' },
} as const;
export type TrackCurve = keyof typeof curves;
type Values = Partial<Record<TrackCurve, number>>;

const HEIGHT = 96,
  MARGIN = 8;

/** Curves of a track, each on its own scale: strong as it counts, faint as it was measured, with a dot where it was set by hand. */
export function TrackCurves({ track, of, x, width }: { track: Track; of: readonly TrackCurve[]; x: TimeScale; width: number }) {
  const shot = useDocument(),
    tracks = useTracks(),
    { frame, set } = useParts('frame', 'set'),
    clip = shot.clips[track.clip];
  if (!clip) return null;
  const mounts = framesOf(shot, tracks),
    raw = new Map((tracks.get(track.id) ?? []).map((s) => [s.frame, s])),
    rows = Array.from({ length: shot.last - shot.first + 1 }, (_, i) => {
      const at = shot.first + i,
        ofClip = clipFrame(shot, clip, at),
        there = mounts.ofTrack(track.id, ofClip),
        before = raw.get(ofClip),
        known: Values | null =
          there && !there.lost
            ? {
                x: there.toPicture([0, 0])[0],
                y: there.toPicture([0, 0])[1],
                turn: there.turnAt([0, 0]),
                growth: 100 * there.scaleAt([0, 0]),
              }
            : null,
        measured: Values | null = isPlaced(before) ? { x: before.x, y: before.y } : null;
      return { at, known, measured, hand: track.corrections[String(ofClip)] !== undefined };
    }),
    now = rows[frame - shot.first];
  return (
    <svg width={width} height={HEIGHT} role="img" aria-label={`Curves of ${track.name}`} className="track-curves">
      {of.map((name, k) => {
        const { words, unit, ink } = curves[name],
          all = rows.flatMap((r) => [r.known?.[name], r.measured?.[name]].filter((v) => v !== undefined)),
          [low, high] = [Math.min(...all), Math.max(...all)],
          // What hardly moves is not blown up to the whole height.
          room = Math.max(high - low, unit === 'px' ? 4 : 2),
          y = scaleLinear()
            .domain([(low + high - room) / 2, (low + high + room) / 2])
            .range([HEIGHT - MARGIN, MARGIN + 12]),
          path = (value: (r: (typeof rows)[number]) => number | undefined) =>
            line<(typeof rows)[number]>()
              .defined((r) => value(r) !== undefined)
              .x((r) => x(r.at))
              .y((r) => y(value(r)!))(rows) ?? '';
        if (!all.length) return null;
        return (
          <g key={name}>
            <path d={path((r) => r.measured?.[name])} fill="none" stroke={ink} strokeWidth={1} opacity={0.4} strokeDasharray="2 2" />
            <path d={path((r) => r.known?.[name])} fill="none" stroke={ink} strokeWidth={1.6} />
            {rows.map(
              (r) =>
                r.hand &&
                r.known && (
                  <circle
                    key={r.at}
                    cx={x(r.at)}
                    cy={y(r.known[name]!)}
                    r={3}
                    fill={ink}
                    className="goes-there"
                    onClick={() => set({ frame: r.at })}
                  />
                ),
            )}
            <text x={6 + 130 * k} y={11} fill={ink} fontSize={11}>
              {words} {now?.known ? `${now.known[name]!.toFixed(1)} ${unit}` : '–'}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
