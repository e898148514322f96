export * from './carry';
export * from './homography';
export * from './place';
export * from './retime';
export * from './kinds';
export * from './draw';
export * from './seen';
