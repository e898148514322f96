export type { Clip, Cue, Matte, MountEntry, Outline, OutlineMode, Row, Shot, Subject, Track } from './schema';
export type { Corrections } from '../motion/repair';
