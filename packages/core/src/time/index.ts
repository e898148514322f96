export * from './curve';
export * from './rate';
