export * from './documents';
export * from './document020';
export * from './document030';
