export * from './describe';
export * from './schema';
export * from './values';
