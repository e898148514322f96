import type { Draft } from 'immer';
import { carriageParams, type Carriage } from '../motion/carriage';
import { defaultsOf } from '../params/describe';
import { freshId, freshName } from './create';
import { usesOf } from './references';
import type { Shot } from './editTypes';

const names = Object.keys(carriageParams) as (keyof Carriage)[];
const plain = defaultsOf(carriageParams) as unknown as Carriage;
/**
 * The mount of a track with this offset (whole-shot pixels) that carries in this way, made when there is none yet: dropping an effect on a track is
 * enough.
 */
export function mountOn(
  s: Draft<Shot>,
  track: string,
  offset: readonly [number, number] = [0, 0],
  carriage: Readonly<Carriage> = plain,
): string {
  const found = Object.values(s.mounts).find(
    (m) => m.track === track && m.offset[0] === offset[0] && m.offset[1] === offset[1] && names.every((n) => m[n] === carriage[n]),
  );
  if (found) return found.id;
  const id = freshId(s.mounts, 'm');
  s.mounts[id] = {
    ...{ id, name: freshName(s.mounts, s.tracks[track]!.name), track, offset: [...offset] },
    ...(Object.fromEntries(names.map((n) => [n, carriage[n]])) as Carriage),
  };
  return id;
}
/** Removes a mount that nothing hangs on any more. */
export function dropIdleMount(s: Draft<Shot>, id: string): void {
  if (usesOf(s, 'mount', id).length === 0) delete s.mounts[id];
}
