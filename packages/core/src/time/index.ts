export * from './curve';
export * from './rate';
export * from './moments';
export * from './goTo';
