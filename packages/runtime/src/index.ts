export * from './blobs';
export * from './decode';
export * from './ffmpeg';
export * from './frameStore';
export * from './probe';
export * from './renderRun';
export * from './write';
