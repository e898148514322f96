export * from './curve';
export * from './rate';
export * from './placement';
export * from './moments';
