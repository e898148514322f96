import type { StoredValue } from '@wraithos/core/effects';
import type { Row, Shot } from '@wraithos/core/shot';

/**
 * Where a new effect begins so that it looks right at once: a dissolve starts at the playhead and runs over two seconds, over the
 * height of its subject; a flash and a beam begin at the playhead, a beam aims at another track or, where there is none, at a place beside it.
 * Nothing else needs more than its defaults.
 */
export function suggestedValues(
  type: string,
  shot: Shot,
  track: string | null,
  frame: number,
): { values?: Record<string, StoredValue>; curves?: Row['curves']; start?: number; length?: number; aim?: string } {
  if (type === 'flash') return { start: frame, length: Math.min(24, shot.last - frame + 1) };
  if (type === 'beam') {
    const aim = Object.keys(shot.tracks).find((id) => id !== track),
      when = { start: frame, length: shot.last - frame + 1 };
    return aim
      ? { ...when, aim }
      : { ...when, values: { to: 'a place', place: [Math.round(shot.width / 4), -Math.round(shot.height / 8)] } };
  }
  if (type !== 'dissolve') return {};
  const length = shot.last - frame + 1,
    run = Math.max(8, Math.min(length - 2, Math.round((44 * shot.rate.num) / shot.rate.den / 24))),
    subject = Object.values(shot.subjects)[0],
    pixels = subject?.pixels ?? shot.height * 0.55;
  return {
    start: frame,
    length,
    values: { extent: Math.round(pixels * 1.05), shape: 'radius', from: track ? [0, 0] : [shot.width / 2, shot.height / 3] },
    curves: {
      progress: {
        points: [
          { frame: 0, value: 0, ease: 'smooth' },
          { frame: run, value: 100, ease: 'linear' },
        ],
      },
    },
  };
}
