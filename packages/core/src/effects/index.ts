import type { Effect } from './describe';
import { beam } from './beam';
import { blur } from './blur';
import { dissolve } from './dissolve';
import { displace } from './displace';
import { ember } from './ember';
import { emitter } from './emitter';
import { fill } from './fill';
import { flash } from './flash';
import { glow } from './glow';
import { grade } from './grade';

/** Every effect by its type. Adding one touches its file, its test and one line here. */
export const effects: Record<string, Effect> = {
  dissolve,
  emitter,
  beam,
  glow,
  ember,
  flash,
  displace,
  blur,
  fill,
  grade,
} as unknown as Record<string, Effect>;
export * from './describe';
export * from './schema';
export * from './values';
