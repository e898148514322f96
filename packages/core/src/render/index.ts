export * from './checks';
export * from './contrast';
export { rowValues } from './effectSteps';
export * from './evaluate';
export { keyOf, sizeOf, type Factor } from './plateSteps';
export { planFrame, posesOf } from './plan';
export * from './renderFrame';
export * from './sources';
export * from './version';
