import type { StoredOf } from '../../params/describe';
import { area } from './area';
import type { TrackKind } from './describe';
import { camera } from './camera';
import { colour } from './colour';
import { face } from './face';
import { facePart } from './facePart';
import { gate } from './gate';
import { ground } from './ground';
import { hand } from './hand';
import { lids } from './lids';
import { matte } from './matte';
import { pair } from './pair';
import { plane } from './plane';
import { point } from './point';
import { several } from './several';

const register = { point, pair, area, colour, plane, ground, camera, face, 'face part': facePart, lids, matte, several, hand, gate };
export type KindOfTrack = keyof typeof register;
/** Every kind of track. Adding one touches its file, its test and one line here. */
export const trackKinds = register as unknown as Record<KindOfTrack, TrackKind>;
export const kindsOfTrack = Object.keys(register) as KindOfTrack[];

type Joins<K extends KindOfTrack> = NonNullable<(typeof register)[K]['joins']>;
/** The field of a track that names others, by how it joins them. */
interface Names {
  pair: { pair: string | null };
  several: { tracks: { track: string }[] };
  matte: { matte: string | null };
}
/** That field, empty: of a track that was just made. */
export const namesNothing = (joins: TrackKind['joins']): object =>
  joins === 'pair' ? { pair: null } : joins === 'several' ? { tracks: [] } : joins === 'matte' ? { matte: null } : {};
/** What a document stores of a track beside what all tracks have: its kind, and the values of this kind alone. */
export type StoredKind = {
  [K in KindOfTrack]: { kind: K } & StoredOf<(typeof register)[K]['params']> & ([Joins<K>] extends [never] ? unknown : Names[Joins<K>]);
}[KindOfTrack];

export { patternParams } from './point';
export { pairTurn } from './pair';
export { floorPixelsPerMetre } from './ground';
export { cornerNames, drawnCorners, rectangleOf } from './plane';
export * from './describe';
