export * from './arrival';
export * from './colourArea';
export * from './keys';
export * from './outline';
export * from './refine';
export * from './spill';
export * from './sources';
