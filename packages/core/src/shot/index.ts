export * from './create';
export * from './edits';
export * from './query';
export * from './schema';
export * from './expand';
export * from './rowEdits';
export * from './references';
export * from './remove';
