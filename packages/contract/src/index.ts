/** What pages, the command line and the server say to each other: every request, answer and event as a schema that both sides read through. */
export * from './uploads';
export * from './bundles';
export * from './common';
export * from './events';
export * from './frames';
export * from './jobs';
export * from './media';
export * from './recipes';
export * from './room';
export * from './route';
export * from './shots';
export * from './stockroom';
