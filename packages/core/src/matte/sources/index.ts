import type { StoredOf } from '../../params/describe';
import { chroma } from './chroma';
import { clip } from './clip';
import { colourArea } from './colourArea';
import type { MatteSource } from './describe';
import { difference } from './difference';
import { luma } from './luma';
import { matte } from './matte';
import { row } from './row';

const register = { difference, chroma, luma, 'colour area': colourArea, clip, matte, row };
export type SourceKind = keyof typeof register;
/** Every source of mattes by its kind. Adding one touches its file, its test and one line here. */
export const matteSources = register as unknown as Record<SourceKind, MatteSource>;
export const sourceKinds = Object.keys(register) as SourceKind[];

/**
 * A source as a document stores it: its kind, the clip that it is made from (null is the one that its matte lies on), the values of this kind alone, and the
 * matte that it names where it names one.
 */
export type StoredSource = {
  [K in SourceKind]: { kind: K; clip: string | null } & StoredOf<(typeof register)[K]['params']> &
    (K extends 'matte' ? { matte: string | null } : K extends 'row' ? { row: string | null } : unknown);
}[SourceKind];

export * from './describe';
