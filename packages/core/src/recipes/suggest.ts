import type { StoredValue } from '../effects';
import type { Row, Shot } from '../shot/schema';

export interface Suggestion {
  values?: Record<string, StoredValue>;
  curves?: Row['curves'];
  start?: number;
  length?: number;
  /** The track that it aims at. */
  aim?: string;
}

/** Effects that happen at a moment: they begin where the playhead stands. */
const AT_THE_PLAYHEAD = ['flash', 'beam', 'bolt', 'dissolve', 'materialise', 'after-images'];

/**
 * Where a new effect begins so that it looks right at once: what happens at a moment starts at the playhead; a dissolve and a materialise run over two
 * seconds, over the height of their subject; what goes from one mount to another aims at another track or, where there is none, at a place beside it.
 */
export function suggestedValues(type: string, shot: Shot, track: string | null, frame: number): Suggestion {
  const subject = Object.values(shot.subjects)[0],
    pixels = subject?.pixels ?? shot.height * 0.55,
    rest = shot.last - frame + 1,
    second = shot.rate.num / shot.rate.den,
    when = AT_THE_PLAYHEAD.includes(type) ? { start: frame, length: rest } : {};
  const run = Math.max(8, Math.min(rest - 2, Math.round(1.83 * second)));
  const ramp = (from: number, to: number): Row['curves'] => ({
    progress: {
      points: [
        { frame: 0, value: from, ease: 'smooth' },
        { frame: run, value: to, ease: 'linear' },
      ],
    },
  });
  switch (type) {
    case 'flash':
      return { ...when, length: Math.min(Math.round(second), rest) };
    case 'beam':
    case 'bolt': {
      const aim = Object.keys(shot.tracks).find((id) => id !== track);
      return aim
        ? { ...when, aim }
        : { ...when, values: { to: 'a place', place: [Math.round(shot.width / 4), -Math.round(shot.height / 8)] } };
    }
    case 'dissolve':
      return {
        ...when,
        values: { extent: Math.round(pixels * 1.05), shape: 'radius', from: track ? [0, 0] : [shot.width / 2, shot.height / 3] },
        curves: ramp(0, 100),
      };
    case 'materialise':
      return {
        ...when,
        values: { extent: Math.round(pixels), from: track ? [0, Math.round(pixels * 0.75)] : [shot.width / 2, shot.height * 0.85] },
        curves: ramp(0, 100),
      };
    case 'aura':
      return { values: { stretch: Math.round(pixels * 0.17), raggedSize: Math.max(4, Math.round(pixels * 0.06)) } };
    case 'arcs':
      return { values: { reach: Math.round(pixels * 0.3), cell: Math.max(4, Math.round(pixels * 0.07)) } };
    default:
      return when;
  }
}
