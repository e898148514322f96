export * from './carry';
export * from './homography';
export * from './place';
export * from './retime';
