export * from './drawFlakes';
export * from './flakes';
export * from './stamps';
export * from './drawSprites';
