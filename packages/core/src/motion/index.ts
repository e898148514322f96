export * from './align';
export * from './ncc';
export * from './pointTracker';
export * from './repair';
