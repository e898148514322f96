import type { FilmEnding } from '@wraithos/core/render';
import type { FilmWriter } from './describe';
import { mov } from './mov';
import { mp4 } from './mp4';
import { sheet } from './sheet';
import { webm } from './webm';

/** The writer of every kind of film, by its ending. */
export const filmWriters: Readonly<Record<FilmEnding, FilmWriter>> = { webm, mp4, mov, png: sheet };
