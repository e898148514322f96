import { textKey } from '../image/random';
import { ENGINE_VERSION } from './version';

/** The key of what follows from these parts, and from the engine. */
export const keyOf = (...parts: unknown[]): string => textKey(JSON.stringify([ENGINE_VERSION, ...parts]));
