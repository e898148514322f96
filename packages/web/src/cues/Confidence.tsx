import { knownSamples, trackKinds } from '@wraithos/core/motion';
import { clipFrame } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { useTracks } from '../workbench/tracks';
import type { TimeScale } from './scale';

/** Confidence of the selected track under the filmstrip: height is how sure; weak frames are notched, lost ones open gaps, both in words. */
export function Confidence({ x, width }: { x: TimeScale; width: number }) {
  const shot = useDocument(),
    { selection, set } = useParts('selection', 'set'),
    tracks = useTracks(),
    track = selection?.kind === 'track' ? shot.tracks[selection.id] : undefined,
    clip = track ? shot.clips[track.clip] : undefined;
  if (!track || !clip) return null;
  const all = new Map(knownSamples(tracks.get(track.id) ?? [], track).map((s) => [s.frame, s])),
    // By the frames of the shot, which may show some of the clip twice, and some never.
    samples = Array.from({ length: shot.last - shot.first + 1 }, (_, i) => shot.first + i).flatMap((at) => {
      const s = all.get(clipFrame(shot, clip, at));
      return s ? [{ ...s, at }] : [];
    }),
    height = 64,
    { opens, measures = 'Confidence' } = trackKinds[track.kind],
    // A gate that is shut on a frame is grey there.
    isShut = (amount: number) => opens !== undefined && opens(track as never, amount) < 0.5,
    each = Math.max(1, x(1) - x(0) - 1),
    runs: { state: string; from: number; to: number }[] = [];
  for (const s of samples) {
    if (s.state !== 'weak' && s.state !== 'lost') continue;
    const f = s.at,
      last = runs[runs.length - 1];
    if (last && last.state === s.state && last.to === f - 1) last.to = f;
    else runs.push({ state: s.state, from: f, to: f });
  }
  return (
    <svg width={width} height={height + 18} role="img" aria-label={`${measures} of ${track.name}`} className="confidence-bars">
      {samples.map((s) => {
        const left = x(s.at) - each / 2,
          h = Math.max(2, s.confidence * height),
          bad = s.state === 'weak' || s.state === 'lost';
        if (s.state === 'lost')
          return <rect key={s.at} x={left + 0.5} y={height - 10} width={each} height={10} fill="none" stroke="#e5735c" />;
        return (
          <g key={s.at}>
            <rect
              x={left}
              y={height - h}
              width={each}
              height={h}
              fill={bad ? '#e5735c' : s.state === 'keyed' ? '#f0c987' : isShut(s.confidence) ? '#5b6064' : '#6fc7b0'}
              opacity={bad ? 0.9 : 0.75}
            />
            {s.state === 'weak' && <path d={`M${left} ${height - h} l${each / 2} 5 l${each / 2} -5`} fill="#17181a" />}
            {s.state === 'keyed' && <circle cx={left + each / 2} cy={height - h + 4} r={2.5} fill="#17181a" />}
          </g>
        );
      })}
      {runs.map((r) => (
        <text
          key={r.from}
          x={x(r.from)}
          y={height + 12}
          fill="#ffb3a3"
          fontSize={11}
          className="goes-there"
          onClick={() => set({ frame: r.from })}
        >
          {r.state} {r.from}
          {r.to > r.from ? `–${r.to}` : ''}
        </text>
      ))}
    </svg>
  );
}
