export * from './documents';
export * from './document020';
export * from './document025';
export * from './document030';
export * from './document040';
export * from './document050';
