import type { MatteMode } from '@wraithos/core/matte';

/** How people read the modes of sources and outlines. */
export const modeWords: Record<MatteMode, string> = {
  add: 'Adds an area',
  'take away': 'Takes an area away',
  'keep inside': 'Keeps only inside',
  exclude: 'Excludes the overlap',
};
