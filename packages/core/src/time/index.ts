export * from './curve';
export * from './rate';
export * from './moments';
