import type { Effect } from './describe';
import { afterImages } from './afterImages';
import { arcs } from './arcs';
import { aura } from './aura';
import { beam } from './beam';
import { blur } from './blur';
import { bolt } from './bolt';
import { dissolve } from './dissolve';
import { displace } from './displace';
import { element } from './element';
import { ember } from './ember';
import { emitter } from './emitter';
import { fill } from './fill';
import { flash } from './flash';
import { flare } from './flare';
import { glow } from './glow';
import { grade } from './grade';
import { grain } from './grain';
import { materialise } from './materialise';
import { ring } from './ring';
import { steady } from './steady';

/** Every effect by its type. Adding one touches its file, its test and one line here. */
export const effects: Record<string, Effect> = {
  dissolve,
  materialise,
  element,
  emitter,
  beam,
  bolt,
  arcs,
  aura,
  ring,
  ember,
  'after-images': afterImages,
  glow,
  flash,
  flare,
  displace,
  blur,
  fill,
  grade,
  grain,
  steady,
} as unknown as Record<string, Effect>;
/** The effect of this type; none where it is not known here. Types come from documents, so only the register's own names count. */
export const effectOf = (type: string): Effect | undefined => (Object.hasOwn(effects, type) ? effects[type] : undefined);
/** The effect that draws a row or treatment; none where it is not known here, or was made by a newer version of it than this. */
export const drawnBy = (made: { effect: string; version: number }): Effect | undefined => {
  const known = effectOf(made.effect);
  return known && made.version <= known.version ? known : undefined;
};

export * from './describe';
export type { Throws } from './surroundings';
export * from '../params';
