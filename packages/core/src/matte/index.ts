export * from './arrival';
export * from './cleanPlate';
export * from './keys';
export * from './outline';
export * from './refine';
