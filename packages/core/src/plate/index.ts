export * from './build';
export { cameras, type Camera } from './drift';
export type { Footage } from './footage';
export type { UnsureArea } from './unsure';
