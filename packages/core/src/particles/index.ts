export * from './drawFlakes';
export * from './flakes';
