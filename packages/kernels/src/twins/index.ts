export * from './arrival';
export * from './blends';
export * from './flakes';
export * from './noise';
export * from './pixels';
export * from './transfer';
export * from './warp';
export * from './stamps';
