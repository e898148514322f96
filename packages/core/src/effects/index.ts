import type { Effect } from './describe';
import { dissolve } from './dissolve';
import { displace } from './displace';
import { glow } from './glow';

/** Every effect by its type. Adding one touches its file, its test and one line here. */
export const effects: Record<string, Effect> = { dissolve, glow, displace } as unknown as Record<string, Effect>;
export * from './describe';
export * from './schema';
export * from './values';
