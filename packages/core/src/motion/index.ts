export * from './align';
export * from './flow';
export * from './ncc';
export * from './pointTracker';
export * from './repair';
export * from './frame';
export * from './kinds';
export * from './samples';
