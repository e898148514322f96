import type { Layers, Throws } from '../effects';
import type { Arena } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import { lightThings } from '../lighting';
import { rowValues, type DrawnRow } from '../shot/drawn';
import type { Step } from './evaluate';
import { keyOf } from './key';
import type { Scene } from './scene';

/** Which part of its surroundings a light falls on in one go: a row behind a subject reaches what stands behind and the subject itself one after the other. */
export type Reached = 'all' | 'subject' | 'around';

/** What a row's light does to its surroundings at the frame, lengths in pixels of the draft; null where it does nothing. */
function throwsOf(row: DrawnRow, scene: Scene): Throws | null {
  const throws = row.effect!.throws?.(rowValues(row, scene.frame, 1 / scene.factor));
  if (!throws) return null;
  const { surround, onSubject, onGround, inAir, away } = throws,
    k = row.opacity / 100;
  return surround + onSubject + onGround + inAir > 0
    ? { surround: surround * k, onSubject: onSubject * k, onGround: onGround * k, inAir: inAir * k, away }
    : null;
}

/**
 * The picture in the light of a row that is about to be laid on it; the picture itself where that light does nothing to what it may reach.
 * @param subject coverage of the row's subject.
 */
export function inLightOf(
  scene: Scene,
  row: DrawnRow,
  target: Step<Picture>,
  layers: Step<Layers>,
  subject: Step<Plane> | null,
  reached: Reached = 'all',
): Step<Picture> {
  const throws = throwsOf(row, scene);
  if (!throws) return target;
  if (reached === 'subject' && (!subject || (throws.onSubject <= 0 && throws.surround <= 0))) return target;
  const behind = row.lane === 'behind' || row.lane === 'background',
    own = {
      ...throws,
      away: behind ? -throws.away : throws.away,
      onSubject: subject && reached !== 'around' ? throws.onSubject : 0,
      ...(reached === 'subject' ? { onGround: 0, inAir: 0, surround: 0 } : {}),
    };
  if (own.surround + own.onSubject + own.onGround + own.inAir <= 0) return target;
  const body = subject && (own.onSubject > 0 || own.onGround > 0) ? subject : null,
    tall = row.subjectPixels / scene.factor;
  return {
    key: keyOf('in light', own, reached, tall, target.key, layers.key, body?.key),
    inputs: [target, layers, ...(body ? [body] : [])],
    keep: 'never',
    row: row.row,
    run([below, { light }, matte]: [Picture, Layers, Plane | undefined], arena: Arena, owned) {
      if (!light) return below;
      return lightThings(below, light, own, { subject: matte ?? null, tall, scale: 1 / scene.factor }, arena, owned(0));
    },
  };
}
