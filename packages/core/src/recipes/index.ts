export * from './carry';
export * from './recipe';
export * from './own';
export * from './suggest';
export * from './placeElement';
