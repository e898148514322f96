export type {
  Base,
  Clip,
  Cue,
  Matte,
  MountEntry,
  NewClip,
  Outline,
  OutlineMode,
  PlacedEntry,
  Repair,
  Row,
  Shot,
  Subject,
  Take,
  Track,
} from './schema';
export type { Corrections } from '../motion/samples';
