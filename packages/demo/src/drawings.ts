import { drawFox, FOX, foxTruth } from './fox';
import { ground030 } from './ground030';
import { stockroom } from './stockroom';
import type { Drawing } from './drawing';

export type { Drawing };

export const drawings: Drawing[] = [
  { name: 'TW_030/performance', ...FOX, first: 1001, kind: 'flat', draw: drawFox, truth: foxTruth },
  ground030,
  ...stockroom,
];
