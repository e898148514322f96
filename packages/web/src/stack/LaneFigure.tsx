import type { Lane } from '@wraithos/core/effects';

const ink = '#8d8a82',
  lit = '#f0c987';
/** A little figure that shows where a lane stands: the lit part is the lane, the grey one the character. */
export function LaneFigure({ lane }: { lane: Lane | 'base' }) {
  const body = (fill: string, x = 10) => <path d={`M${x} 15 V7 a3 3 0 0 1 6 0 V15 z`} fill={fill} />;
  return (
    <svg className="figure" viewBox="0 0 26 16" aria-hidden="true">
      {lane === 'whole' && <rect x="1" y="2" width="24" height="12" fill="none" stroke={lit} strokeWidth="1.5" />}
      {lane === 'foreground' && (
        <>
          {body(ink, 8)}
          <rect x="1" y="10" width="24" height="5" fill={lit} />
        </>
      )}
      {lane === 'front' && (
        <>
          {body(ink, 8)}
          <rect x="13" y="5" width="5" height="10" fill={lit} />
        </>
      )}
      {lane === 'on' && body(lit)}
      {lane === 'behind' && (
        <>
          <rect x="6" y="5" width="5" height="10" fill={lit} />
          {body(ink)}
        </>
      )}
      {lane === 'background' && (
        <>
          <rect x="1" y="3" width="24" height="8" fill={lit} opacity="0.8" />
          {body(ink)}
        </>
      )}
      {lane === 'base' && <rect x="1" y="3" width="24" height="12" fill="#50545b" />}
    </svg>
  );
}
