export * from './mount';
