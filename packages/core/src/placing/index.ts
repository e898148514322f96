export * from './carry';
export * from './place';
export * from './retime';
export * from './kinds';
export * from './draw';
export * from './moving';
