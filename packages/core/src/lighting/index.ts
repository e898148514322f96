export type { Thrower } from './gains';
export * from './ground';
export * from './roundness';
export * from './things';
export * from './thrown';
